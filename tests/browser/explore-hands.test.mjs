// What somebody types into Explore, and takes away from it. Each test has a study of its own.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { assertAccessible } from './support/browser.mjs';
import { session } from './support/session.mjs';

const { fresh } = session();
const lines = [
  'S(0) = 990 people; I(0) = 10 people; R(0) = 0 people; beta = 0.4 per day',
  'S -> I : beta * S * I / N; N = S + I + R',
  'I -> R after 5 days',
];

async function explore(...more) {
  const page = await fresh('Reeds', ...lines, ...more);
  await page.goto(page.url().replace(/build.*/, 'explore'));
  await page.locator('.panel svg').first().waitFor();
  return page;
}

async function add(page, kind) {
  // An open menu lies over what is below it.
  await page.keyboard.press('Escape');
  await page.selectOption('.add-panel select', kind);
  const count = await page.locator('.panel').count();
  await page.locator('.add-panel button:not([data-residuals])').click();
  await page.locator('.panel').nth(count).waitFor();
  const panel = page.locator(`.panel[data-kind=${kind}]`).last();
  await panel.locator('.panel-body svg, .panel-body table').first().waitFor();
  await panel.locator('.panel-menu > summary').click();
  await panel.locator('.panel-form').waitFor();
  return panel;
}

const told = async (page, words) =>
  page.locator('.notice:visible, .panel-words, .slider-words').filter({ hasText: words }).first().waitFor();
/** The label of a select holds the words of its choices too. */
const choice = (panel, label) => panel.getByLabel(new RegExp(`^\\s*${label}\\s`)).first();
/** Types into a field of a panel and leaves it, as Tab does. */
async function set(panel, label, value) {
  const field = panel.getByLabel(label, { exact: true });
  await field.fill(value);
  await field.press('Tab');
}
async function csv(page, button) {
  const [file] = await Promise.all([page.waitForEvent('download'), button.focus().then(() => page.keyboard.press('Enter'))]);
  return readFileSync(await file.path(), 'utf8')
    .trim()
    .split('\n')
    .map(row => row.split(','));
}

test('files are taken by keyboard, at even times, with units in the heads and the shortest digits', async () => {
  const page = await explore();
  const table = await add(page, 'Table');
  await set(table, 'a row every', '12 hours');
  await page.waitForFunction(() => document.querySelectorAll('.panel[data-kind=Table] tbody tr').length === 301);
  const rows = await csv(page, table.getByRole('button', { name: 'CSV', exact: true }));
  assert.deepEqual(rows[0], ['time (days)', 'S (people)', 'I (people)', 'R (people)']);
  assert.deepEqual(
    rows.slice(1, 4).map(row => row[0]),
    ['0', '0.5', '1'],
  );
  assert.deepEqual(rows[1].slice(1), ['990', '10', '0']);
  for (const row of rows.slice(1)) assert.ok(Math.abs(Number(row[1]) + Number(row[2]) + Number(row[3]) - 1000) < 1e-7);
});

test('what cannot be is refused with a sentence', async () => {
  const page = await explore();
  const table = await add(page, 'Table');
  await set(table, 'a row every', '-1');
  await told(page, 'above zero');
  const curves = await add(page, 'Curves');
  await set(curves, 'most', '5');
  await page.waitForFunction(() => JSON.parse(document.querySelectorAll('.panel[data-kind=Curves]')[1].dataset.settings).maximum === '5');
  await set(curves, 'least', '10');
  await told(page, 'cannot go from 10 to 5');
  const sweep = await add(page, 'Sweep');
  await choice(sweep, 'in').selectOption('List');
  // The field of that name held how many there are until the choice was kept.
  await page.waitForFunction(() =>
    Object.values(JSON.parse(document.querySelector('.panel[data-kind=Sweep]').dataset.settings)).includes('List'),
  );
  await set(sweep, 'values', '0,2, 0,3');
  await told(page, 'one number or several');
  await set(sweep, 'values', '0,2; 0,3');
  await page.waitForFunction(() => document.querySelector('.panel[data-kind=Sweep] .panel-words').textContent === '');
  const rows = await csv(page, sweep.getByRole('button', { name: 'CSV', exact: true }));
  assert.deepEqual(
    rows.slice(1).map(row => row[0]),
    ['0.2', '0.3'],
  );
  const family = await csv(page, sweep.getByRole('button', { name: 'CSV of curves' }));
  assert.match(family[0].join(), /beta = 0\.2.*beta = 0\.3/);
  await page.selectOption('.explore-side select[name=address]', 'beta');
  await page.locator('.explore-side').getByRole('button', { name: 'Add', exact: true }).click();
  const number = page.getByLabel('beta as a number');
  await number.fill('much');
  await number.press('Tab');
  await told(page, '“much” is no number');
  assert.equal(await number.inputValue(), 'much', 'what was typed stays');
});

test('computed curves stand on a second axis, in a phase plane and in a sweep, and stack on nothing', async () => {
  const page = await explore();
  const curves = await add(page, 'Curves');
  await set(curves, 'computed curves, one a line', 'share = I / (S + I + R)');
  await curves.locator('.end-name', { hasText: 'share' }).waitFor();
  await curves.locator('[data-pick=second][value="=share"]').check();
  await curves.locator('.on-second').waitFor({ state: 'attached' });
  await choice(curves, 'as').selectOption('Stacked');
  await curves.locator('.layer').first().waitFor({ state: 'attached' });
  assert.equal(await curves.locator('.layer').count(), 3);
  assert.equal(await curves.locator('.panel-body path.line').count(), 1);
  const phase = await add(page, 'Phase');
  await set(phase, 'computed curves, one a line', 'share = I / (S + I + R)');
  await phase.locator('option[value="=share"]').first().waitFor({ state: 'attached' });
  await choice(phase, 'against').selectOption('=share');
  await page.waitForFunction(() => JSON.parse(document.querySelector('.panel[data-kind=Phase]').dataset.settings).y === 'share');
  await phase.locator('.panel-body path.line').first().waitFor({ state: 'attached' });
  const sweep = await add(page, 'Sweep');
  await set(sweep, 'computed curves, one a line', 'share = I / (S + I + R)');
  await sweep.locator('option[value="=share"]').first().waitFor({ state: 'attached' });
  await choice(sweep, 'of').selectOption('=share');
  await page.waitForFunction(() => /share/.test(document.querySelector('.panel[data-kind=Sweep] h2').textContent));
  await sweep.locator('.panel-body path.line').first().waitFor({ state: 'attached' });
});

test('kept runs stand in the file', async () => {
  const page = await explore();
  await page.getByRole('button', { name: 'Keep this run' }).click();
  await page.locator('.kept-run').waitFor();
  const rows = await csv(page, page.locator('.panel[data-kind=Curves]').first().getByRole('button', { name: 'CSV', exact: true }));
  assert.deepEqual(rows[0].slice(-3), ['S (people) · Run 1', 'I (people) · Run 1', 'R (people) · Run 1']);
  for (const row of rows.slice(1)) assert.equal(row[1], row[4]);
});

test('numbers in place of curves stand at even times, with units in the heads, and kept runs beside them', async () => {
  const page = await explore();
  await page.getByRole('button', { name: 'Keep this run' }).click();
  await page.locator('.kept-run').waitFor();
  const panel = page.locator('.panel[data-kind=Curves]').first();
  await panel.locator('.panel-menu > summary').click();
  await panel.getByRole('button', { name: 'numbers', exact: true }).click();
  const heads = panel.locator('.panel-body table.numbers th');
  await heads.nth(6).waitFor();
  assert.deepEqual(await heads.allTextContents(), [
    'time (days)',
    ...['', ' · Run 1'].flatMap(run => ['S', 'I', 'R'].map(name => `${name} (people)${run}`)),
  ]);
  const times = (await panel.locator('.panel-body tbody td:first-child').allTextContents()).map(Number);
  assert.ok(times.length > 10);
  times.slice(2).forEach((time, k) => assert.equal(time - times[k + 1], times[1] - times[0]));
});

/** A panel of outcomes by chance, with its form open. */
async function byChance(page) {
  await page.goto(page.url().replace(/build$/, 'explore'));
  await page.getByLabel('a panel of').selectOption('Chance');
  await page.locator('.add-panel').getByRole('button', { name: 'Add' }).click();
  const panel = page.locator('.panel[data-kind=Chance]');
  await panel.getByText('1,000 runs by chance.').waitFor();
  await panel.locator('summary').focus();
  await page.keyboard.press('Enter');
  return panel;
}

test('an outcome by chance is a histogram with the share up to each value, and says how often it is above a limit', async () => {
  const page = await fresh('Reeds', 'A(0) = 10; A -> at 0.02 per day');
  const panel = await byChance(page);
  await panel.getByLabel('outcome', { exact: false }).first().selectOption('Final');
  await panel.getByRole('textbox', { name: 'above' }).fill('x');
  await page.keyboard.press('Tab');
  await page.getByText('“x” is no number').waitFor();
  await panel.getByRole('textbox', { name: 'above' }).fill('0');
  await page.keyboard.press('Tab');
  // Each of ten is left after 150 days with probability e⁻³: some is in 40 % of all runs, and of a thousand within four standard errors.
  const words = await panel.getByText(/Above 0 in/).textContent();
  const share = Number(/Above 0 in ([\d.]+) %/.exec(words)[1]);
  assert.ok(Math.abs(share - 100 * (1 - (1 - Math.exp(-3)) ** 10)) < 6.2, words);
  // Whole numbers that are few have a bar each.
  assert.ok((await panel.locator('.chance-bar').count()) <= 6);
  await panel.getByRole('button', { name: 'numbers' }).click();
  await panel.locator('table.numbers').waitFor();
  await assertAccessible(page, 'an outcome by chance');
});

test('a statement over a whole run is typed, refused in words and kept, and has its share of the runs; a number has its bars', async () => {
  const page = await fresh('Reed statement', 'A(0) = 10; A -> B at 0.02 per day');
  const panel = await byChance(page);
  const field = panel.getByLabel('or of each run');
  await field.fill('A > 4');
  await page.keyboard.press('Tab');
  await panel.getByText('“A” changes along a run. Say what of it: peak(A)').waitFor();
  assert.equal(await field.inputValue(), 'A > 4');
  await field.fill('end(A) > 0 and total(flow(A, B)) >= 9');
  await page.keyboard.press('Tab');
  const words = await panel.getByText(/^True in/).textContent();
  // One of ten is left after 150 days, each with probability e⁻³; of a thousand runs within four standard errors.
  const left = Math.exp(-3),
    share = 10 * left * (1 - left) ** 9;
  assert.ok(Math.abs(Number(/True in ([\d.]+) % of 1,000 runs/.exec(words)[1]) - 100 * share) < 6.2, words);
  assert.equal(await panel.locator('.chance-bar').count(), 0);
  // A title that takes the line for itself leaves the form where it can be seen.
  assert.ok((await panel.locator('.panel-form').boundingBox()).x >= 0);
  await field.fill('first_time(A < 5)');
  await page.keyboard.press('Tab');
  await panel.locator('.chance-bar').first().waitFor();
  await panel.getByText(/Half are below/).waitFor();
  await assertAccessible(page, 'a statement by chance');
});

test('what a panel refuses stays in its field, is corrected there, and a field beside it keeps its own', async () => {
  const page = await explore();
  const panel = await add(page, 'Curves');
  const field = label => choice(panel, label);
  await field('most').fill('600');
  await page.keyboard.press('Tab');
  await panel.locator('input[hx-vals*=maximum][value="600"]').waitFor();
  await field('least').fill('abc');
  await page.keyboard.press('Tab');
  await told(page, '“abc” is no number');
  assert.equal(await field('least').inputValue(), 'abc', 'what was refused stays');
  assert.equal(await field('most').inputValue(), '600');
  await field('least').fill('-20');
  await page.keyboard.press('Enter');
  await page.locator('#notice').waitFor({ state: 'hidden' });
  assert.equal(await field('least').inputValue(), '-20');
  await page.reload();
  await page.locator('.panel svg').first().waitFor();
  await page.locator('.panel-menu > summary').last().click();
  assert.equal(await page.locator('.panel-form input[hx-vals*=minimum]').last().inputValue(), '-20', 'and what was taken is kept');
});
