// One walk over a table that came with faults: three rows are mended, a point is left out, the next version comes, all is undone.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { quiet } from './support/events.mjs';
import { bring, press, tables, text } from './support/demo-tables.mjs';
import { session } from './support/session.mjs';

const { demo } = session();
const table = tables.find(one => one.file === 'marram-fever-cases.csv');

for (const keys of [false, true])
  test(`three rows are mended, one left out, the next version keeps it out, all is undone, by ${keys ? 'keys' : 'mouse'}`, async () => {
    const page = await demo('data', table.study);
    const series = page.locator('.series');
    const held = () => series.locator('tbody tr [name=value]').evaluateAll(all => all.map(one => one.value));
    const undone = async () => {
      await page.locator('h2').first().focus();
      await page.keyboard.press('Control+z');
      await quiet(page);
    };
    const before = await held();
    // A table with three faults, of which each can be read in the file.
    const lines = text(table.file).trimEnd().split('\n');
    const wrong = lines
      .with(2, lines[2].replace(/,\d+/, ',?'))
      .with(4, lines[4].replace(',', ',-'))
      .with(6, lines[6].replace(/^\d+/, 'late'));
    await bring(page, table, keys, wrong.join('\n'));
    for (const row of [3, 5, 7]) {
      const line = page.getByLabel(`Row ${row} of the file`);
      await line.waitFor();
      if (keys) {
        await line.focus();
        await page.keyboard.press('Control+a');
        await page.keyboard.type(lines[row - 1]);
      } else await line.fill(lines[row - 1]);
      await press(page, page.getByRole('button', { name: 'Read the mended rows' }), keys);
      await line.waitFor({ state: 'detached' });
    }
    await press(page, page.getByRole('button', { name: 'Use these data' }), keys);
    await page.locator('#mapping').waitFor({ state: 'detached' });
    assert.deepEqual(await held(), before);
    // One point is left out.
    const tick = series.getByLabel('Use the row at 42 in fits');
    if (keys) {
      await tick.focus();
      await page.keyboard.press('Space');
    } else await tick.uncheck();
    await press(page, series.getByRole('button', { name: 'Keep values and ticks' }), keys);
    await series.getByText(`${before.length} rows, 1 left out`).waitFor();
    // The next version: one row more, and one that was counted anew.
    const last = lines.at(-1).split(',').map(Number);
    const next = [...lines.with(3, lines[3].replace(/,\d+/, ',77')), `${last[0] + 7},123`];
    await bring(page, table, keys, next.join('\n'));
    await page.getByText('This is the next version of Reported cases: 1 row added, 1 row changed.').waitFor();
    await press(page, page.getByRole('button', { name: 'Use these data' }), keys);
    await series.getByText(`${before.length + 1} rows, 1 left out`).waitFor();
    assert.deepEqual(await held(), [...before.with(2, '77'), '123']);
    // Back, step by step: the version, the point, the table.
    await undone();
    await series.getByText(`${before.length} rows, 1 left out`).waitFor();
    assert.deepEqual(await held(), before);
    await undone();
    await series.getByText('left out').waitFor({ state: 'detached' });
    assert.deepEqual(await held(), before);
  });

test('residuals take the place of the data in Build and in Explore, by keys, and stay while one goes from step to step', async () => {
  const page = await demo('build', 'marram-fever');
  const axis = () => page.locator('#observed .axis-title, #observed text').allTextContents();
  await page.locator('#observed svg').waitFor();
  assert.ok(!(await axis()).join(' ').includes('observed minus expected'));
  const button = page.getByRole('button', { name: 'residuals' });
  await button.focus();
  await page.keyboard.press('Enter');
  assert.equal(await button.getAttribute('aria-pressed'), 'true');
  assert.match((await axis()).join(' '), /Reported cases: observed minus expected/);
  // All seven points lie about a line at zero, at what was seen less what the model expects.
  assert.equal(await page.locator('#observed .point').count(), 7);
  await page.goto(page.url().replace(/build$/, 'explore'));
  await page.getByText('Reported cases: observed minus expected').first().waitFor();
  await page.getByRole('button', { name: 'residuals' }).click();
  await page.getByText('Reported cases: observed minus expected').first().waitFor({ state: 'detached' });
});
