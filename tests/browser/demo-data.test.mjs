// The tables that ship, clean and as people send them, brought to their studies by mouse and by keys.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { quiet } from './support/events.mjs';
import { bring, press, tables } from './support/demo-tables.mjs';
import { session } from './support/session.mjs';

const { demo } = session();

/** What the rows of all series on the model hold. */
const held = page => page.locator('.series tbody tr [name=value]').evaluateAll(all => all.map(one => one.value));

for (const table of tables)
  for (const keys of [false, true])
    test(`${table.file} holds what its study has, brought by ${keys ? 'keys' : 'mouse'}`, async () => {
      const page = await demo('data', table.study);
      const before = await held(page);
      assert.ok(before.length >= 7);
      await bring(page, table, keys);
      await page.getByText(table.sentence).first().waitFor();
      await press(page, page.getByRole('button', { name: 'Use these data' }), keys);
      await page.locator('#mapping').waitFor({ state: 'detached' });
      assert.deepEqual(await held(page), before);
      await page.keyboard.press('Control+z');
      await quiet(page);
      assert.deepEqual(await held(page), before);
    });
