// Runs all test files, four at a time (pages wait more than they work), against one server that is started once. The longest go first, so
// that none is left to run alone at the end.
// Usage: node all.mjs [options of node --test]
import { spawn } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { Server } from './support/server.mjs';

const longest = ['layout', 'durability', 'language', 'paper', 'commandline', 'walk', 'guard', 'tables'];
const folder = import.meta.dirname,
  rank = name => longest.indexOf(name.split('.')[0]) + 1 || longest.length + 1;
const files = readdirSync(folder)
  .filter(name => name.endsWith('.test.mjs'))
  .sort((one, other) => rank(one) - rank(other));
const server = new Server();
await server.start();
try {
  const runner = spawn(
    process.execPath,
    ['--test', '--test-concurrency=4', ...process.argv.slice(2), ...files.map(name => join(folder, name))],
    { stdio: 'inherit', env: { ...process.env, CLEAR_TIDE_TEST_SERVER: server.url } },
  );
  process.exitCode = await new Promise(done => runner.once('exit', code => done(code ?? 1)));
} finally {
  await server.end();
}
