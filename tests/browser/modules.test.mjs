// Models that are parts of a model: made of a selection, used again with values of their own, brought up to their source, taken apart.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { assertAccessible } from './support/browser.mjs';
import { addLine, edited, openLine, run } from './support/build.mjs';
import { quiet } from './support/events.mjs';
import { session } from './support/session.mjs';

const { fresh, demo } = session();
const lines = ['A(0) = 100; B(0) = 0; k = 0.1 per day; A -> B at k', 'R(0) = 5; B -> R at 0.05 per day'];

/** Selects plates by mouse and makes a module of them. */
async function make(page, name, ...symbols) {
  for (const symbol of symbols) await page.locator(`.plate[aria-label^="${symbol}, "]`).click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: 'Module', exact: true }).click();
  await page.keyboard.type(name);
  await edited(page, () => page.keyboard.press('Enter'));
}

/** Unfolds a module that is not yet: one that was renamed stays as it was. */
async function unfold(module) {
  await module.waitFor();
  if (!(await module.evaluate(details => details.open))) await module.locator('summary').click();
}

const amount = async (page, symbol) => {
  const { curves } = await run(page);
  return curves.find(curve => curve.symbol === symbol).values.at(-1);
};

test('a selection becomes a module, is used twice with values of its own, and follows its source by choice', async () => {
  const page = await fresh('Reeds', ...lines);
  const before = await amount(page, 'B');
  await make(page, 'pond: Village pond', 'A', 'B');
  const pond = page.locator('[data-module="pond"]');
  await unfold(pond);
  await pond.getByText('Out flows pond.B → R.').waitFor();
  // The numbers are the same, under other names; the frame says the name before the point.
  assert.equal(await amount(page, 'pond.B'), before);
  await page.locator('.region', { hasText: 'pond: Village pond' }).waitFor();
  assert.equal(await page.locator('.plate[aria-label^="pond.A, "] .symbol').textContent(), 'A');
  await assertAccessible(page, 'a module');
  // Once more, by keys.
  await pond.getByLabel('once more, as').focus();
  await page.keyboard.type('pond');
  await page.keyboard.press('Enter');
  await page.locator('#modules-refused').getByText('There is a module pond already').waitFor();
  assert.equal(await pond.getByLabel('once more, as').inputValue(), 'pond');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('lake');
  await edited(page, () => page.keyboard.press('Enter'));
  assert.equal(await page.evaluate(() => document.activeElement.name), 'symbol', 'the focus stays where it was');
  // A value of its own: exponential decay over the 150 days of the run, to the solver's tolerance of 1e-8.
  await openLine(page, /^lake.k,/);
  await page.locator('.line-item.open .main-field').fill('0.3 per day');
  await edited(page, () => page.keyboard.press('Enter'));
  assert.ok(Math.abs((await amount(page, 'lake.A')) - 100 * Math.exp(-45)) < 1e-6);
  assert.ok(Math.abs((await amount(page, 'pond.A')) - 100 * Math.exp(-15)) < 1e-6);
  // The source changes: what was changed here stays, all else is brought by choice.
  await addLine(page, 'pond.A(0) = 200');
  const lake = page.locator('[data-module="lake"]');
  await lake.getByText('its source has changed').waitFor();
  await unfold(lake);
  await lake.getByRole('row', { name: 'A A(0) = 100 A(0) = 200' }).waitFor();
  await edited(page, () => lake.getByRole('button', { name: 'Bring it up to that' }).click());
  assert.ok(Math.abs((await amount(page, 'lake.A')) - 200 * Math.exp(-45)) < 1e-6);
  await page.keyboard.press('Control+z');
  await lake.getByText('its source has changed').waitFor();
});

test('a pattern becomes a module of a study; modules are renamed and taken apart', async () => {
  const page = await fresh('Reeds', ...lines);
  await page.locator('#module-new summary').click();
  await page.locator('#module-new option', { hasText: 'pattern: Closed epidemic' }).waitFor({ state: 'attached' });
  await page.locator('#module-new [name=source]').selectOption({ label: 'pattern: Closed epidemic' });
  await page.locator('#module-new [name=symbol]').fill('9');
  await page.locator('#module-new').getByRole('button', { name: 'Add' }).click();
  await page.locator('#modules-refused').getByText('cannot be a symbol').waitFor();
  await page.locator('#module-new [name=symbol]').fill('town');
  await edited(page, () => page.locator('#module-new').getByRole('button', { name: 'Add' }).click());
  const town = page.locator('[data-module="town"]');
  await unfold(town);
  await town.getByText('Made from Closed epidemic. Its lines are the same.').waitFor();
  await town.getByText('No flow crosses its border').waitFor();
  await town.getByLabel('name').fill('city');
  await edited(page, () => town.getByRole('button', { name: 'Rename' }).click());
  const city = page.locator('[data-module="city"]');
  await addLine(page, 'ill = city.I / city.N');
  await unfold(city);
  await city.getByText('Lines outside use city.I, city.N.').waitFor();
  await edited(page, () => city.getByRole('button', { name: 'Take apart' }).click());
  await page.locator('#ledger button.line[aria-label^="I, "]').waitFor();
  assert.equal(await page.locator('[data-module]').count(), 0);
  assert.equal(await page.locator('.region').count(), 0);
});

test('the hive of the apiary is a module that takes the season', async () => {
  const page = await demo('build', 'vorrin-apiary');
  await page.locator('[data-module="hive"] summary').click();
  await page.getByText('Takes season.').waitFor();
  await quiet(page);
});
