// Projections: how units move, a level, runs themselves, what comes while replicates are made, an earlier now, and those that are kept.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { assertAccessible, tabTo } from './support/browser.mjs';
import { session } from './support/session.mjs';

const { demo } = session();
const over = page => page.waitForFunction(() => document.querySelector('.projected') && !document.querySelector('.progress'));
const project = async page => {
  await page.getByRole('button', { name: 'Project', exact: true }).click();
  await over(page);
};
const fitted = async () => {
  const page = await demo('fit');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.waitForFunction(() => document.querySelector('.estimates') && !document.querySelector('.progress, .stale'));
  await page.goto(page.url().replace(/fit$/, 'projections'));
  return page;
};

test('by mouse: a level and leaps are chosen, runs are looked at, and outcomes have their spread', async () => {
  const page = await fitted();
  await page.getByLabel('a line at').fill('600');
  await page.getByLabel('units move').selectOption('Leap');
  await page.getByLabel('replicates', { exact: true }).fill('60');
  await project(page);
  assert.equal(await page.locator('#projection-chart line.level').count(), 1);
  const lane = page.locator('svg[aria-label="Measures over time"]');
  await lane.getByText('Baseline · above 600').waitFor();
  // The rarer it is, the lighter: a share is seen and not only said.
  const shades = await lane
    .locator('rect.bar:has(title)')
    .evaluateAll(all => all.map(one => [Number(/in (\d+) %/.exec(one.textContent)[1]) / 100, Number(getComputedStyle(one).fillOpacity)]));
  assert.ok(shades.length > 3 && shades.some(([share]) => share < 0.9));
  for (const [share, shade] of shades) assert.ok(Math.abs(share - shade) < 0.011, `${share} and ${shade}`);
  const lines = () => page.locator('#projection-chart path.line').count();
  const before = await lines();
  await page.locator('#sample-runs').check();
  assert.equal(await lines(), before + 2 * 5);
  assert.equal(await page.locator('.projected thead th').count(), 6);
  assert.equal((await page.locator('.projected svg[role=img]').count()) > 5, true);
  assert.match(await page.locator('tr.difference').innerText(), /lower in [\d.]+ %/);
  await assertAccessible(page, 'a projection with a level');
});

test('what the first replicates come to is there before the last are made, and a stop leaves what there was', async () => {
  const page = await demo('projections');
  await page.getByLabel('units move').selectOption('Exact');
  await page.getByLabel('replicates', { exact: true }).fill('10000');
  await page.getByRole('button', { name: 'Project', exact: true }).click();
  await page.waitForFunction(() => document.querySelector('.projected') && document.querySelector('.progress'));
  const made = async () =>
    Number(/([\d,]+) replicates/.exec(await page.locator('#projection-outcomes h2 span').first().innerText())[1].replace(',', ''));
  const first = await made();
  assert.ok(first > 0 && first < 10000, `${first} replicates`);
  await page.waitForFunction(
    before =>
      Number(
        /([\d,]+) replicates/.exec(document.querySelector('#projection-outcomes h2 span')?.textContent ?? '')?.[1].replace(',', '') ?? 0,
      ) > before,
    first,
  );
  // A slow press outlasts several looks at the work, each of which would draw the button anew.
  const stop = await page.getByRole('button', { name: 'Stop' }).boundingBox();
  await page.mouse.move(stop.x + stop.width / 2, stop.y + stop.height / 2);
  await page.mouse.down();
  for (let looks = 0; looks < 3; looks++) await page.waitForResponse(answer => answer.url().includes('handler=Status'));
  await page.mouse.up();
  await page.getByRole('alert').waitFor();
  assert.equal(await page.locator('.progress').count(), 0);
});

test('by keys: steps that cannot be are refused and kept, an earlier now is held against what came since, and both are kept', async () => {
  const page = await fitted();
  await page.getByLabel('units move').focus();
  await page.keyboard.type('in steps');
  await tabTo(page, '[name=step]');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('0');
  await page.keyboard.press('Enter');
  await page.getByText('A step of the chain binomial is a time above zero').waitFor();
  assert.equal(await page.locator('[name=step]').inputValue(), '0');
  assert.equal(await page.getByLabel('units move').inputValue(), 'ChainBinomial');
  await page.locator('[name=step]').fill('0.5');
  await page.getByLabel('replicates', { exact: true }).fill('40');
  await page.keyboard.press('Enter');
  await over(page);
  await page.getByLabel(/^as if it were/).fill('3');
  await page.keyboard.press('Enter');
  await page.getByText('Nothing had been counted by day 3. Take a later one').waitFor();
  await page.getByLabel(/^as if it were/).fill('28');
  await page.keyboard.press('Enter');
  await page.locator('#projection-status', { hasText: /3 rows have come in since: \d in the middle half/ }).waitFor();
  const kept = page.locator('#projections-kept li');
  assert.equal(await kept.count(), 2);
  // The one before is looked at again, and the other thrown away.
  await kept.getByRole('link', { name: /from day 49, 40 replicates, in steps/ }).focus();
  await page.keyboard.press('Enter');
  await kept.getByRole('link', { name: /from day 28/ }).waitFor();
  // The page stands before its script has drawn on it.
  await page.locator('#projection-chart .now').waitFor({ state: 'attached' });
  await page.getByRole('button', { name: /^Forget the projection Reported cases from day 28/ }).focus();
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => document.querySelectorAll('#projections-kept li').length === 0);
});

test('without chance and with nothing else open a projection is one run', async () => {
  const page = await demo('projections');
  await page.getByLabel('units move').selectOption('None');
  // A step that is hidden says nothing, whatever stands in it.
  await page.locator('[name=step]').evaluate(field => (field.value = 'long'));
  for (const box of await page.locator('form input[type=checkbox][name]').all()) await box.uncheck();
  await project(page);
  await page.getByText('Nothing is left open in this run').waitFor();
  assert.match(await page.locator('#projection-outcomes h2 span').first().innerText(), /1 run$/);
});

test('where the spread comes from is told over time', async () => {
  const page = await fitted();
  await page.getByLabel('units move').selectOption('Leap');
  await page.getByLabel('replicates', { exact: true }).fill('40');
  await page.getByLabel('and where the spread comes from').check();
  await project(page);
  const told = page.getByText(
    /Of the variance where the baseline varies most, on day \d+, chance makes \d+ % \(\d+ to \d+\), the fit makes/,
  );
  await told.waitFor();
  assert.equal(await page.locator('svg[aria-label="Shares of the variance over time"] path.share').count(), 3);
  await assertAccessible(page, 'shares of the variance');
});

test('statements over each run are typed, refused in words and kept, and stand beside the outcomes with their differences', async () => {
  const page = await demo('projections');
  const field = page.getByLabel('and of each run');
  await tabTo(page, 'textarea[name=formulas]');
  await page.keyboard.type('H > 90');
  await page.getByLabel('replicates', { exact: true }).fill('100');
  await page.getByRole('button', { name: 'Project', exact: true }).click();
  await page.getByText('“H” changes along a run. Say what of it: peak(H)').waitFor();
  assert.equal(await field.inputValue(), 'H > 90');
  await field.fill('peak(H) > 90 and peak_time(H) > 60\ntotal(flow(S, E))');
  await project(page);
  const heads = await page.locator('.projected thead th').allInnerTexts();
  assert.deepEqual(heads.slice(4), ['peak(H) > 90 and peak_time(H) > 60', 'total(flow(S, E))']);
  const [baseline, scenario, difference] = await page
    .locator('.projected tbody tr')
    .evaluateAll(all => all.map(row => row.cells[4].innerText));
  const share = text => Number(/^([\d.]+) %/.exec(text)[1]);
  assert.match(difference, /^[+−]?[\d.]+ points\n.* to .* points$/);
  const points = Number(/^([+−]?[\d.]+)/.exec(difference)[1].replace('−', '-').replace('+', ''));
  assert.ok(Math.abs(share(scenario) - share(baseline) - points) < 1.1, `${baseline}, ${scenario}: ${difference}`);
  await assertAccessible(page, 'statements of a projection');
  await page.reload();
  assert.equal(await field.inputValue(), 'peak(H) > 90 and peak_time(H) > 60\ntotal(flow(S, E))');
  assert.equal(await page.locator('.projected thead th').count(), 6);
});

test('scenarios are ranked by an outcome, by mouse and by keys, and keep their rank when something changes', async () => {
  const page = await demo('scenarios');
  const add = async line => {
    const version = await page.inputValue('#version');
    await page.getByLabel('Type a measure of Ferry pause').fill(line);
    await page.keyboard.press('Enter');
    await page.waitForFunction(before => document.readyState === 'complete' && document.getElementById('version')?.value > before, version);
  };
  const names = table => page.locator(`${table} tbody tr:not(.difference) th`).allInnerTexts();
  assert.deepEqual(await names('#compared'), ['Baseline', 'Ferry pause']);
  const total = page.locator('#compared').getByRole('button', { name: 'total' });
  await total.click();
  assert.deepEqual(await names('#compared'), ['Ferry pause', 'Baseline']);
  assert.equal(await page.locator('#compared th[aria-sort=ascending]').innerText(), 'total');
  // The difference goes with what it is of.
  assert.match(await page.locator('#compared tbody tr').nth(1).innerText(), /against baseline/);
  await add('at 60: S -> R : 5');
  assert.deepEqual(await names('#compared'), ['Ferry pause', 'Baseline']);
  await total.focus();
  await page.keyboard.press('Enter');
  assert.deepEqual(await names('#compared'), ['Baseline', 'Ferry pause']);
  assert.equal(await page.locator('#compared th[aria-sort=descending]').count(), 1);
  await page.keyboard.press('Enter');
  assert.equal(await page.locator('#compared th[aria-sort]').count(), 0);
  await assertAccessible(page, 'a ranked table');
  await page.goto(page.url().replace(/scenarios.*$/, 'projections'));
  await page.getByRole('button', { name: 'Project', exact: true }).click();
  await page.waitForFunction(() => document.querySelector('#projected') && !document.querySelector('.progress'));
  await page.locator('#projected button[data-ranks]').first().click();
  assert.deepEqual(await names('#projected'), ['Ferry pause', 'Baseline']);
});
