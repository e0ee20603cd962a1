// How long edits take while many people edit at once. The load comes from this process, at a steady rate, whatever the answers take (an
// open loop: a slow server does not make the load less). Usage: node bench/edit-load.mjs [edits a second]... [seconds=10]
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
const busy = new Set();

/** One edit of the value beta by whoever is free; how long it took, or null where it was not taken. */
async function edit(n) {
  const visitor = visitors.find(one => !busy.has(one));
  if (!visitor) return null;
  visitors.push(...visitors.splice(visitors.indexOf(visitor), 1));
  busy.add(visitor);
  const began = performance.now();
  const { status } = await visitor.post('build', 'Field', { partId: 'v13', field: 'Text', value: `0.${300 + (n % 300)} per day` });
  busy.delete(visitor);
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
