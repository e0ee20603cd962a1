// Bundles the browser modules into one file.
import { build } from 'esbuild';

await build({
  entryPoints: ['Scripts/site.ts'],
  outfile: 'wwwroot/dist/site.js',
  bundle: true,
  minify: true,
  sourcemap: true,
  format: 'iife',
  target: 'es2022',
  logLevel: 'warning',
});
// Fetched only by those who arrange a diagram.
await build({
  entryPoints: ['Scripts/arrange.ts'],
  outfile: 'wwwroot/dist/arrange.js',
  bundle: true,
  minify: true,
  format: 'esm',
  target: 'es2022',
  logLevel: 'warning',
});
