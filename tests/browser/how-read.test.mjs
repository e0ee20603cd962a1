// How a file is read: its characters, the cells that are the table, its headings and what is missing, by mouse and by keys.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { assertAccessible } from './support/browser.mjs';
import { quiet } from './support/events.mjs';
import { session } from './support/session.mjs';

const { fresh } = session();
const sir = ['S(0) = 990; I(0) = 10; R(0) = 0; beta = 0.4 per day', 'S -> I : beta * S * I / 1000', 'I -> R after 5 days'];
const two = 'Tesk,,,Brin,,\nday,cases,,day,seen,note\n7,5,,7,50,calm\n14,9,,14,-99,wind\n21,4,,21,40,calm\nsum,18,,sum,180,';
const headings = page => page.locator('#mapping thead tr').first().locator('th').allTextContents();

async function data(title) {
  const page = await fresh(title, ...sir);
  await page.goto(page.url().replace(/build$/, 'data'));
  return page;
}

test('one of two tables beside each other is chosen by its cells, its gaps named, by keys', async () => {
  const page = await data('Reeds');
  await page.locator('#text').fill(two);
  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  const cells = page.getByLabel('the table is in cells');
  await cells.focus();
  await page.keyboard.type('D2-F5');
  await page.keyboard.press('Tab');
  await page.getByText('“D2-F5” is no block of cells').waitFor();
  // What is refused stays, and so does the way back.
  assert.equal(await cells.inputValue(), 'D2-F5');
  await cells.focus();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('D2:F5');
  await page.keyboard.press('Tab');
  await page.getByText('3 rows, from day 7 to 21').waitFor();
  assert.deepEqual(await headings(page), ['day', 'seen', 'note']);
  const missing = page.getByLabel('missing is also');
  await missing.focus();
  await page.keyboard.type('-99');
  await page.keyboard.press('Tab');
  await page.getByText('row 4: the count is missing').waitFor();
  assert.equal(await page.getByLabel('Row 4 of the file').inputValue(), '14,9,,14,-99,wind');
  await assertAccessible(page, 'how a table is read');
  await page.getByRole('button', { name: 'Use these data' }).focus();
  await page.keyboard.press('Enter');
  await page.getByText('Take Seen off the model').waitFor();
});

test('a mark that parts nothing can be changed back', async () => {
  const page = await data('Reeds');
  await page.locator('#text').fill('day,cases\n7,5\n14,9');
  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  await page.getByLabel('which marks').selectOption('Start');
  await quiet(page);
  await page.getByLabel('cells are separated by').selectOption('bars');
  await page.getByText('This does not look like a table').waitFor();
  await page.getByLabel('cells are separated by').selectOption('commas');
  await page.getByText('2 rows, from day 7 to 21').waitFor();
  assert.equal(await page.getByLabel('which marks').inputValue(), 'Start');
});

test('the row of headings is chosen, also that there is none', async () => {
  const page = await data('Reeds');
  await page.locator('#text').fill('when,how many\nday,cases\n7,5\n14,9');
  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  await page.locator('#mapping').waitFor();
  await page.getByLabel('headings are in').selectOption('2');
  await page.getByText('Above the heading stands: when how many').waitFor();
  assert.deepEqual(await headings(page), ['day', 'cases']);
  await page.getByLabel('headings are in').selectOption('0');
  await page.getByRole('columnheader', { name: 'column 1' }).waitFor();
});

test('characters are read in another encoding, and what was said of the last table with its headings holds for the next', async () => {
  const page = await data('Reeds');
  // “day;případy” as central European spreadsheets write it.
  const file = rows => ({ name: 'cases.csv', mimeType: 'text/csv', buffer: Buffer.from(`day;p\xF8\xEDpady\n${rows}`, 'latin1') });
  await page.setInputFiles('#file', file('7;5\n14;9\n'));
  await page.getByRole('columnheader', { name: 'pøípady' }).waitFor();
  await page.getByLabel('characters are').selectOption('windows-1250');
  await page.getByRole('columnheader', { name: 'případy' }).waitFor();
  await page.getByLabel('which marks').selectOption('Start');
  await page.getByText('2 rows, from day 7 to 21').waitFor();
  await quiet(page);
  await page.getByRole('button', { name: 'Use these data' }).click();
  await page.getByText('Take Případy off the model').waitFor();
  await page.locator('#text').fill('day;případy\n7;5\n14;9\n21;12\n');
  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  await page.getByText('Read as the last table with these headings was').waitFor();
  await page.getByText('3 rows, from day 7 to 28').waitFor();
  await page.getByText('next version of Případy: 1 row added').waitFor();
  await page.getByRole('button', { name: 'Read it as it looks' }).focus();
  await page.keyboard.press('Enter');
  await page.getByText('3 rows, from day 0 to 21').waitFor();
  assert.equal(await page.getByLabel('which marks').inputValue(), 'End');
});
