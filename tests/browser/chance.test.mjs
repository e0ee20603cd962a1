// Chance behind the curves of Build: bands and runs in whole units, at each edit.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { assertAccessible } from './support/browser.mjs';
import { addLine } from './support/build.mjs';
import { session } from './support/session.mjs';

const { fresh } = session();
const epidemic = ['S(0) = 95; I(0) = 5; R(0) = 0; beta = 0.4 per day', 'S -> I : beta * S * I / 100', 'I -> R after 5 days'];
const bands = page => page.locator('#curves path.band').count();

test('a switch shows what chance makes of the curves, by mouse and by key, and follows each edit', async () => {
  const page = await fresh('Rushes', ...epidemic);
  assert.equal(await bands(page), 0);
  await page.getByRole('button', { name: 'chance', exact: true }).click();
  await page.locator('#chance-words', { hasText: '200 runs by chance' }).waitFor();
  assert.equal(await bands(page), 6, 'two bands for each of three compartments');
  assert.equal(await page.locator('#curves path.by-chance').count(), 15, 'five runs of each');
  await assertAccessible(page, 'chance');
  const before = await page.locator('#curves path.band').first().getAttribute('d');
  await addLine(page, 'S(0) = 60');
  await page.waitForFunction(
    old => ![null, undefined, old].includes(document.querySelector('#curves path.band')?.getAttribute('d')),
    before,
  );
  await page.reload();
  await page.locator('#curves path.band').first().waitFor();
  await page.getByRole('button', { name: 'chance', exact: true }).focus();
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => document.querySelectorAll('#curves path.band').length === 0);
});

test('what chance cannot do is said in its place', async () => {
  const page = await fresh('Sedge', 'A(0) = 40; A -> at 0.1', 'y = delay(A, 3 days)');
  await page.getByRole('button', { name: 'chance', exact: true }).click();
  await page.locator('#chance-words', { hasText: 'Delays with chance are not offered' }).waitFor();
  assert.equal(await bands(page), 0);
});

test('in Explore the switch lays bands behind curves, of quantities too, which go with sliders', async () => {
  const page = await fresh('Reeds', ...epidemic, 'ill = I / 100');
  await page.goto(page.url().replace(/build$/, 'explore'));
  await page.locator('.panel path.line').first().waitFor();
  await page.selectOption('.explore-side select[name=address]', 'beta');
  await page.getByRole('button', { name: 'Add', exact: true }).last().click();
  const slider = page.getByRole('slider', { name: 'beta' });
  await slider.waitFor();
  const chance = page.getByRole('button', { name: 'chance', exact: true });
  await chance.focus();
  await page.keyboard.press('Enter');
  await page.locator('#fan-words', { hasText: '200 runs by chance' }).waitFor();
  const panel = page.locator('.panel').first(),
    found = () => panel.locator('path.band').count();
  assert.equal(await found(), 6);
  assert.equal(await panel.locator('path.by-chance').count(), 15);
  await assertAccessible(page, 'chance in Explore');
  // The quantity has bands of its own.
  await panel.locator('summary').first().click();
  await panel.locator('[data-pick=curves]').last().waitFor();
  const own = await panel.locator('[data-pick=curves]').evaluateAll(all => all.map(one => one.closest('label').innerText.trim()));
  await panel
    .locator('[data-pick=curves]')
    .nth(own.findIndex(name => name.startsWith('ill')))
    .check();
  await page.waitForFunction(() => document.querySelectorAll('.panel path.band').length === 8);
  await panel.locator('summary').first().click();
  const before = await panel.locator('path.band').first().getAttribute('d');
  await slider.focus();
  for (let k = 0; k < 10; k++) await page.keyboard.press('ArrowLeft');
  await page.waitForFunction(
    old => ![null, undefined, old].includes(document.querySelector('.panel path.band')?.getAttribute('d')),
    before,
  );
  await chance.click();
  await page.waitForFunction(() => document.querySelectorAll('.panel path.band').length === 0);
});

test('noise in a rate is typed in its line and in its field, refused in words, and widens what chance makes', async () => {
  const page = await fresh('Reed noise', 'A(0) = 1000', 'A -> at 0.1 per day');
  await page.getByRole('button', { name: 'chance', exact: true }).click();
  await page.locator('#chance-words', { hasText: '200 runs by chance' }).waitFor();
  await page.locator('#ledger').getByRole('button', { name: /^A → / }).first().click();
  const field = page.getByLabel('noise', { exact: true });
  await field.fill('loud');
  await page.keyboard.press('Enter');
  await page.getByText('How much noise? Type a number above zero').first().waitFor();
  assert.equal(await field.inputValue(), 'loud');
  const before = await page.locator('#curves path.band').first().getAttribute('d');
  await field.fill('1.5');
  await page.keyboard.press('Enter');
  await page.locator('#chance-words', { hasText: 'many units at a time' }).waitFor();
  await page.waitForFunction(
    old => ![null, undefined, old].includes(document.querySelector('#curves path.band')?.getAttribute('d')),
    before,
  );
  // In one go: bands of the first runs are replaced by those of all.
  await page.waitForFunction(() => document.querySelector('#curves path.band.outer')?.getBBox().height > 0);
  await page.locator('#ledger').getByText('noise 1.5').first().waitFor();
  await addLine(page, 'B(0) = 50');
  await page.fill('#quick-line', 'B -> at 0.2, noise none');
  await page.press('#quick-line', 'Enter');
  await page.locator('#notice', { hasText: 'How much noise?' }).waitFor();
  assert.equal(await page.inputValue('#quick-line'), 'B -> at 0.2, noise none');
  await addLine(page, 'B -> at 0.2, noise 0.4');
});
