// The steps behind Build and Explore: forms that are refused keep what was typed, and undo works by key in each.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { session } from './support/session.mjs';

const { fresh, demo } = session();
const lines = ['S(0) = 990; I(0) = 10; R(0) = 0; beta = 0.4 per day', 'S -> I : beta * S * I / 1000', 'I -> R after 5 days'];
const at = async (page, step) =>
  page.goto(page.url().replace(/\/(build|explore|data|fit|subjects|scenarios|projections|history|files)$/, `/${step}`));
const send = async (page, name) => Promise.all([page.waitForNavigation(), page.getByRole('button', { name, exact: true }).click()]);

test('a refused measure keeps what was typed, beside what others hold', async () => {
  const page = await fresh('Reeds', ...lines);
  await at(page, 'scenarios');
  await page.getByLabel('new scenario').fill('Ferry pause');
  await send(page, 'Add scenario');
  const form = page.locator('form.measure').last();
  await form.getByLabel('New measure in Ferry pause').fill('Fewer crossings');
  await form.locator('[name=factor]').fill('0,6');
  await form.locator('[name=from]').fill('50');
  await form.locator('[name=until]').fill('20');
  await send(page, 'Add measure');
  await page.locator('.notice:visible').waitFor();
  assert.deepEqual(await form.locator('input:not([type=hidden])').evaluateAll(fields => fields.map(field => field.value)), [
    'Fewer crossings',
    '0,6',
    '50',
    '20',
  ]);
  assert.equal(await page.getByLabel('new scenario').inputValue(), '');
  await form.locator('[name=factor]').fill('0.6');
  await form.locator('[name=until]').fill('90');
  await send(page, 'Add measure');
  assert.equal(await page.locator('form.measure').count(), 2);
});

test('a table that cannot be read keeps what was said of it', async () => {
  const page = await fresh('Reeds', ...lines);
  await at(page, 'data');
  await page.locator('#text').fill('day,cases\n7,5\n14,9\n21,x');
  await send(page, 'Preview');
  await page.locator('li', { hasText: 'row 4' }).waitFor();
  await page.getByLabel('name', { exact: true }).fill('Seen at the ferry');
  await page.getByLabel(/^each, in/).fill('a week');
  await page.getByLabel(/^which marks/).selectOption('Start');
  await send(page, 'Preview again');
  await page.locator('.notice:visible', { hasText: '“a week”, is not a number' }).waitFor();
  assert.equal(await page.getByLabel(/^each, in/).inputValue(), 'a week');
  assert.equal(await page.getByLabel(/^which marks/).inputValue(), 'Start');
  await page.locator('#text').fill('day');
  await send(page, 'Preview');
  await page.locator('.notice:visible').waitFor();
  await page.locator('#text').fill('day,cases\n7,5\n14,9');
  await send(page, 'Preview');
  assert.equal(await page.getByLabel('name', { exact: true }).inputValue(), 'Seen at the ferry');
  assert.equal(await page.getByLabel(/^which marks/).inputValue(), 'Start');
});

test('a refused fit keeps the law that was chosen', async () => {
  const page = await demo();
  await at(page, 'fit');
  await page.locator('[name=tick]').evaluateAll(boxes =>
    boxes.forEach(box => {
      box.checked = false;
    }),
  );
  const law = page.getByLabel(/negative binomial/),
    other = page.getByLabel('Poisson');
  const chosen = (await law.isChecked()) ? other : law;
  await chosen.check();
  await send(page, 'Fit');
  await page.locator('.notice:visible', { hasText: 'Tick at least one' }).waitFor();
  assert.ok(await chosen.isChecked());
});

test('undo and redo work by key in every step', async () => {
  const page = await fresh('Reeds', ...lines);
  for (const step of ['explore', 'data', 'fit', 'subjects', 'scenarios', 'projections', 'history', 'files']) {
    await at(page, step);
    await page.getByRole('button', { name: 'Undo' }).waitFor();
    assert.ok(await page.getByRole('button', { name: 'Redo' }).isDisabled(), step);
    await page.keyboard.press('Control+z');
    // The page loads anew: its keys work once its scripts have run.
    await page.waitForFunction(
      () => document.readyState === 'complete' && document.querySelector('[data-history=redo] button:not([disabled])'),
    );
    assert.match(page.url(), new RegExp(`/${step}$`));
    await page.keyboard.press('Control+y');
    await page.waitForFunction(() => document.readyState === 'complete' && document.querySelector('[data-history=redo] button[disabled]'));
  }
});

test('numbers under the pointer have their unit: curves of scenarios, bands of projections, what a fit expects', async () => {
  const page = await demo('scenarios');
  const over = async (chart, wanted) => {
    await page
      .locator(`${chart} svg`)
      .first()
      .hover({ position: { x: 150, y: 60 } });
    assert.match(await page.locator(`${chart} .hover`).first().textContent(), wanted);
  };
  await page.locator('#scenario-chart path.line').first().waitFor();
  await over('#scenario-chart', /Baseline\s*[\d.]+ people a day/);
  await page.goto(page.url().replace(/scenarios.*$/, 'projections'));
  await page.locator('#projection-chart path.line, #projection-chart circle').first().waitFor();
  await over('#projection-chart', /[\d.]+ people/);
  await page.goto(page.url().replace(/projections.*$/, 'fit'));
  await page.locator('#fit-chart svg').first().waitFor();
  await over('#fit-chart', /observed\s*[\d.]+ people/);
});
