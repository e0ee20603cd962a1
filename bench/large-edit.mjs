// An edit of a ring of 900 compartments: when what was edited is on the page, and when the new curves are. Usage: node bench/large-edit.mjs
import { openBrowser, openPage } from '../tests/browser/support/browser.mjs';
import { Server } from '../tests/browser/support/server.mjs';

const places = 900,
  ring = Array.from({ length: places }, (_, k) => `C${k}(0) = ${k + 1}; C${k} -> C${(k + 1) % places} at a`);
const server = new Server();
await server.start();
const browser = await openBrowser();
try {
  const page = await openPage(browser);
  await page.goto(server.url);
  await page.fill('#title', 'Long marsh');
  await page.getByRole('button', { name: 'Create the study' }).click();
  await page.waitForURL(/\/build$/);
  const add = async text => {
    const version = await page.inputValue('#version');
    await page.fill('#quick-line', text);
    await page.press('#quick-line', 'Enter');
    await page.waitForFunction(before => document.getElementById('version').value !== before, version);
  };
  await add('a = 0.1 per day');
  for (let k = 0; k < places; k += 300) await add(ring.slice(k, k + 300).join('; '));
  const begun = Date.now();
  await page.reload();
  await page.locator('#diagram .plate').first().waitFor();
  const painted = Date.now() - begun;
  await page.locator('#curves .chart-svg path.line').nth(800).waitFor({ state: 'attached' });
  console.log(`the page: diagram after ${painted} ms, curves after ${Date.now() - begun} ms`);
  await page.waitForTimeout(3000);
  await page.getByRole('button', { name: /^a,/ }).first().click();
  await page.locator('.line-item.open .main-field').waitFor();
  for (let round = 0; round < 5; round++) {
    const took = await page.evaluate(async k => {
      const input = document.querySelector('.line-item.open .main-field'),
        version = document.getElementById('version').value,
        numbers = document.getElementById('run-data').textContent.length,
        first = document.querySelector('#curves path.line:not(.before)'),
        begun = performance.now(),
        seen = {};
      const after = (name, is) =>
        new Promise(resolve => {
          const look = () => {
            if (!is()) return requestAnimationFrame(look);
            setTimeout(() => resolve((seen[name] = Math.round(performance.now() - begun))));
          };
          look();
        });
      input.value = `0.${101 + k} per day`;
      input.dispatchEvent(new Event('change', { bubbles: true }));
      await Promise.all([
        after('edit', () => document.getElementById('version').value !== version),
        after('curves', () => !first.isConnected && document.querySelector('#curves path.line:not(.before)')),
      ]);
      return { ...seen, numbers };
    }, round);
    console.log(
      `the edit on the page after ${took.edit} ms, its curves after ${took.curves} ms (${(took.numbers / 1e6).toFixed(1)} MB of numbers)`,
    );
    await page.waitForTimeout(2000);
  }
} finally {
  await browser.close();
  await server.end();
}
