// Kills the server while it works, and looks for what was acknowledged. Usage: node bench/kills.mjs [kills=200] [seed=7]
import { kills } from '../tests/browser/support/kills.mjs';
import { Server } from '../tests/browser/support/server.mjs';

const count = Number(process.argv[2] ?? 200),
  server = new Server();
const { lost, imports } = await kills(server, count, Number(process.argv[3] ?? 7));
console.log(`${count} kills, ${imports} imports: ${lost.length} lost`);
for (const one of lost) console.log(one);
await server.end();
process.exitCode = lost.length > 0 ? 1 : 0;
