// How a run is computed and what is said of it: method, step and tolerance on the curves, and the ledger's view of the run.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { assertAccessible } from './support/browser.mjs';
import { addLine, edited, findings, openLine, run } from './support/build.mjs';
import { session } from './support/session.mjs';

const { fresh } = session();
const decay = 'A -> B at 0.2 per day; A(0) = 100';
let page;

const choose = method => edited(page, () => page.getByLabel('method').selectOption(method));
const step = () => page.getByLabel(/^Step of calculation/);
const steps = async (method, length) => {
  await choose(method);
  await edited(page, async () => {
    await step().fill(length);
    await page.keyboard.press('Enter');
  });
};

test('a step shows with the methods that have one, a tolerance with the others', async () => {
  page = await fresh('Tides of Ammelow', decay);
  assert.equal(await step().isVisible(), false);
  assert.equal(await page.getByLabel('Relative tolerance of a step').isVisible(), true);
  await choose('Euler');
  await step().waitFor();
  assert.equal(await page.getByLabel('Relative tolerance of a step').isVisible(), false);
});

test('Euler at a long step departs from the exponential as Euler does', async () => {
  page = await fresh('Tides of Ammelow', decay);
  await steps('Euler', '1');
  const { times, curves } = await run(page);
  const amounts = curves.find(curve => curve.symbol === 'A').values;
  const at = times.indexOf(10);
  // Ten steps of one day, each leaving four fifths.
  assert.ok(Math.abs(amounts[at] - 100 * 0.8 ** 10) < 1e-9, String(amounts[at]));
});

test('a step that cannot be is refused, and the field says again what the study has', async () => {
  page = await fresh('Tides of Ammelow', decay);
  await steps('Euler', '1');
  await step().fill('0');
  await page.keyboard.press('Enter');
  await page.locator('#notice', { hasText: 'above zero' }).waitFor();
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await page.waitForFunction(() => document.querySelector('#solver-form [name=step]').value === '0.25');
  await page.getByRole('button', { name: 'Redo' }).first().click();
  await page.waitForFunction(() => document.querySelector('#solver-form [name=step]').value === '1');
});

test('the run view tells totals and outcomes, and the step check offers a step that does', async () => {
  page = await fresh('Tides of Ammelow', decay);
  await steps('Euler', '1');
  await page.locator('[data-view=Run]').click();
  const report = page.locator('.run-report');
  await report.waitFor();
  assert.match(await report.textContent(), /Conserved totals/);
  await report.getByLabel('digits wanted').fill('2');
  await report.getByLabel('digits wanted').press('Enter');
  await report.getByText('gives 2 digits everywhere').waitFor();
  // Digits that cannot be had become the most that can, and hold up no other edit.
  await report.getByLabel('digits wanted').fill('99');
  await report.getByLabel('digits wanted').press('Enter');
  await page.waitForFunction(() => document.querySelector('#run-digits').value === '10');
  await choose('Midpoint');
  await choose('Euler');
  await report.getByLabel('digits wanted').fill('2');
  await report.getByLabel('digits wanted').press('Enter');
  await report.getByText('gives 2 digits everywhere').waitFor();
  await edited(page, () => report.getByRole('button', { name: 'Use it' }).click());
  assert.ok(Number(await step().inputValue()) < 1);
  await assertAccessible(page);
});

test('a level is looked at for the curve that is chosen, also after the next edit', async () => {
  page = await fresh('Tides of Ammelow', decay);
  await page.locator('[data-view=Run]').click();
  const report = page.locator('.run-report');
  await report.locator('#run-of').selectOption({ label: 'A' });
  await report.getByLabel('Level that the curve is looked at against').fill('50');
  await report.getByLabel('Level that the curve is looked at against').press('Enter');
  await report.getByText('first crossing').waitFor();
  assert.match(await report.locator('.readings').textContent(), /day 3\.466/);
  await addLine(page, 'A(0) = 200');
  assert.match(await report.locator('.readings').textContent(), /day 6\.931/);
});

test('discrete steps ask for a next value and print as a difference equation', async () => {
  page = await fresh('Tides of Ammelow', decay);
  await steps('Discrete', '1');
  await addLine(page, 'next N = 2 * N; N(0) = 1');
  const { times, curves } = await run(page);
  assert.equal(curves.find(curve => curve.symbol === 'N').values[times.indexOf(10)], 1024);
  const text = await page.evaluate(async () => (await fetch('?handler=Copy&form=text')).text());
  assert.match(text, /N\(t \+ h\) = 2 \* N/);
  assert.match(text, /A\(t \+ h\) = A - \(0\.2 per day\) \* A/);
});

test('a run that stops short says why and shows what there was before', async () => {
  page = await fresh('Short of it', 'S(0) = 100', 'S -> I : 0.1 * S', 'V -> : 0.01 * V', 'at 5: S -> V : 400');
  // All that is there moves, and the event says so; the other way is one click off.
  assert.match((await findings(page)).join(' '), /S held 60.653 at day 5, and 400 was to leave it/);
  await edited(page, () => page.getByRole('button', { name: 'Stop the run instead' }).click());
  await page.locator('.run-failure').waitFor();
  assert.match(await page.locator('.run-failure').textContent(), /stopped at day 5.*S held 60.653/);
  const stopped = await run(page);
  assert.equal(stopped.times.at(-1), 5);
  assert.ok(Math.abs(stopped.curves[0].values.at(-1) - 100 * Math.exp(-0.5)) < 1e-4);
  // The curves stand below the sentence, and the time that is read lies within them.
  const words = await page.locator('.run-failure').boundingBox(),
    chart = await page.locator('#curves svg').boundingBox();
  assert.ok(chart.y >= words.y + words.height, 'the sentence lies on the curves');
  assert.equal(await page.locator('#curves .line:not(.before)').count(), 3);
  assert.equal(await page.locator('#curves .cursor-flag text').textContent(), 'day 5');
  // Back again in the event's own line, by keys.
  await openLine(page, /at 5/);
  await page.getByLabel('stops when short').focus();
  await edited(page, () => page.keyboard.press('Space'));
  await page.locator('.run-failure').waitFor({ state: 'detached' });
});
