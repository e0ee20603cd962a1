// Scenarios compared by outcomes of one's own: typed once, answered without chance, asked of each replicate by projections.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { assertAccessible } from './support/browser.mjs';
import { session } from './support/session.mjs';

const { demo } = session();

const rows = page => page.locator('#outcome-rows textarea');
const table = page => page.locator('#compared-rows');

async function set(page, text) {
  if (!(await rows(page).isVisible())) await page.locator('#outcome-rows summary').click();
  await rows(page).fill(text);
  await page.getByRole('button', { name: 'Set outcomes' }).click();
  await page.waitForLoadState('domcontentloaded');
}

test('statements and numbers stand beside each scenario, are refused with their line, ranked, and asked by projections', async () => {
  const page = await demo('scenarios');
  await page.locator('#scenario-chart path').first().waitFor();
  await page.locator('#outcome-rows summary').focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Tab');
  await page.keyboard.type('peak(I)');
  await page.keyboard.press('Enter');
  await page.keyboard.type('ever(H > 40)');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await table(page).waitFor();
  assert.deepEqual(await table(page).locator('thead button').allTextContents(), ['peak(I)', 'ever(H > 40)']);
  const said = await table(page).locator('tbody').first().locator('td').allTextContents();
  assert.match(said[0], /^\d/);
  assert.match(said[1], /^(yes|no)$/);
  assert.ok((await table(page).locator('tbody').count()) > 1);
  assert.match(await table(page).locator('tr.difference td').first().textContent(), /^[−+]|^0/);
  await assertAccessible(page, 'scenarios with outcomes of one’s own');

  // By a column, and back to the order of the scenarios.
  await table(page).locator('thead button').first().click();
  assert.equal(await table(page).locator('th[aria-sort]').count(), 1);

  // What cannot be answered is said, and stays where it was typed.
  await set(page, 'peak(I)\nZ + 1');
  await page.locator('.notice', { hasText: 'Z + 1: There is no “Z” in the model' }).waitFor();
  assert.equal(await rows(page).inputValue(), 'peak(I)\nZ + 1');
  assert.equal(await table(page).locator('thead button').count(), 2);

  // Projections ask the same where nothing else is chosen.
  await page.goto(page.url().replace(/scenarios.*/, 'projections'));
  assert.equal(await page.locator('textarea[name=formulas]').inputValue(), 'peak(I)\never(H > 40)');
  await page.goto(page.url().replace(/projections.*/, 'scenarios'));
  await set(page, '');
  await table(page).waitFor({ state: 'detached' });
  await page.getByText('Compare by outcomes of your own').waitFor();
});
