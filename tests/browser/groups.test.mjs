// Groups by mouse and by keys: an epidemic by age, from one sentence to a projection of one member.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { assertAccessible } from './support/browser.mjs';
import { addLine, edited, findings, openLine } from './support/build.mjs';
import { layoutFaults } from './support/layout.mjs';
import { fever } from './support/models.mjs';
import { session } from './support/session.mjs';

const { server, opened, fresh } = session();

const matrix = '7.4\t4.9\t0.7\n2.1\t6.7\t1.1\n0.6\t2.5\t2.0';

/** The epidemic split by age, by one line. */
async function byAge(title) {
  const page = await fresh(title, ...fever, 'beta = 0.5 per day');
  await addLine(page, 'group age = child, adult, old; split all by age');
  return page;
}

const lane = (page, symbol, member) => page.locator(`.plate:has(.symbol:text-is("${symbol}")) .lane[data-member=${member}]`);

test('an epidemic is split by age, met by a pasted matrix, looked at alone, merged and taken back', async () => {
  const page = await byAge('Fever by age');
  assert.deepEqual(await findings(page), []);
  assert.equal((await lane(page, 'S', 'old').locator('[data-value]').textContent()) !== '', true);
  const charts = page.locator('#curves .chart-svg');
  assert.equal(await charts.count(), 3);

  await openLine(page, 'S → E');
  await page.getByText('Contacts of age by a matrix').click();
  await page.getByLabel('Contacts of each age with each').fill(matrix);
  await edited(page, () => page.getByRole('button', { name: 'Meet by it' }).click());
  assert.match(await page.getByLabel('rate').first().inputValue(), /sum\(j in age, C\[age, j\] \* I\[j\] \/ N\[j\]\)/);
  assert.deepEqual(await findings(page), []);

  // One member is looked at alone by a click on its lane, and all of them again by another.
  const whole = await page.locator('[data-part].line-item:has(.line-symbol:has-text("S")) .line-value').first().textContent();
  await lane(page, 'S', 'old').click();
  assert.equal(await charts.count(), 1);
  const alone = await page.locator('[data-part].line-item:has(.line-symbol:has-text("S")) .line-value').first().textContent();
  assert.notEqual(alone, whole);
  await lane(page, 'S', 'old').click();
  assert.equal(await charts.count(), 3);

  await openLine(page, /^age,/);
  await edited(page, () => page.getByLabel('Merge old into').selectOption('adult'));
  assert.equal(await charts.count(), 2);
  assert.deepEqual(await findings(page), []);
  await page.locator('#curves').focus();
  await edited(page, () => page.keyboard.press('Control+z'));
  assert.equal(await charts.count(), 3);
});

test('a value has a number for each member where it has, typed or pasted', async () => {
  const page = await byAge('Values by age');
  await addLine(page, 'h[age] = 5%');
  await openLine(page, /^h,/);
  const old = page.getByLabel('h of old');
  assert.equal(await old.getAttribute('placeholder'), '5%');
  await old.fill('16%');
  await edited(page, () => old.press('Enter'));
  assert.equal(await page.getByLabel('h of old').inputValue(), '16%');
  await page.getByText('Paste a table').click();
  await page.getByLabel('Numbers for the members of h').fill('1%\n4%');
  await page.getByRole('button', { name: 'Put in' }).click();
  await page.getByText('This table has 2 rows and needs 3').waitFor();
  assert.equal(await page.getByLabel('Numbers for the members of h').inputValue(), '1%\n4%');
  await page.getByLabel('Numbers for the members of h').fill('1%\n4%\n16%');
  await edited(page, () => page.getByRole('button', { name: 'Put in' }).click());
  assert.equal(await page.getByLabel('h of adult').inputValue(), '4%');
});

test('what cannot be a group is refused in a sentence, and nothing typed is lost', async () => {
  const page = await fresh('No groups');
  for (const [line, said] of [
    ['group age = child', /at least two/],
    ['group age = child, child', /stands twice/],
    ['split all by age', /no group age/],
    ['C[age, age] = table 1 2, 3 4', /name the groups/],
    ['S[child](0) = 3', /no member of a group/],
  ]) {
    await page.fill('#quick-line', line);
    await page.press('#quick-line', 'Enter');
    await page.locator('#notice', { hasText: said }).waitFor();
    assert.equal(await page.inputValue('#quick-line'), line);
  }
});

test('the study by age fits each member, projects one and vaccinates in order', async () => {
  const page = await opened();
  await page.goto(server.url);
  await page.getByRole('link', { name: 'Marram fever by age' }).first().click();
  await page.locator('#member-view').getByRole('button', { name: 'lanes' }).waitFor();
  await assertAccessible(page, 'Build by age');
  for (const [width, height] of [
    [1280, 800],
    [1024, 700],
  ]) {
    await page.setViewportSize({ width, height });
    assert.deepEqual(await layoutFaults(page), []);
  }
  const study = page.url().replace(/\/build.*/, '');
  await page.goto(`${study}/fit`);
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page
    .getByText(/starts ended at the same optimum|optima/)
    .first()
    .waitFor();
  // The data were made with a chance of 0.04 per contact.
  const found = page.locator('tr', { hasText: 'Chance per contact' }).first();
  assert.match(await found.textContent(), /0\.0(39|40|41)/);
  await page.goto(`${study}/scenarios`);
  const totals = page.getByRole('row', { name: /Children first/ });
  await totals.first().waitFor();
  await page.goto(`${study}/projections`);
  await page.getByRole('button', { name: 'Project' }).click();
  await page
    .getByRole('row', { name: /Children first/ })
    .first()
    .waitFor();
});

test('what is selected is split by a sentence that is ready to be changed', async () => {
  const page = await fresh('Selected', 'A -> B after 5; B -> C after 8; A(0) = 90');
  await page.locator('.plate[aria-label^="A,"]').click({ modifiers: ['Shift'] });
  await page.locator('.plate[aria-label^="B,"]').click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: 'Split', exact: true }).click();
  assert.equal(await page.inputValue('#quick-line'), 'group age = child, adult, old; split A, B by age');
  await page.keyboard.type('place = east, west');
  await page.fill('#quick-line', (await page.inputValue('#quick-line')).replace('by age', 'by place'));
  await edited(page, () => page.keyboard.press('Enter'));
  assert.equal(await page.locator('.plate .lane').count(), 4);
  assert.deepEqual(await findings(page), []);
});

test('groups are unfolded into plates, and undo brings them back', async () => {
  const page = await byAge('Unfolded');
  await openLine(page, /^age,/);
  await edited(page, () => page.getByRole('button', { name: 'Unfold into plates' }).click());
  assert.equal(await page.locator('.plate').count(), 12);
  await page.locator('#curves').focus();
  await edited(page, () => page.keyboard.press('Control+z'));
  assert.equal(await page.locator('.plate').count(), 4);
});

test('members are chosen and a group is changed by keys alone', async () => {
  const page = await byAge('By keys');
  await page.locator('#member-view').getByRole('button', { name: 'adult' }).focus();
  await page.keyboard.press('Enter');
  assert.equal(await page.locator('#curves .chart-svg').count(), 1);
  assert.equal(await page.evaluate(() => document.activeElement.textContent), 'adult');
  await page.getByRole('button', { name: /^age,/ }).focus();
  await page.keyboard.press('Enter');
  const symbol = page.getByLabel('Symbol of member 3');
  await symbol.focus();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('elder');
  await edited(page, () => page.keyboard.press('Tab'));
  await page.locator('#member-view').getByRole('button', { name: 'elder' }).waitFor();
  assert.notEqual(await page.evaluate(() => document.activeElement.tagName), 'BODY');
});
