// What a modeller does on the Build page.
import { quiet } from './events.mjs';

/** Types into the quick line, waits for the preview to agree, and presses Enter. */
export async function addLine(page, text) {
  const version = await page.inputValue('#version');
  await page.fill('#quick-line', text);
  await page.press('#quick-line', 'Enter');
  await page.waitForFunction(before => document.getElementById('version').value !== before, version);
}

/** Runs an action and waits until the server has answered it with a new version of the study. */
export async function edited(page, action) {
  const version = await page.inputValue('#version');
  await action();
  await page.waitForFunction(before => document.getElementById('version').value !== before, version);
}

/** The run on the page, its block of numbers taken apart: the times first, then every curve, each beginning at a multiple of eight bytes. */
export async function run(page) {
  const sent = JSON.parse(await page.locator('#run-data').textContent());
  const bytes = Buffer.from(sent.numbers, 'base64');
  let at = 0;
  const take = single => {
    const values = Array.from({ length: sent.count }, (_, n) => (single ? bytes.readFloatLE(at + 4 * n) : bytes.readDoubleLE(at + 8 * n)));
    at += 8 * (single ? Math.ceil(sent.count / 2) : sent.count);
    return values;
  };
  return { ...sent, times: take(false), curves: sent.curves.map(curve => ({ ...curve, values: take(curve.single) })) };
}

/** What is wrong or doubtful; what a run only notes is left out. */
export const findings = page => page.locator('.finding:not(.note) p').allTextContents();

/** Begins an empty study. */
export async function begin(page, server, title) {
  await page.goto(server.url);
  await page.fill('#title', title);
  await page.getByRole('button', { name: 'Create the study' }).click();
  await page.waitForURL(/\/build$/);
}

/** Opens a line of the ledger by the name of its button, and waits for its form. */
export async function openLine(page, name) {
  const line = page.locator('#ledger').getByRole('button', { name }).first();
  const part = await line.evaluate(button => button.closest('.line-item').dataset.part);
  const form = page.locator(`#form-${part}`);
  // What is drawn anew between the press and its release hears no click: like a person, one clicks again.
  for (let tries = 1; ; tries++) {
    await quiet(page);
    await line.click();
    try {
      return await form.waitFor({ timeout: 15_000 });
    } catch (late) {
      if (tries === 3) throw late;
    }
  }
}
