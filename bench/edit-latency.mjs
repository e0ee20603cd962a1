// From the end of an edit in the ledger to the redrawn curves, in the browser: prints the 50th and 95th percentile in milliseconds.
// Needs a built application: run ./test or ./run once before. Usage: node bench/edit-latency.mjs [edits] [large]
// With "large" it is the demo study of 60 compartments and 150 flows.
import { openBrowser, openPage } from '../tests/browser/support/browser.mjs';
import { Server } from '../tests/browser/support/server.mjs';

const edits = Number(process.argv[2] ?? 200);
const server = new Server();
await server.start();
const browser = await openBrowser();
try {
  const page = await openPage(browser);
  await page.goto(server.url);
  await page.getByText(process.argv[3] === 'large' ? 'Marram fever round the estuary' : 'Marram fever in Quay Ordan').click();
  await page.locator('#curves svg').waitFor();
  await page.getByRole('button', { name: /^β,/ }).click();
  await page.locator('.line-item.open .main-field').waitFor();
  const times = await page.evaluate(async count => {
    const measured = [];
    for (let k = 0; k < count; k++) {
      const input = document.querySelector('.line-item.open .main-field');
      const version = document.getElementById('version').value;
      // What is typed is painted as it is typed: the edit ends when the field is left.
      input.value = `${(0.3 + 0.1 * Math.sin(k)).toFixed(6)} per day`;
      await new Promise(resolve => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(resolve, 20))));
      const begun = performance.now();
      const done = new Promise(resolve => {
        const look = () => {
          // The curves are drawn in the same task that reads the new version; the next frame shows them.
          if (document.getElementById('version').value === version) return;
          document.removeEventListener('htmx:afterSettle', look);
          requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - begun)));
        };
        document.addEventListener('htmx:afterSettle', look);
      });
      input.dispatchEvent(new Event('change', { bubbles: true }));
      measured.push(await done);
      // A person looks at the result: the next edit does not overlap with the painting of this one.
      await new Promise(resolve => setTimeout(resolve, 150));
    }
    return measured;
  }, edits);
  if (process.env.ALL) console.log(times.map(time => Math.round(time)).join(' '));
  const sorted = times.slice(5).sort((a, b) => a - b);
  const at = share => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))].toFixed(1);
  console.log(`${sorted.length} edits: 50% under ${at(0.5)} ms, 95% under ${at(0.95)} ms, slowest ${sorted.at(-1).toFixed(1)} ms`);
} finally {
  await browser.close();
  await server.end();
}
