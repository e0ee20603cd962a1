// Copies the fonts that ship, and their licences, to where the style sheet looks for them.
import { copyFileSync, mkdirSync } from 'node:fs';

const target = 'wwwroot/dist/fonts';
mkdirSync(target, { recursive: true });
const files = {
  '@fontsource-variable/atkinson-hyperlegible-next': [
    'atkinson-hyperlegible-next-latin-wght-normal',
    'atkinson-hyperlegible-next-latin-wght-italic',
    'atkinson-hyperlegible-next-latin-ext-wght-normal',
  ],
  '@fontsource-variable/atkinson-hyperlegible-mono': ['atkinson-hyperlegible-mono-latin-wght-normal'],
  '@fontsource/stix-two-text': [
    'stix-two-text-greek-400-italic',
    'stix-two-text-greek-400-normal',
    'stix-two-text-greek-600-italic',
    'stix-two-text-latin-400-italic',
    'stix-two-text-latin-600-italic',
    'stix-two-text-latin-400-normal',
  ],
  '@fontsource/stix-two-math': ['stix-two-math-latin-400-normal'],
};
for (const [folder, names] of Object.entries(files)) {
  for (const name of names) copyFileSync(`node_modules/${folder}/files/${name}.woff2`, `${target}/${name}.woff2`);
  copyFileSync(`node_modules/${folder}/LICENSE`, `${target}/${folder.split('/')[1]}-LICENSE.txt`);
}
