// A browser module on its own, without a browser: bundled as the application bundles it, then imported.
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';

const web = fileURLToPath(new URL('../../../src/ClearTide.Web/', import.meta.url));
const { build } = createRequire(`${web}package.json`)('esbuild');

/** The exports of a module under Scripts, as in `chart/thin`. */
export async function importModule(name) {
  const { outputFiles } = await build({
    entryPoints: [`${web}Scripts/${name}.ts`],
    bundle: true,
    write: false,
    format: 'esm',
    target: 'es2022',
    logLevel: 'warning',
  });
  return import(`data:text/javascript;base64,${Buffer.from(outputFiles[0].text).toString('base64')}`);
}
