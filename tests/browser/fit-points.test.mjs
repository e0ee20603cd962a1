// Points of a fit's chart: how far they are from what is expected, and leaving one out by a click.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { assertAccessible } from './support/browser.mjs';
import { session } from './support/session.mjs';

const { demo } = session();
const dotted = page => page.locator('#fit-chart circle.point.opacity-60').count();

test('a point is left out by a click and taken back by another, and residuals lie about zero', async () => {
  const page = await demo('fit');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.waitForFunction(() => document.querySelector('.estimates') && !document.querySelector('.progress'));
  await page.getByRole('checkbox', { name: /^residuals/ }).check();
  await page.locator('#fit-chart', { hasText: 'observed minus expected' }).waitFor();
  const zero = await page.locator('#fit-chart g > line.stroke-1').first().getAttribute('y1'),
    heights = await page.locator('#fit-chart circle.point').evaluateAll(points => points.map(point => Number(point.getAttribute('cy'))));
  assert.ok(heights.some(y => y < Number(zero)) && heights.some(y => y > Number(zero)), 'some lie above, some below');
  await assertAccessible(page, 'residuals of a fit');
  await page.getByRole('checkbox', { name: /^residuals/ }).uncheck();
  assert.equal(await dotted(page), 0);
  await page.locator('[data-point="2"]').click();
  await page.getByText('Out of date').waitFor();
  assert.equal(await dotted(page), 1);
  assert.match(await page.locator('#saved').textContent(), /revision 2/);
  await page.locator('[data-point="2"]').click();
  await page.waitForFunction(() => document.querySelectorAll('#fit-chart circle.point.opacity-60').length === 0);
  await page.keyboard.press('Control+z');
  await page.waitForFunction(() => document.querySelectorAll('#fit-chart circle.point.opacity-60').length === 1);
});

test('a bootstrap gives intervals of its own, and residuals are held against the normal law and those before them', async () => {
  const page = await demo('fit');
  for (const [typed, words] of [
    ['-3', 'whole number from 0 to 2000'],
    ['many', 'whole number from 0 to 2000'],
  ]) {
    await page.fill('input[name=bootstrap]', typed);
    await page.press('input[name=bootstrap]', 'Enter');
    await page.getByRole('alert').getByText(words).waitFor();
    assert.equal(await page.inputValue('input[name=bootstrap]'), typed);
  }
  await page.fill('input[name=bootstrap]', '60');
  await page.press('input[name=bootstrap]', 'Enter');
  await page.waitForFunction(() => document.querySelector('.estimates') && !document.querySelector('.progress'));
  await page.getByText('Standard errors and correlations').click();
  await page.getByText('Bootstrap: 60 sets simulated').waitFor();
  assert.equal(await page.inputValue('input[name=bootstrap]'), '60');
  await page.getByRole('checkbox', { name: /^residuals/ }).check();
  await page.getByRole('group', { name: 'Reported cases: residuals against the normal law' }).waitFor();
  await page.getByRole('group', { name: 'Reported cases: autocorrelation of the residuals' }).waitFor();
  await assertAccessible(page, 'checks of a fit');
});

test('what the data have that the model has not is kept as an input', async () => {
  const page = await demo('fit', 'vorrin-apiary');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.waitForFunction(() => document.querySelector('.estimates') && !document.querySelector('.progress'));
  await page.getByRole('button', { name: /^Keep the part of Frames of bees/ }).click();
  await page.waitForURL(/build$/);
  await page.locator('#ledger button.line', { hasText: 'Frames of bees: missing in the model' }).waitFor();
  await page.keyboard.press('Control+z');
  await page.waitForFunction(() => !document.querySelector('#ledger').textContent.includes('missing in the model'));
});
