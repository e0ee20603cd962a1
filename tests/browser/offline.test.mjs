// A server that goes away in the middle of an edit: the page says so, holds the edit, and sends it once when the server is back.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { openPage } from './support/browser.mjs';
import { edited, openLine } from './support/build.mjs';
import { fever } from './support/models.mjs';
import { session } from './support/session.mjs';

const { server, fresh, demo, restarted } = session({}, true);
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

test('bands by chance and curves of sliders that a server away leaves out come when it is back', async () => {
  const page = await fresh('Reeds away', lines.replace('beta * A', 'beta * A * (1 + A / 100)'));
  await server.kill();
  await page.getByRole('button', { name: 'chance', exact: true }).click();
  await page.locator('#saved.offline').waitFor();
  assert.match(await page.locator('#notice').textContent(), /does not answer/);
  await server.start(server.port);
  await page.locator('#curves path.band').first().waitFor();
  await page.locator('#saved.offline').waitFor({ state: 'detached' });
  await page.goto(page.url().replace(/build$/, 'explore'));
  await page.locator('.panel path.band').first().waitFor();
  await page.selectOption('.explore-side select[name=address]', 'beta');
  await page.getByRole('button', { name: 'Add', exact: true }).last().click();
  const slider = page.getByRole('slider', { name: 'beta' });
  await slider.waitFor();
  const curve = () => page.locator('.panel path.line').first().getAttribute('d'),
    before = await curve();
  await server.kill();
  await slider.focus();
  for (let k = 0; k < 20; k++) await page.keyboard.press('ArrowRight');
  await page.locator('#saved.offline').waitFor();
  assert.equal(await curve(), before);
  await server.start(server.port);
  await page.waitForFunction(old => document.querySelector('.panel path.line')?.getAttribute('d') !== old, before);
  await page.locator('.panel path.band').first().waitFor();
  await page.locator('.panel[data-kind=Outcomes] table').waitFor();
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

test('undo and redo reach over the whole history, also after the server was killed', async () => {
  const page = await fresh('Fever in Tesk', ...fever, 'beta = 0.4 per day; rho = 0.5');
  for (let k = 0; k < 2; k++)
    await edited(page, async () => {
      await page.locator('.plate').first().focus();
      await page.keyboard.press('ArrowUp');
    });
  const texts = async () => (await page.locator('.line-item .line-label').allTextContents()).join(' ');
  const now = await texts();
  await restarted();
  assert.equal(await texts(), now);
  let steps = 0;
  while (await page.getByRole('button', { name: 'Undo' }).isEnabled()) {
    await edited(page, () => page.keyboard.press('Control+z'));
    steps++;
  }
  // Ten edits, of which the two moves of one plate in a row are one step.
  assert.equal(steps, 9);
  assert.equal(await page.locator('.line-item').count(), 0);
  while (await page.getByRole('button', { name: 'Redo' }).isEnabled()) await edited(page, () => page.keyboard.press('Control+Shift+z'));
  assert.equal(await texts(), now);
});

test('everything is deleted and comes back after the server was started anew', async () => {
  const page = await demo();
  await page.locator('#curves svg').waitFor();
  const parts = () => page.locator('.line-item').count();
  const count = await parts();
  await page.getByRole('button', { name: 'Fit' }).click();
  const box = await page.locator('#diagram-pane').boundingBox();
  await page.mouse.move(box.x + 3, box.y + 3);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width - 3, box.y + box.height - 3, { steps: 8 });
  await page.mouse.up();
  await edited(page, () => page.locator('[data-selection=remove]').click());
  assert.equal(await page.locator('.plate').count(), 0);
  await restarted();
  await edited(page, () => page.getByRole('button', { name: 'Undo' }).click());
  assert.equal(await parts(), count);
});
