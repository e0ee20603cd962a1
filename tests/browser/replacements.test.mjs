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
  // Undo takes the measure back and leaves the curve that is looked at.
  await page.keyboard.press('Control+z');
  await page.locator('form.measure [name=text]').waitFor({ state: 'detached' });
  assert.equal(await page.locator('select[name=of]').inputValue(), input);
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

test('what is done at times is moved on the calendar by mouse and by keys, and what is typed follows', async () => {
  const page = await fresh('Moved gulls', ...gulls);
  await page.goto(page.url().replace(/build$/, 'scenarios'));
  await typed(page, 'at 30: A -> : 4 over 20');
  const bar = page.locator('#scenario-chart rect[data-lane]').first(),
    text = () => page.locator('form.measure [name=text]').first().inputValue(),
    line = () => page.locator('#scenario-chart path.hue-s1').first().getAttribute('d');
  const [before, box] = [await line(), await bar.boundingBox()];
  // The curve follows while the bar is held, and what is typed when it is let go.
  await page.mouse.move(box.x + box.width / 2, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 60, box.y + 10, { steps: 4 });
  await page.waitForFunction(was => document.querySelector('#scenario-chart path.hue-s1').getAttribute('d') !== was, before);
  await page.mouse.up();
  await page.waitForFunction(() => document.querySelector('form.measure [name=text]').value !== 'at 30: A -> : 4 over 20');
  const [, from, length] = /^at ([\d.]+): A -> : 4 over ([\d.]+)$/.exec(await text());
  assert.ok(Number(from) > 35 && Number(length) === 20, await text());
  await bar.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.waitForFunction(() => !document.querySelector('form.measure [name=text]').value.endsWith('over 20'));
  assert.ok(Number(/over ([\d.]+)$/.exec(await text())[1]) > 20);
  await assertAccessible(page, 'a rule on the calendar');
});
