// What becomes of data when the server is killed, its folder cannot be used, or somebody wants a copy.
import assert from 'node:assert/strict';
import { copyFileSync, mkdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { cleartide } from './support/commandline.mjs';
import { until } from './support/events.mjs';
import { kills } from './support/kills.mjs';
import { Server } from './support/server.mjs';
import { Visitor } from './support/visitor.mjs';

test('killed in the middle of work, it has all that it acknowledged, and nothing by half', async context => {
  const server = new Server();
  context.after(() => server.end());
  const { lost } = await kills(server, 6);
  assert.deepEqual(lost, []);
});

test('a folder that cannot be used is told with a sentence and a code of its own', async () => {
  const refused = async prepare => {
    const server = new Server();
    prepare(server.folder);
    const failure = await server.start().then(
      () => null,
      wrong => wrong,
    );
    if (!failure) await server.kill();
    return failure;
  };
  const broken = await refused(folder =>
    writeFileSync(join(folder, 'cleartide.db'), 'no database at all, and long enough to be looked at as one. '.repeat(20)),
  );
  assert.equal(broken.code, 4);
  assert.match(broken.said, /is no database of Clear Tide/);
  const taken = await refused(folder => mkdirSync(join(folder, 'cleartide.db')));
  assert.equal(taken.code, 3);
  assert.match(taken.said, /cannot be written/);
});

test('a second server with the same folder is refused, and the folder is for its owner alone', async context => {
  const first = new Server(),
    second = new Server();
  context.after(() => first.end());
  await first.start();
  second.folder = first.folder;
  const failure = await second.start().then(
    () => null,
    wrong => wrong,
  );
  assert.equal(failure?.code, 6);
  assert.match(failure.said, /Another Clear Tide runs/);
  const mode = name => (statSync(join(first.folder, name)).mode & 0o777).toString(8);
  assert.deepEqual(['.', 'cleartide.db', 'cleartide.db-wal', 'cleartide.db-shm'].map(mode), ['700', '600', '600', '600']);
});

test('a job whose server was killed says so from the first look', async context => {
  const server = new Server();
  context.after(() => server.end());
  await server.start();
  const visitor = await new Visitor(server).begin();
  const began = await visitor.post('projections', 'Start', { replicates: '2000', seed: '1' });
  assert.equal(began.status, 302);
  await until(
    () => visitor.ask(`${visitor.study}/projections?handler=Status`),
    ({ text }) => /Projecting, [1-9]/.test(text),
  );
  await server.kill();
  await server.start();
  const { text } = await visitor.ask(`${visitor.study}/projections`);
  assert.match(text, /Interrupted when the server was stopped; it starts again\. Projecting/);
});

test('a backup is made while the server runs, and another server begins with it', async context => {
  const server = new Server(),
    other = new Server();
  context.after(async () => {
    await server.end();
    await other.end();
  });
  await server.start();
  const visitor = await new Visitor(server).begin();
  await visitor.post('build', 'Add', { text: 'kept = 7 per day' });
  const file = join(server.folder, 'copy.db'),
    made = cleartide('backup', file, '--data', server.folder);
  assert.equal(made.status, 0, made.stderr);
  assert.match(made.stdout, /copy\.db: 6 studies/);
  assert.match(cleartide('backup', file, '--data', server.folder).stderr, /there already/);
  assert.match(cleartide('backup', join(server.folder, 'b.db'), '--data', join(server.folder, 'keys')).stderr, /There is no database/);
  copyFileSync(file, join(other.folder, 'cleartide.db'));
  await other.start();
  const page = await new Visitor(other).ask(`${visitor.study}/build`);
  assert.equal(page.status, 200);
  assert.match(page.text, /kept/);
});
