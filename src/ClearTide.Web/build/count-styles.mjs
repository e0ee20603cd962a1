// Style rules written by hand are for drawings, printed pages and what no utility says: their lines are counted, so that they stay few.
import { readFileSync } from 'node:fs';

const most = 200;
const lines = ['base', 'drawings'].map(
  name =>
    readFileSync(new URL(`../Styles/${name}.css`, import.meta.url), 'utf8')
      .trimEnd()
      .split('\n').length,
);
const total = lines.reduce((sum, count) => sum + count, 0);
if (total > most) {
  console.error(`Styles/base.css and Styles/drawings.css have ${total} lines; ${most} is the limit. Say it by utilities in the markup.`);
  process.exit(1);
}
