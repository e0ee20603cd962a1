// The tables that ship, clean and as people send them, brought to their studies by mouse and by keys.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { quiet } from './support/events.mjs';
import { root } from './support/server.mjs';
import { session } from './support/session.mjs';

const { demo } = session();
const read = file => readFileSync(join(root, 'demo', file), 'utf8');

/** What the rows of all series on the model hold. */
const held = page => page.locator('.series tbody tr [name=value]').evaluateAll(all => all.map(one => one.value));

for (const [study, file, sentence, totals] of [
  ['marram-fever', 'marram-fever-cases', 'This is the next version of Reported cases', true],
  ['vorrin-apiary', 'vorrin-apiary', 'This is the next version of Frames of bees', false],
  ['brennalo', 'brennalo', '12 subjects, 48 doses in all.', false],
])
  for (const form of [`${file}.csv`, `${file}-as-sent.csv`])
    for (const keys of [false, true])
      test(`${form} holds what its study has, brought by ${keys ? 'keys' : 'mouse'}`, async () => {
        const page = await demo('data', study);
        const before = await held(page);
        assert.ok(before.length >= 7);
        if (keys) {
          await page.locator('#text').focus();
          await page.keyboard.insertText(read(form));
          await page.keyboard.press('Tab');
          await page.keyboard.press('Enter');
        } else await page.setInputFiles('#file', join(root, 'demo', form));
        await page.locator('#mapping').waitFor();
        if (totals && form.includes('as-sent')) {
          await page.getByText('If they are running totals, say so').waitFor();
          if (keys) {
            await page.getByLabel('which are').focus();
            await page.keyboard.press('r');
          } else await page.getByLabel('which are').selectOption('true');
          await page.getByText('what was counted before is not known').waitFor();
        }
        await page.getByText(sentence).first().waitFor();
        await quiet(page);
        const use = page.getByRole('button', { name: 'Use these data' });
        if (keys) {
          await use.focus();
          await page.keyboard.press('Enter');
        } else await use.click();
        await page.locator('#mapping').waitFor({ state: 'detached' });
        assert.deepEqual(await held(page), before);
        await page.keyboard.press('Control+z');
        await quiet(page);
        assert.deepEqual(await held(page), before);
      });
