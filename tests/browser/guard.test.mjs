// What comes in from outside, and who asks: nothing of it is a fault of the server.
import assert from 'node:assert/strict';
import { request } from 'node:http';
import { after, before, test } from 'node:test';
import { assault } from './support/assault.mjs';
import { Server } from './support/server.mjs';

const server = new Server();
before(() => server.start());
after(() => server.end());

/** The status of a request as no page would send it. */
const status = (method, host) =>
  new Promise((found, failed) =>
    request({ port: server.port, method, path: '/health', headers: { host } }, answer => {
      answer.resume();
      found(answer.statusCode);
    })
      .on('error', failed)
      .end(),
  );

test('a thousand hostile requests to all pages, none of which is a fault of the server', async () => {
  const { faults } = await assault(server, 18, 1000);
  assert.deepEqual(faults, []);
});

test('only names of this machine are served, and only what pages ask with', async () => {
  for (const host of ['127.0.0.1', 'localhost', 'localhost:5180']) assert.equal(await status('GET', host), 200, host);
  for (const host of ['tesk.example', '127.0.0.1.tesk.example', '192.0.2.7']) assert.equal(await status('GET', host), 400, host);
  for (const method of ['TRACE', 'PUT', 'DELETE', 'OPTIONS']) assert.equal(await status(method, 'localhost'), 405, method);
});
