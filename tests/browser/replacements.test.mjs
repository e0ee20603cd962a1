// Scenarios in which an input goes on in another way, or the start is another one: typed by keys, taken by a click, seen side by side.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { assertAccessible } from './support/browser.mjs';
import { session } from './support/session.mjs';

const { fresh } = session();

const gulls = ['gulls = points 0 0, 40 20, 80 0, 120 20 then hold', '-> A : gulls(t)', 'A -> : 0.1 * A', 'A(0) = 10'];

/** A study of gulls that come and go, at its scenarios. */
async function atScenarios() {
  const page = await fresh('Gulls', ...gulls);
  await page.getByRole('link', { name: /^Scenarios/ }).click();
  await page.locator('button.sample').first().waitFor();
  return page;
}

const typed = async (page, text) => {
  const field = page.getByLabel(/^Type a measure/).first();
  await field.fill(text);
  await field.press('Enter');
  await page.locator(`form.measure [name=text][value="${text}"]`).waitFor();
};

test('an input goes on in another way, side by side, and what is wrong is said where it is typed', async () => {
  const page = await atScenarios();
  await page.getByLabel('Type a measure').first().fill('from 60: guls(t) = hold');
  await page.keyboard.press('Enter');
  await page.getByText('There is no input or response curve “guls”').waitFor();
  assert.equal(await page.getByLabel('Type a measure').first().inputValue(), 'from 60: guls(t) = hold');
  await typed(page, 'from 60: gulls(t) = hold');
  const input = await page.locator('select[name=of] option', { hasText: 'gulls(t)' }).getAttribute('value');
  await page.locator('select[name=of]').selectOption(input);
  await page.locator('#compared', { hasText: 'against baseline' }).waitFor();
  // Ten gulls from day 60 on; the baseline has 20 at day 40 and nothing at day 80.
  assert.match(await page.locator('#compared tbody').nth(1).textContent(), /10/);
  assert.equal(await page.locator('#scenario-chart path.hue-s1').count(), 1);
  await assertAccessible(page, 'scenarios with an input');
});

test('another start is taken by a click and changes the end of nothing but its scenario', async () => {
  const page = await atScenarios();
  await page.locator('button.sample', { hasText: 'A(0) = 5' }).click();
  await page.locator('form.measure [name=text][value="A(0) = 5"]').waitFor();
  const start = which => page.evaluate(k => JSON.parse(document.querySelector('#scenario-data').textContent).curves[k].values[0], which);
  assert.equal(await start(0), 10);
  assert.equal(await start(1), 5);
  await page.getByRole('link', { name: /^Projections/ }).click();
  await page.getByRole('button', { name: 'Project', exact: true }).click();
  await page.locator('.projected').waitFor({ timeout: 60_000 });
  assert.match(await page.locator('.projected').textContent(), /against baseline/);
});
