// What can be taken away from a view: its picture, and its numbers with all their digits.
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { assertAccessible } from './support/browser.mjs';
import { session } from './support/session.mjs';

const { demo } = session();

async function taken(page, button) {
  const [download] = await Promise.all([page.waitForEvent('download'), button()]);
  return { name: download.suggestedFilename(), bytes: readFileSync(await download.path()) };
}

const rowsOf = bytes =>
  bytes
    .toString('utf8')
    .trim()
    .split(/\r?\n/)
    .map(line => line.split(','));

test('scenarios are taken away as CSV and workbook, with what the table shows, and their picture as SVG and PNG', async () => {
  const page = await demo('scenarios');
  await page.locator('#scenario-chart path').first().waitFor();
  const link = name => page.getByRole('link', { name });

  const outcomes = await taken(page, () => link('the outcomes as CSV').click());
  assert.match(outcomes.name, /scenarios-outcomes\.csv$/i);
  const [head, ...rows] = rowsOf(outcomes.bytes);
  assert.deepEqual(head, ['scenario', 'outcome', 'value', 'change']);
  assert.deepEqual(
    rows.map(row => row[1]),
    ['peak', 'time of peak', 'total', 'peak', 'time of peak', 'total'],
  );
  // The table shows four digits of the same numbers, and the change is that of the row before it.
  const shown = await page.locator('#compared tbody').nth(1).locator('tr').first().locator('td').first().getAttribute('data-number');
  assert.equal(Number(rows[3][2]), Number(shown));
  assert.ok(Math.abs(Number(rows[3][3]) - (Number(rows[3][2]) - Number(rows[0][2]))) < 1e-9, rows[3].join());
  assert.equal(rows[0][3], '', 'the baseline has no change');

  const curves = rowsOf((await taken(page, () => link('the curves as CSV').click())).bytes);
  assert.deepEqual(curves[0], ['day', 'Baseline', 'Ferry pause']);
  assert.equal(curves[1][0], '0');
  assert.equal(curves[1][1], curves[1][2], 'they are one until the measure begins');
  assert.equal(curves.at(-1)[0], '200');

  for (const what of ['the outcomes', 'the curves']) {
    const book = await taken(page, () => link(`${what} as a workbook`).click());
    assert.match(book.name, /\.xlsx$/);
    assert.equal(book.bytes.subarray(0, 2).toString(), 'PK', 'a workbook is a zip');
  }

  // By keys.
  const svg = page.getByRole('button', { name: 'SVG' });
  await svg.focus();
  const picture = await taken(page, () => page.keyboard.press('Enter'));
  assert.match(picture.name, /^scenarios-.*\.svg$/);
  const text = picture.bytes.toString('utf8');
  assert.match(text, /^<svg /);
  assert.ok((text.match(/<path/g) ?? []).length >= 2, 'both curves are in it');
  assert.match(text, /beta × 0\.62/, 'the calendar of measures is in it');
  assert.ok(await svg.evaluate(button => button === document.activeElement), 'focus stays');
  const png = await taken(page, () => page.getByRole('button', { name: 'PNG' }).click());
  assert.equal(png.bytes.subarray(1, 4).toString(), 'PNG');
  await assertAccessible(page, 'scenarios with what can be taken away');
});
