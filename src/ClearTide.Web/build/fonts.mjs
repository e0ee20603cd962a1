// Copies the fonts that ship, and their licences, to where the page looks for them, and writes the style rules that name them.
import { copyFileSync, mkdirSync, writeFileSync } from 'node:fs';

const target = 'wwwroot/dist/fonts';
mkdirSync(target, { recursive: true });
const fonts = [
  {
    family: 'Atkinson Next',
    folder: '@fontsource-variable/atkinson-hyperlegible-next',
    files: ['latin-wght-normal', 'latin-wght-italic', 'latin-ext-wght-normal'],
  },
  { family: 'Atkinson Mono', folder: '@fontsource-variable/atkinson-hyperlegible-mono', files: ['latin-wght-normal'] },
  {
    family: 'Stix Text',
    folder: '@fontsource/stix-two-text',
    files: ['latin-400-normal', 'latin-400-italic', 'latin-600-italic', 'greek-400-normal', 'greek-400-italic', 'greek-600-italic'],
  },
  { family: 'Stix Math', folder: '@fontsource/stix-two-math', files: ['latin-400-normal'] },
];
// Letters that only some files have; a page fetches those files when it needs them.
const ranges = { 'latin-ext': 'U+0100-02AF, U+1E00-1EFF, U+20A0-20AB', greek: 'U+0370-03FF' };
const faces = [];
for (const { family, folder, files } of fonts) {
  const name = folder.split('/')[1];
  for (const file of files) {
    copyFileSync(`node_modules/${folder}/files/${name}-${file}.woff2`, `${target}/${name}-${file}.woff2`);
    const [, subset, weight, style] = /^(.+)-(wght|\d+)-(normal|italic)$/.exec(file);
    faces.push(
      `@font-face { font-family: "${family}"; src: url("/dist/fonts/${name}-${file}.woff2") format("woff2"); ` +
        `font-weight: ${weight === 'wght' ? '200 800' : weight}; font-style: ${style};` +
        `${ranges[subset] ? ` unicode-range: ${ranges[subset]};` : ''} }`,
    );
  }
  copyFileSync(`node_modules/${folder}/LICENSE`, `${target}/${name}-LICENSE.txt`);
}
writeFileSync(`${target}/faces.css`, `${faces.join('\n')}\n`);
