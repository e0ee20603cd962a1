// What a measure has to be at least: one setting, two together, what they cost; and the answer as a scenario.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { assertAccessible } from './support/browser.mjs';
import { session } from './support/session.mjs';

const { fresh } = session();

/** Scenarios of a decay that pauses for five days, with what has decayed as the curve that is compared. */
async function asked(title) {
  const page = await fresh(title, 'A(0) = 100; B(0) = 0; k = 0.1 per day; A -> B at k');
  await page.goto(page.url().replace(/build$/, 'scenarios'));
  await page.getByLabel('Type a measure').fill('k x 0, days 0 to 5');
  await page.keyboard.press('Enter');
  await page.locator('#scenario-chart svg').first().waitFor();
  const part = await page.locator('select[name=of] option', { hasText: /^B/ }).first().getAttribute('value');
  await page.goto(`${page.url().split('?')[0]}?of=${part}`);
  return { page, search: page.locator('#search-measure') };
}

test('the least of a measure that keeps a limit is found, without chance and by chance, and becomes a scenario, by keys', async () => {
  const { page, search } = await asked('Reeds');
  await search.locator('summary').first().focus();
  await page.keyboard.press('Enter');
  await search.getByLabel('keeps the').selectOption('Final');
  await search.getByRole('button', { name: 'Search' }).click();
  await search.getByText('Type the limit as a number').waitFor();
  await search.getByLabel('at most').fill('60');
  await search.getByLabel('from', { exact: true }).fill('130');
  await search.getByLabel('to', { exact: true }).fill('154');
  await page.keyboard.press('Enter');
  // With a pause of u days B ends at 100 (1 − e^(−0.1 (150 − u))), which is 60 at u = 140.8: the first whole day is 141.
  await search.getByText('The least that keeps the value at the end of B at or below 60: end 141, to a step of 1.').waitFor();
  await search.locator('#search-chart svg').waitFor();
  await search.getByLabel('of runs by chance').fill('200');
  await page.keyboard.press('Enter');
  await search.getByText('in 90 % of 200 runs').waitFor();
  await search.getByText('95 % interval').waitFor();
  assert.equal(await search.locator('#search-chart svg').count(), 2);
  await assertAccessible(page, 'a search');
  await search.getByRole('button', { name: 'Make it a scenario' }).focus();
  await page.keyboard.press('Enter');
  await page.locator('section.scenario').nth(1).waitFor();
  assert.equal(await page.locator('section.scenario').count(), 2);
});

test('two settings are looked for together: a map, the cheapest pair, a scenario with both', async () => {
  const { page, search } = await asked('Sedge');
  await search.locator('summary').first().click();
  await search.locator('select[name=setting]').selectOption('Length');
  await search.getByLabel('from', { exact: true }).fill('125');
  await search.getByLabel('to', { exact: true }).fill('153');
  await search.getByText('and a second setting with it').click();
  await search.locator('select[name=second]').selectOption({ index: 1 });
  await search.locator('select[name=setting2]').selectOption('Strength');
  await search.getByLabel('keeps the').selectOption('Final');
  await search.getByLabel('at most').fill('60');
  await search.getByRole('button', { name: 'Search' }).click();
  await search.getByText('Type from which to which the second setting is tried').waitFor();
  await search.getByLabel('second setting from').fill('0');
  await search.getByLabel('second setting to').fill('0.14');
  await search.getByRole('button', { name: 'Search' }).click();
  // The flow of 150 days less (1 − f) u has to be 9.16 days at most: (1 − f) u is 140.84 or more, and 0.97 × 147 = 142.6 is not the least.
  await search.getByText(/The least that keeps the value at the end of B at or below 60: length \d+ and number 0/).waitFor();
  assert.equal((await search.locator('#search-chart rect.opacity-25').count()) > 20, true);
  const said = await search.locator('p[role=status]').textContent();
  const [, length, number] = /length ([\d.]+) and number ([\d.]+), to a step of 2 and 0.01/.exec(said);
  const held = (1 - Number(number)) * Number(length);
  assert.ok(held >= 140.8 && held < 142, said);
  await assertAccessible(page, 'a search of two settings');
  await search.getByRole('button', { name: 'Make it a scenario' }).click();
  await page.locator('section.scenario').nth(1).waitFor();
  const made = page.locator('section.scenario').nth(1);
  assert.equal(await made.locator('[name=factor]').first().inputValue(), number);
  assert.equal(await made.locator('[name=until]').first().inputValue(), length);
  // With a cost the answer is the cheapest.
  await page
    .locator('section.scenario')
    .first()
    .locator('summary', { hasText: /^cost$/ })
    .first()
    .click();
  await page.locator('section.scenario').first().locator('[name=cost]').first().fill('2 per day');
  await page.keyboard.press('Enter');
  await page.locator('#compared', { hasText: 'cost' }).waitFor();
  if (!(await search.getByLabel('at most').isVisible())) await search.locator('summary').first().click();
  await search.getByLabel('keeps the').selectOption('Final');
  await search.getByLabel('from', { exact: true }).fill('130');
  await search.getByLabel('to', { exact: true }).fill('154');
  await search.getByLabel('at most').fill('60');
  await search.getByRole('button', { name: 'Search' }).click();
  await search.getByText('The cheapest that keeps the value at the end of B at or below 60: end 141').waitFor();
  await search.getByText('It costs 282').waitFor();
});
