// Explore in the browser: a sweep of 1,000 runs of SEIR over a year from the click to the picture, a slider with 20 compartments from the move to the
// redrawn curves, and a global sensitivity of 8 values over 8,192 runs. Prints milliseconds. Needs a built application: run ./test or ./run once before.
import { openBrowser, openPage } from '../tests/browser/support/browser.mjs';
import { addLine, begin } from '../tests/browser/support/build.mjs';
import { Server } from '../tests/browser/support/server.mjs';

const server = new Server();
await server.start();
const browser = await openBrowser();
try {
  const page = await openPage(browser);
  const explore = async () => {
    await page.goto(page.url().replace(/build.*/, 'explore'));
    await page.locator('.panel svg').first().waitFor();
  };
  const add = async kind => {
    await page.selectOption('.add-panel select', kind);
    await page.locator('.add-panel button').click();
    const panel = page.locator(`[data-kind=${kind}]`);
    await panel.locator('svg').first().waitFor();
    await panel.locator('.panel-menu > summary').click();
    return panel;
  };
  await begin(page, server, 'A year of SEIR');
  await addLine(
    page,
    'S(0) = 9990; E(0) = 0; I(0) = 10; R(0) = 0; beta = 0.4 per day; sigma = 0.25 per day; gamma = 0.2 per day; waning = 0.001 per day; births = 0.0001; N = S + E + I + R; S -> E : beta * S * I / N; E -> I at sigma; I -> R at gamma; R -> S at waning; -> S : births * N',
  );
  await page.fill('[name=end]', '365');
  await page.locator('[name=end]').press('Enter');
  await page.waitForFunction(
    () => document.querySelector('#curves')?.textContent?.includes('365') || document.querySelector('#curves svg'),
  );
  await explore();
  const sweep = await add('Sweep');
  const times = [];
  for (let k = 0; k < 6; k++) {
    times.push(
      await sweep.evaluate(
        (panel, k) =>
          new Promise(resolve => {
            const begun = performance.now(),
              field = [...panel.querySelectorAll('input')].find(input => input.closest('label')?.textContent?.trim().startsWith('values'));
            const seen = new MutationObserver(() => {
              const points = panel.querySelectorAll('.panel-part').length;
              if (points < 2 || panel.dataset.counted === String(k)) return;
              if (!(panel.dataset.settings !== undefined && panel.querySelector('.panel-words')?.textContent === '')) return;
              panel.dataset.counted = String(k);
              seen.disconnect();
              requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - begun)));
            });
            field.value = String(1000 - k);
            field.dispatchEvent(new Event('change', { bubbles: true }));
            document.addEventListener(
              'htmx:afterSettle',
              () => {
                setTimeout(() => seen.observe(panel.querySelector('.panel-body'), { childList: true, subtree: true }));
              },
              { once: true },
            );
          }),
        k,
      ),
    );
  }
  const middle = all => [...all].sort((a, b) => a - b)[Math.floor(all.length / 2)].toFixed(0);
  const each = times.map(time => time.toFixed(0)).join(' ');
  console.log(`sweep of 1,000 runs, from the change to the picture: ${each} ms; middle ${middle(times)} ms (target 120)`);
  await sweep.locator('.panel-menu > summary').click();
  const sensitivity = await add('Sensitivity');
  const id = await sensitivity.evaluate(panel => panel.dataset.panel);
  await sensitivity
    .getByLabel(/^\s*how/)
    .first()
    .selectOption('Sobol');
  await sensitivity.locator('.whisker').first().waitFor({ state: 'attached', timeout: 60000 });
  const asked = await page.evaluate(async panel => {
    const all = [];
    for (let k = 0; k < 3; k++) {
      const begun = performance.now();
      await (await fetch(`?handler=Sensitivity&panel=${panel}&set=`)).text();
      all.push(performance.now() - begun);
    }
    return all;
  }, id);
  console.log(`8,192 runs for shares of the variance: ${asked.map(time => time.toFixed(0)).join(' ')} ms (target 400)`);
  await begin(page, server, 'Twenty compartments');
  await addLine(
    page,
    `k = 0.2 per day; ${Array.from({ length: 20 }, (_, n) => `C${n}(0) = ${n === 0 ? 1000 : 0}`).join('; ')}; ${Array.from({ length: 19 }, (_, n) => `C${n} -> C${n + 1} at k`).join('; ')}`,
  );
  await explore();
  await page.selectOption('.explore-side select[name=address]', 'k');
  await page.locator('.explore-side').getByRole('button', { name: 'Add', exact: true }).click();
  const slider = page.getByRole('slider', { name: 'k', exact: true });
  await slider.waitFor();
  const moves = await slider.evaluate(async input => {
    const all = [];
    for (let k = 0; k < 60; k++) {
      const begun = performance.now();
      const drawn = new Promise(resolve =>
        document.querySelector('main').addEventListener('explored', () => requestAnimationFrame(() => setTimeout(resolve)), { once: true }),
      );
      input.value = String(300 + 7 * k);
      input.dispatchEvent(new Event('input', { bubbles: true }));
      await drawn;
      all.push(performance.now() - begun);
    }
    return all.slice(5);
  });
  const sorted = [...moves].sort((a, b) => a - b);
  console.log(
    `a slider move with 20 compartments: 50% under ${middle(moves)} ms, 95% under ${sorted[Math.floor(0.95 * sorted.length)].toFixed(0)} ms (target 50)`,
  );
} finally {
  await browser.close();
  await server.end();
}
