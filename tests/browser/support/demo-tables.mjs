// The tables that ship with the demo studies, each clean and as people send it.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { quiet } from './events.mjs';
import { root } from './server.mjs';

export const tables = [
  { study: 'marram-fever', file: 'marram-fever-cases', sentence: 'This is the next version of Reported cases', totals: true },
  { study: 'vorrin-apiary', file: 'vorrin-apiary', sentence: 'This is the next version of Frames of bees', totals: false },
  { study: 'brennalo', file: 'brennalo', sentence: '12 subjects, 48 doses in all.', totals: false },
].flatMap(one => [
  { ...one, file: `${one.file}.csv`, totals: false },
  { ...one, file: `${one.file}-as-sent.csv` },
]);

export const path = file => join(root, 'demo', file);
export const text = file => readFileSync(path(file), 'utf8');

/** Presses a button as a mouse or as keys do. */
export async function press(page, button, keys) {
  await quiet(page);
  if (!keys) return button.click();
  await button.focus();
  await page.keyboard.press('Enter');
}

/** Brings a table and says what has to be said of it; a table that is given as text is pasted. */
export async function bring(page, table, keys, pasted) {
  if (keys || pasted) {
    await page.locator('#text').focus();
    await page.keyboard.press('Control+a');
    await page.keyboard.insertText(pasted ?? text(table.file));
    await press(page, page.locator('#preview'), keys);
  } else await page.setInputFiles('#file', path(table.file));
  await page.locator('#mapping').waitFor();
  if (!table.totals) return;
  await page.getByText('If they are running totals, say so').waitFor();
  if (keys) {
    await page.getByLabel('which are').focus();
    await page.keyboard.press('r');
  } else await page.getByLabel('which are').selectOption('true');
  await page.getByText('what was counted before is not known').waitFor();
}
