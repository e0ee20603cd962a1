// The steps after Build by keyboard alone: paste counts, fit, lay a measure, project.
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { tabTo } from './support/browser.mjs';
import { root } from './support/server.mjs';
import { session } from './support/session.mjs';

const { server, opened, demo } = session();

async function step(page, name) {
  await tabTo(page, `nav a[href$="/${name}"]`);
  await page.keyboard.press('Enter');
  await page.waitForURL(new RegExp(`/${name}$`));
}

test('a study is opened from the shelf', async () => {
  const page = await opened();
  await page.goto(server.url);
  await tabTo(page, '.study-card');
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/build$/);
});

test('counts are pasted, previewed and used', async () => {
  const page = await demo();
  await step(page, 'data');
  await tabTo(page, '#text');
  await page.keyboard.insertText(readFileSync(join(root, 'demo/marram-fever-cases.csv'), 'utf8'));
  await tabTo(page, 'main form button');
  await page.keyboard.press('Enter');
  await page.locator('#mapping').waitFor();
  await tabTo(page, '#mapping button.primary');
  await page.keyboard.press('Enter');
  await page.getByText('from pasted table').waitFor();
});

test('a fit is started', async () => {
  const page = await demo();
  await step(page, 'fit');
  await tabTo(page, 'main form button.primary');
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => document.querySelector('.estimates') && !document.querySelector('.progress'));
  assert.match(await page.locator('.estimates').textContent(), /The data tell beta/);
});

test('a measure is laid over the baseline', async () => {
  const page = await demo();
  await step(page, 'scenarios');
  await tabTo(page, 'input[aria-label^="Type a measure"]');
  await page.keyboard.type('beta x 0.8, days 60 to 90');
  await page.keyboard.press('Enter');
  await page.locator('form.measure input[name=label][value="beta × 0.8"]').waitFor();
});

test('a projection is started and compared', async () => {
  const page = await demo();
  await step(page, 'projections');
  await tabTo(page, 'main form button.primary');
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => document.querySelector('.projected') && !document.querySelector('.progress'), null, { timeout: 60_000 });
  assert.equal(await page.locator('tr.difference').count(), 1);
});
