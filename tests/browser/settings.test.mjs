// The units and the unit of time that new studies begin with. In a file of its own: they hold for everybody on the server.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { assertAccessible } from './support/browser.mjs';
import { run } from './support/build.mjs';
import { session } from './support/session.mjs';

const { server, opened, fresh } = session({}, true);

test('settings give new studies their units', async () => {
  let page = await opened();
  await page.goto(`${server.url}/settings`);
  await assertAccessible(page, 'settings');
  await page.fill('#units', 'gull\nclutch = 3 grumble');
  await page.getByRole('button', { name: 'Keep' }).click();
  await page.getByText(/no unit “grumble”/).waitFor();
  await page.fill('#units', 'gull\nclutch = 3 gulls');
  await page.locator('select[name=timeUnit]').selectOption('week');
  await page.getByRole('button', { name: 'Keep' }).click();
  await page.getByText('Kept.').waitFor();
  page = await fresh('Clutches', 'A -> B at 0.1 per week; A(0) = 2 clutches');
  assert.equal((await run(page)).unit, 'week');
  assert.equal((await run(page)).curves.find(curve => curve.symbol === 'A').values[0], 6);
});
