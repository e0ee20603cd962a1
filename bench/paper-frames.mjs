// The work of one frame while a plate of the large study is dragged: script, style, layout and paint of the page's main thread, in milliseconds.
// Needs a built application: run ./test or ./run once before. Usage: node bench/paper-frames.mjs [frames]
import { readFileSync } from 'node:fs';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openBrowser, openPage } from '../tests/browser/support/browser.mjs';
import { Server } from '../tests/browser/support/server.mjs';

const frames = Number(process.argv[2] ?? 240);
const server = new Server();
await server.start();
const browser = await openBrowser();
const folder = mkdtempSync(join(tmpdir(), 'clear-tide-frames-'));
try {
  const page = await openPage(browser);
  await page.goto(server.url);
  await page.getByText('Marram fever round the estuary').click();
  await page.locator('#curves svg').waitFor();
  await page.waitForFunction(() => document.querySelector('.plate [data-value]')?.textContent);
  const box = await page.locator('.plate .sheet').nth(20).boundingBox();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let k = 0; k < 20; k++) await page.mouse.move(x + k, y + k);
  const path = join(folder, 'trace.json');
  await browser.startTracing(page, { path, categories: ['devtools.timeline', 'disabled-by-default-devtools.timeline', 'toplevel'] });
  for (let k = 0; k < frames; k++) {
    await page.mouse.move(x + 40 * Math.sin(k / 9), y + 30 * Math.cos(k / 7));
    await page.evaluate(() => new Promise(resolve => requestAnimationFrame(() => setTimeout(resolve))));
  }
  await browser.stopTracing();
  await page.keyboard.press('Escape');
  await page.mouse.up();
  const { traceEvents } = JSON.parse(readFileSync(path, 'utf8'));
  const begun = traceEvents.filter(event => event.name === 'ProxyMain::BeginMainFrame' || event.name === 'ThreadProxy::BeginMainFrame');
  const main = traceEvents.find(event => event.name === 'FireAnimationFrame');
  const work = ['FireAnimationFrame', 'EventDispatch', 'UpdateLayoutTree', 'Layout', 'PrePaint', 'Paint', 'Layerize'];
  const parts = traceEvents.filter(
    event => event.ph === 'X' && event.pid === main.pid && event.tid === main.tid && work.includes(event.name),
  );
  // All that happens between one frame of animation and the next belongs to a frame; nested stretches are counted once.
  const starts = parts
    .filter(event => event.name === 'FireAnimationFrame')
    .map(event => event.ts)
    .sort((a, b) => a - b);
  const times = starts
    .slice(0, -1)
    .map((start, k) => {
      let sum = 0,
        covered = 0;
      for (const event of parts.filter(one => one.ts >= start && one.ts < starts[k + 1]).sort((a, b) => a.ts - b.ts)) {
        const from = Math.max(event.ts, covered),
          end = event.ts + event.dur;
        if (end > from) sum += end - from;
        covered = Math.max(covered, end);
      }
      return sum / 1000;
    })
    .sort((a, b) => a - b);
  const at = share => times[Math.min(times.length - 1, Math.floor(share * times.length))].toFixed(1);
  console.log(
    `${times.length} frames (${begun.length} drawn): 50% under ${at(0.5)} ms, 95% under ${at(0.95)} ms, slowest ${times.at(-1).toFixed(1)} ms`,
  );
} finally {
  await browser.close();
  await server.end();
  rmSync(folder, { recursive: true, force: true });
}
