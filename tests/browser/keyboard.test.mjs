// Everything on Build by keyboard alone, and what two tabs do to each other.
import assert from 'node:assert/strict';
import { truncateSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { openPage, tabTo } from './support/browser.mjs';
import { edited, run } from './support/build.mjs';
import { session } from './support/session.mjs';

const { server, opened, fresh } = session({}, true);
const fever = 'S(0) = 990; E(0) = 0; I(0) = 10; R(0) = 0; S -> E : 0.4 * S * I / 1000; E -> I after 3 days; I -> R after 5 days';

test('a study is begun from a pattern', async () => {
  const page = await opened();
  await page.goto(server.url);
  await tabTo(page, 'a[href="/patterns/epidemic-with-latency"]');
  await page.keyboard.press('Enter');
  await page.waitForURL(/patterns/);
  await tabTo(page, '#title');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Fever in Ammelow');
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/build$/);
  await page.locator('#curves svg').waitFor();
  assert.deepEqual(
    (await run(page)).curves.filter(curve => curve.kind === 'compartment').map(curve => curve.symbol),
    ['S', 'E', 'I', 'R'],
  );
});

test('a part is added, opened, edited, closed and removed', async () => {
  const page = await fresh('Fever in Ammelow', fever);
  await tabTo(page, '#quick-line');
  await edited(page, async () => {
    await page.keyboard.type('R -> S after 90 days');
    await page.keyboard.press('Enter');
  });
  assert.equal(await page.evaluate(() => document.activeElement.id), 'quick-line');
  await tabTo(page, '.line[aria-label^="R → S"]');
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => document.activeElement.value === '90 days');
  await edited(page, async () => {
    await page.keyboard.press('Control+a');
    await page.keyboard.type('after 60 days');
    await page.keyboard.press('Enter');
  });
  assert.equal(await page.evaluate(() => document.activeElement.value), '60 days');
  await page.keyboard.press('Escape');
  assert.match(await page.evaluate(() => document.activeElement.getAttribute('aria-label')), /^R → S/);
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => document.activeElement.matches('.main-field'));
  await tabTo(page, '.line-item.open .line-actions button:last-child');
  const before = await page.locator('.line-item').count();
  await edited(page, () => page.keyboard.press('Enter'));
  assert.equal(await page.locator('.line-item').count(), before - 1);
  await edited(page, () => page.keyboard.press('Control+z'));
  assert.equal(await page.locator('.line-item').count(), before);
});

test('plates move and the time cursor steps', async () => {
  const page = await fresh('Fever in Ammelow', fever);
  await tabTo(page, '.plate');
  const place = () => page.evaluate(() => document.activeElement.getAttribute('data-box'));
  const at = await place();
  await edited(page, () => page.keyboard.press('ArrowRight'));
  assert.notEqual(await place(), at);
  await tabTo(page, '#curves');
  const time = () => page.locator('#cursor-time').textContent();
  const before = await time();
  await page.keyboard.press('ArrowRight');
  assert.notEqual(await time(), before);
});

test('a curve is hidden and shown by its name', async () => {
  const page = await fresh('Fever in Ammelow', fever);
  await tabTo(page, '#curves [role=button]');
  await page.keyboard.press('Enter');
  assert.equal(await page.locator('#curves path.line:not(.before)').count(), 3);
  await tabTo(page, '#hidden-curves button');
  await page.keyboard.press('Enter');
  assert.equal(await page.locator('#curves path.line:not(.before)').count(), 4);
});

test('an edit in a stale tab is refused with what changed, and shows the study as it is', async () => {
  const page = await fresh('Fever in Ammelow', fever);
  const other = await openPage(page.context().browser());
  await other.goto(page.url());
  await other.locator('#curves svg').waitFor();
  await page.fill('#quick-line', 'alpha = 1');
  await edited(page, () => page.press('#quick-line', 'Enter'));
  await other.fill('#quick-line', 'omega = 2');
  await edited(other, () => other.press('#quick-line', 'Enter'));
  assert.match(await other.locator('#notice').textContent(), /changed elsewhere meanwhile \(adds the parameter alpha\)/);
  assert.equal(await other.inputValue('#quick-line'), 'omega = 2');
  assert.equal(await other.locator('.line[aria-label^="α"]').count(), 1);
  await edited(other, () => other.press('#quick-line', 'Enter'));
  assert.equal(await other.locator('.line[aria-label^="ω"]').count(), 1);
  assert.equal(await other.locator('#notice').isVisible(), false);
  assert.deepEqual(other.complaints, []);
});

test('title and question are kept from the header', async () => {
  const page = await fresh('Fever in Ammelow');
  await page.getByLabel('Title and question').click();
  await page.locator('.question textarea[name=question]').fill('How long does it last in Ammelow?');
  await page.locator('.question input[name=title]').fill('Fever in Ammelow, second look');
  await page.getByRole('button', { name: 'Keep' }).click();
  await page.getByRole('heading', { name: 'Fever in Ammelow, second look' }).waitFor();
  assert.equal(await page.locator('.question textarea[name=question]').inputValue(), 'How long does it last in Ammelow?');
});

test('a file that is too large is refused before it is sent', async () => {
  const page = await fresh('Fever in Ammelow');
  await page.goto(page.url().replace('/build', '/data'));
  const huge = join(server.folder, 'huge.csv');
  writeFileSync(huge, '');
  truncateSync(huge, 50_000_000);
  await page.setInputFiles('#file', huge);
  await page.getByText('huge.csv has 50.0 MB; at most 5 MB are read.').waitFor();
});
