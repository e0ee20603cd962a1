// 1,000 edits in a row in one study: prints the server's memory as it goes, which must level off.
// Needs a built application: run ./test or ./run once before. Usage: node bench/edit-memory.mjs [edits]
import { readFileSync } from 'node:fs';
import { Server } from '../tests/browser/support/server.mjs';

const edits = Number(process.argv[2] ?? 1000);
const server = new Server();
await server.start();
try {
  const shelf = await (await fetch(server.url)).text();
  const address = server.url + /\/studies\/[0-9a-f]+\/build/.exec(shelf)[0];
  const first = await fetch(address);
  const cookie = first.headers
    .getSetCookie()
    .map(line => line.split(';')[0])
    .join('; ');
  const page = await first.text();
  const csrf = /name="csrf" content="([^"]+)"/.exec(page)[1];
  const part = /id="line-(v\d+)"[^>]*data-name="beta"/.exec(page)[1];
  let version = /id="version" name="version" value="(\d+)"/.exec(page)[1];
  const resident = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))[1]) / 1024;
  for (let k = 1; k <= edits; k++) {
    // Each edit is a formula of its own, so that each compiles functions of its own.
    const body = new URLSearchParams({ version, partId: part, field: 'Text', value: `0.4 per day * (1 + 0.${k} * sin(t))`, open: part });
    const answer = await fetch(`${address}?handler=Field`, {
      method: 'POST',
      body,
      headers: { 'X-CSRF': csrf, 'HX-Request': 'true', cookie },
    });
    const html = await answer.text();
    version = /id="version" name="version" value="(\d+)"/.exec(html)?.[1] ?? version;
    if (answer.status !== 200) throw new Error(`edit ${k} was answered with ${answer.status}`);
    if (k % 100 === 0) console.log(`${k} edits: ${resident().toFixed(0)} MB`);
  }
} finally {
  await server.end();
}
