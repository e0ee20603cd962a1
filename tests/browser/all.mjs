// Runs all test files, several at a time (pages wait more than they work), against one server that is started once. The longest go first,
// so that none is left to run alone at the end. A file that hangs is ended and counts as failed.
// Usage: node all.mjs [file of the report in TAP]
import { createWriteStream, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { finished } from 'node:stream/promises';
import { run } from 'node:test';
import { spec, tap } from 'node:test/reporters';
import { Server } from './support/server.mjs';

const longest = ['layout', 'durability', 'offline', 'commandline', 'guard', 'fit-command', 'paper', 'language', 'walk', 'tables'];
const folder = import.meta.dirname,
  [report] = process.argv.slice(2),
  rank = name => longest.indexOf(name.split('.')[0]) + 1 || longest.length + 1;
const files = readdirSync(folder)
  .filter(name => name.endsWith('.test.mjs'))
  .sort((one, other) => rank(one) - rank(other))
  .map(name => join(folder, name));
const server = new Server();
await server.start();
process.env.CLEAR_TIDE_TEST_SERVER = server.url;
try {
  // Twenty minutes are several times what the longest file takes on a machine that others use too.
  const events = run({ files, concurrency: 4, timeout: 20 * 60_000 });
  events.on('test:fail', () => (process.exitCode = 1));
  const reports = [events.compose(new spec()).pipe(process.stdout, { end: false })];
  if (report) reports.push(events.compose(tap).pipe(createWriteStream(report)));
  await finished(events);
  if (report) await finished(reports[1]);
} finally {
  await server.end();
}
