// Hostile requests to every page, and how long somebody else waits meanwhile. Usage: node bench/hostile.mjs [seed=1] [requests=10000]
import { assault } from '../tests/browser/support/assault.mjs';
import { Server } from '../tests/browser/support/server.mjs';
import { Visitor } from '../tests/browser/support/visitor.mjs';

const [seed, count] = [Number(process.argv[2] ?? 1), Number(process.argv[3] ?? 10_000)];
const server = new Server(),
  waited = [];
await server.start();
const other = await new Visitor(server).begin();
let isOver = false;
const looking = (async () => {
  while (!isOver) {
    waited.push((await other.ask(`${other.study}/build`)).took);
    await new Promise(resolve => setTimeout(resolve, 200));
  }
})();
const { faults, slow, slowest } = await assault(server, seed, count);
isOver = true;
await looking;
waited.sort((a, b) => a - b);
console.log(`${count} requests of seed ${seed}: ${faults.length} faults, ${slow.length} over 2 s, the slowest ${slowest.toFixed(0)} ms`);
console.log(`somebody else waited ${waited[waited.length >> 1].toFixed(0)} ms in the middle, ${waited.at(-1).toFixed(0)} ms at most`);
for (const one of [...faults, ...slow]) console.log(one);
await server.end();
process.exitCode = faults.length > 0 ? 1 : 0;
