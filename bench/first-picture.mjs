// How long it takes from the click on a study to its first curves, and what the browser is sent for it.
// Usage: node bench/first-picture.mjs [rounds=15]
import { gzipSync } from 'node:zlib';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { openBrowser, openPage } from '../tests/browser/support/browser.mjs';
import { root, Server } from '../tests/browser/support/server.mjs';

const rounds = Number(process.argv[2] ?? 15);
const server = new Server();
await server.start();
const browser = await openBrowser();
const took = [];
for (let round = 0; round < rounds; round++) {
  // Nothing is kept from the round before: a browser that has never seen the page.
  const page = await openPage(browser);
  await page.goto(server.url);
  await page.evaluate(() => {
    document.addEventListener('click', () => sessionStorage.setItem('clicked', String(performance.timeOrigin + performance.now())), true);
  });
  await page.addInitScript(() => {
    const watch = new MutationObserver(() => {
      if (!document.querySelector('#curves svg path.line')) return;
      watch.disconnect();
      requestAnimationFrame(() =>
        setTimeout(() => {
          window.drawnAt = performance.timeOrigin + performance.now();
        }),
      );
    });
    watch.observe(document, { childList: true, subtree: true });
  });
  await page.getByText('Marram fever in Quay Ordan', { exact: true }).click();
  await page.waitForFunction(() => window.drawnAt);
  took.push(await page.evaluate(() => window.drawnAt - Number(sessionStorage.getItem('clicked'))));
  await page.context().close();
}
took.sort((a, b) => a - b);
const share = part => took[Math.min(took.length - 1, Math.floor(part * took.length))].toFixed(0);
console.log(`from the click to the first curves: middle ${share(0.5)} ms, 95 % ${share(0.95)} ms, ${rounds} rounds`);
const packed = name => gzipSync(readFileSync(join(root, 'src/ClearTide.Web/wwwroot/dist', name))).length;
console.log(`script ${(packed('site.js') / 1000).toFixed(0)} kB and style ${(packed('site.css') / 1000).toFixed(0)} kB, compressed`);
await browser.close();
await server.end();
