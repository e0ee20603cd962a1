// A server that goes away in the middle of an edit: the page says so, holds the edit, and sends it once when the server is back.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { openPage } from './support/browser.mjs';
import { edited, openLine } from './support/build.mjs';
import { session } from './support/session.mjs';

const { server, fresh } = session({}, true);
const away = /ERR_CONNECTION_(REFUSED|RESET)|ERR_EMPTY_RESPONSE|ERR_SOCKET|Failed to fetch|^htmx:(afterRequest|sendError),/;
const lines = 'A(0) = 40; A -> B : beta * A; beta = 0.1 per day';

test('an edit made while the server is away is held, and made once when it is back', async () => {
  const page = await fresh('Reeds of Vorrin', lines),
    field = page.locator('.line-item.open .main-field');
  await openLine(page, /^β,/);
  const version = Number(await page.inputValue('#version'));
  await server.kill();
  await field.fill('0.5 per day');
  await field.press('Enter');
  await page.locator('#saved.offline', { hasText: 'one edit waits' }).waitFor();
  assert.match(await page.locator('#notice').textContent(), /held here and sent once it is back/);
  // A second edit is not taken while one is held, and is said to be.
  await page.fill('#quick-line', 'extra = 3');
  await page.press('#quick-line', 'Enter');
  await page.locator('#notice', { hasText: 'one edit is held already' }).waitFor();
  assert.equal(await page.inputValue('#quick-line'), 'extra = 3');
  await server.start(server.port);
  await page.waitForFunction(before => Number(document.getElementById('version').value) > before, version);
  assert.equal(Number(await page.inputValue('#version')), version + 1);
  await page.reload();
  await page.locator('#curves svg').waitFor();
  assert.match(await page.locator('#ledger').getByRole('button', { name: /^β,/ }).textContent(), /0\.5/);
  assert.equal(await page.locator('#saved.offline').count(), 0);
  page.complaints = page.complaints.filter(complaint => !away.test(complaint));
});

test('two tabs that move one plate: the second is told, and nothing is lost', async () => {
  const page = await fresh('Reeds of Vorrin', lines);
  const other = await openPage(page.context().browser());
  await other.goto(page.url());
  await other.locator('#curves svg').waitFor();
  const move = async tab => {
    await tab.locator('.plate').first().focus();
    await tab.keyboard.press('ArrowDown');
  };
  await edited(page, () => move(page));
  const place = await page.locator('.plate').first().getAttribute('data-box');
  await move(other);
  await other.locator('#notice', { hasText: 'changed elsewhere meanwhile' }).waitFor();
  assert.equal(await other.locator('.plate').first().getAttribute('data-box'), place);
  await edited(other, () => move(other));
  assert.notEqual(await other.locator('.plate').first().getAttribute('data-box'), place);
  assert.deepEqual(other.complaints, []);
});
