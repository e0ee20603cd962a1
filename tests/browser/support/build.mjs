// What a modeller does on the Build page.

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

export const run = page => page.evaluate(() => JSON.parse(document.getElementById('run-data').textContent));

export const findings = page => page.locator('.finding p').allTextContents();
