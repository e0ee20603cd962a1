// How long edits take while many people edit at once. The load comes from this process, at a steady rate, whatever the answers take (an
// open loop: a slow server does not make the load less). Usage: node bench/edit-load.mjs [edits a second]... [seconds=10]
import http from 'node:http';
import { Server } from '../tests/browser/support/server.mjs';
import { Visitor } from '../tests/browser/support/visitor.mjs';

const numbers = process.argv.slice(2).map(Number);
const seconds = numbers.length > 1 ? numbers.pop() : 10,
  rates = numbers.length > 0 ? numbers : [60, 100, 200, 300];
const people = 100;

const server = new Server();
await server.start();
const visitors = [];
for (let k = 0; k < people; k++) visitors.push(await new Visitor(server).begin());

// The load shares the two cores with what it measures: answers are read as bytes, and only the version is looked for in them.
const agent = new http.Agent({ keepAlive: true, maxSockets: people });
const mark = Buffer.from('id="version" name="version" value="');

/** Posts one edit; the status, once the whole answer has come. */
function post(visitor, fields) {
  const { address, headers } = visitor.posting('build', 'Field');
  const body = new URLSearchParams({ version: visitor.version, ...fields }).toString();
  return new Promise((done, failed) => {
    const request = http.request(address, {
      method: 'POST',
      agent,
      headers: { ...headers, 'content-type': 'application/x-www-form-urlencoded', 'content-length': Buffer.byteLength(body) },
    });
    request.on('error', failed).on('response', answer => {
      const pieces = [];
      answer.on('data', piece => pieces.push(piece));
      answer.on('end', () => {
        const whole = Buffer.concat(pieces),
          at = whole.indexOf(mark) + mark.length;
        if (at >= mark.length) visitor.version = whole.toString('latin1', at, whole.indexOf('"', at));
        done(answer.statusCode);
      });
    });
    request.end(body);
  });
}

const free = [...visitors];

/** One edit of the value beta by whoever is free; how long it took, or null where it was not taken. */
async function edit(n) {
  const visitor = free.shift();
  if (!visitor) return null;
  const began = performance.now();
  const status = await post(visitor, { partId: 'v13', field: 'Text', value: `0.${300 + (n % 300)} per day` });
  free.push(visitor);
  return status === 200 ? performance.now() - began : null;
}

async function at(rate, time) {
  const took = [],
    began = performance.now(),
    all = Math.round(rate * time);
  for (let n = 0; n < all; n++) {
    const due = began + (n * 1000) / rate;
    while (performance.now() < due) await new Promise(resolve => setTimeout(resolve, Math.max(0, due - performance.now() - 1)));
    took.push(edit(n));
  }
  const answered = await Promise.all(took),
    good = answered.filter(one => one !== null).sort((a, b) => a - b);
  const share = part => good[Math.min(good.length - 1, Math.floor(part * good.length))]?.toFixed(0);
  return `${rate} edits a second: middle ${share(0.5)} ms, 95 % ${share(0.95)} ms, 99 % ${share(0.99)} ms, ${good.length} of ${all} taken`;
}

await at(60, 6);
for (const rate of rates) console.log(await at(rate, seconds));
await server.end();
