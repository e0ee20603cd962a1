// The checks of a study in Explore: its step of calculation and its expectations.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { edited, openLine } from './support/build.mjs';
import { session } from './support/session.mjs';

const { fresh } = session();

test('the largest step that is good enough is taken with one click, and each end of bounds says what it found', async () => {
  const other = await fresh('Steps', 'A(0) = 100; k = 0.2 per day; A -> B at k; expect: B <= 99');
  await openLine(other, /^k,/);
  for (const [label, value] of [
    ['from', '0.01'],
    ['to', '0.5'],
  ]) {
    const field = other.locator('.line-item.open').getByLabel(label, { exact: true });
    await field.fill(value);
    await edited(other, () => field.press('Enter'));
  }
  await edited(other, () => other.locator('[name=method]').selectOption('RungeKutta4'));
  await other.fill('[name=step]', '5');
  await edited(other, () => other.locator('[name=step]').press('Enter'));
  await other.goto(other.url().replace(/build.*/, 'explore'));
  await other.locator('.panel svg').first().waitFor();
  await other.selectOption('.add-panel select', 'Checks');
  await other.locator('.add-panel button:not([data-residuals])').click();
  const checks = other.locator('[data-kind=Checks]');
  await checks.getByText('Does not hold in 2 of 3 runs').waitFor();
  await checks.getByText(/k is 0\.5: it is not true/).waitFor();
  await checks.getByText('k is 0.01: holds').waitFor();
  const step = (await checks.getByText(/The largest step found/).textContent()).match(/everywhere: ([\d.]*\d)/)[1];
  await checks.getByRole('button', { name: 'Take it' }).click();
  await checks.getByRole('columnheader', { name: `step ${step}`, exact: true }).waitFor();
  assert.equal(await checks.getByRole('button', { name: 'Take it' }).count(), 0);
});
