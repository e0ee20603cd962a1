// What a newcomer meets first: the shelf, an empty study, help where it stands, and room where it is wanted.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { edited, findings } from './support/build.mjs';
import { session } from './support/session.mjs';

const { server, opened, fresh, demo } = session({}, true);
const sizeOf = (page, selector, side) => page.locator(selector).evaluate((element, side) => element.getBoundingClientRect()[side], side);

test('the shelf says what can be done, shows patterns as pictures, and a search finds them', async () => {
  const page = await opened();
  await page.goto(server.url);
  await page.getByRole('region', { name: 'What can be done here' }).waitFor();
  const patterns = page.locator('.patterns li');
  assert.ok((await patterns.count()) >= 14);
  assert.equal(await page.locator('.patterns svg.thumb .head').evaluateAll(heads => heads.length > 20), true);
  await page.getByLabel('Find a study').fill('hunters');
  await page.keyboard.press('Enter');
  await page.waitForURL(/search=hunters/);
  assert.equal(await patterns.count(), 1);
  await page.getByText('Predator and prey').click();
  await page.getByRole('button', { name: 'Start a study from this' }).waitFor();
});

test('in an empty study a line, a plate, a pattern and a whole model are a click away', async () => {
  const page = await fresh('Reeds');
  for (const name of ['an epidemic', 'a medicine', 'a population'])
    assert.match(await page.getByRole('link', { name }).getAttribute('href'), /^\/patterns\/[\w-]+\?to=/);
  await page.getByRole('button', { name: 'S -> I : 0.4' }).click();
  assert.equal(await page.locator('#quick-line').inputValue(), 'S -> I : 0.4 * S * I / 1000');
  await page.getByRole('button', { name: 'try one' }).click();
  await edited(page, () => page.keyboard.press('Enter'));
  await page.locator('#curves svg .line').nth(2).waitFor();
  assert.deepEqual(await findings(page), []);
});

test('a compartment is put on empty paper by the button that says so', async () => {
  const page = await fresh('Reeds');
  await page.getByRole('button', { name: 'Put a compartment' }).click();
  await page.keyboard.type('Heron');
  await edited(page, () => page.keyboard.press('Enter'));
  await page.locator('.plate[aria-label*="Heron"]').waitFor();
});

test('help for each step opens beside it and closes by key, with the focus where it was', async () => {
  for (const [view, words] of [
    ['build', 'An outbreak in four lines'],
    ['explore', 'fills the clinic'],
    ['data', 'Weekly case counts'],
    ['fit', 'How fast does it spread'],
    ['subjects', 'Two tablets a day'],
    ['scenarios', 'Halve contacts'],
    ['projections', 'What does the pause change'],
  ]) {
    const page = await demo(view);
    const button = page.getByRole('button', { name: 'Help with this step' });
    await button.focus();
    await page.keyboard.press('Enter');
    await page.locator('#step-help', { hasText: words }).waitFor();
    await page.keyboard.press('Escape');
    await page.locator('#step-help').waitFor({ state: 'hidden' });
    assert.equal(await button.evaluate(element => element === document.activeElement), true);
  }
});

test('the ledger and the curves get the room that they are given, by mouse and by keys, also after a reload', async () => {
  const page = await demo();
  const width = await sizeOf(page, '.ledger-side', 'width'),
    edge = await page.locator('[data-split=ledger]').boundingBox();
  await page.mouse.move(edge.x + 2, edge.y + 200);
  await page.mouse.down();
  await page.mouse.move(edge.x - 78, edge.y + 210, { steps: 3 });
  await page.mouse.up();
  assert.equal(await sizeOf(page, '.ledger-side', 'width'), width + 80);
  const height = await sizeOf(page, '.curves-pane', 'height');
  await page.locator('[data-split=curves]').focus();
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('ArrowUp');
  assert.equal(await sizeOf(page, '.curves-pane', 'height'), Math.round(height) + 40);
  assert.equal(await page.locator('[data-split=curves]').getAttribute('aria-valuenow'), String(Math.round(height) + 40));
  await page.reload();
  await page.locator('#curves svg').waitFor();
  assert.equal(await sizeOf(page, '.ledger-side', 'width'), width + 80);
  assert.equal(await sizeOf(page, '.curves-pane', 'height'), Math.round(height) + 40);
  await page.locator('[data-split=ledger]').dblclick();
  assert.equal(await sizeOf(page, '.ledger-side', 'width'), width);
});

test('a name lifts its curve, and a thin line leads to it where it cannot stand beside it', async () => {
  const page = await demo();
  const name = page.locator('#curves .end-name', { hasText: 'R' });
  await name.hover();
  await page.locator('#curves .has-lifted .line.lifted').waitFor();
  assert.match(await page.locator('#curves .line.lifted').getAttribute('class'), /hue-c4/);
  await page.mouse.move(5, 300);
  await page.locator('#curves .line.lifted').waitFor({ state: 'detached' });
  assert.ok((await page.locator('#curves svg > path.stroke-edge').count()) >= 3);
  await page.locator('#curves').hover({ position: { x: 300, y: 60 } });
  assert.match(await page.locator('#curves .hover').textContent(), /\d people/, 'values under the pointer have their unit');
});

test('where the window is narrow the ledger is a drawer that an opened part brings', async () => {
  const page = await demo();
  await page.setViewportSize({ width: 1024, height: 700 });
  await page.locator('.ledger-side').waitFor({ state: 'hidden' });
  const button = page.getByRole('button', { name: 'Ledger', exact: true });
  await button.click();
  await page.locator('#ledger-filter').waitFor();
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await page.locator('.ledger-side').waitFor({ state: 'hidden' });
  assert.equal(await button.evaluate(element => element === document.activeElement), true);
  await page.locator('.plate[aria-label^="S,"]').dblclick();
  await page.locator('.line-item.open .main-field').waitFor();
  await page.locator('.line-item.open .main-field').press('Escape');
  await page.locator('.line-item.open').waitFor({ state: 'detached' });
});
