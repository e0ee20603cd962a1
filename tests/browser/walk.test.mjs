// The walk of a modeller, step by step: from an empty study to a projection with a measure, and the same numbers on the command line.
import { execFileSync } from 'node:child_process';
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { assertAccessible } from './support/browser.mjs';
import { addLine, edited, findings, run } from './support/build.mjs';
import { fever } from './support/models.mjs';
import { root } from './support/server.mjs';
import { session } from './support/session.mjs';

const { server, opened, fresh, demo } = session();
const whole = [...fever, 'beta = 0.4 per day; rho = 0.5'].join('; ');
let page;

test('the shelf holds the demo study and begins a new one', async () => {
  page = await opened();
  await page.goto(server.url);
  await page.getByText('Marram fever in Quay Ordan').first().waitFor();
  await assertAccessible(page, 'shelf');
  await page.fill('#title', 'Fever in Tesk');
  await page.getByRole('button', { name: 'Create the study' }).click();
  await page.waitForURL(/\/build$/);
});

test('a model is built line by line, and its curves follow', async () => {
  page = await fresh('Fever in Tesk', ...fever);
  assert.match((await findings(page)).join(' '), /beta is not defined/);
  await addLine(page, 'beta = 0.4 per day; rho = 0.5');
  assert.deepEqual(await findings(page), []);
  const { curves, times } = await run(page);
  assert.deepEqual(
    curves.filter(curve => curve.kind === 'compartment').map(curve => curve.symbol),
    ['S', 'E', 'I', 'R'],
  );
  for (let k = 0; k < times.length; k += 25) {
    const total = curves.filter(curve => curve.kind === 'compartment').reduce((sum, curve) => sum + curve.values[k], 0);
    // Curves carry nine digits: four rounded amounts of 18 400 may be off by a few millionths.
    assert.ok(Math.abs(total - 18400) < 1e-4, `the total is ${total}`);
  }
  assert.equal(await page.locator('#curves path.line:not(.before)').count(), 4);
  await assertAccessible(page, 'build');
});

test('a ledger line edits in place, and the run before stays faint behind', async () => {
  page = await fresh('Fever in Tesk', whole);
  await page.getByRole('button', { name: /^β,/ }).click();
  const before = (await run(page)).curves.find(curve => curve.symbol === 'I').values;
  await edited(page, async () => {
    await page.locator('.line-item.open .main-field').fill('0.3 per day');
    await page.keyboard.press('Enter');
  });
  assert.notDeepEqual((await run(page)).curves.find(curve => curve.symbol === 'I').values, before);
  assert.equal(await page.locator('#curves path.before').count(), 4);
  assert.equal(await page.locator('.line-item.open .main-field').inputValue(), '0.3 per day');
});

test('slips are marked in place, with a fix for a near name', async () => {
  page = await fresh('Fever in Tesk', whole);
  await page.getByRole('button', { name: /^S → E,/ }).click();
  await edited(page, () =>
    page
      .locator('.line-item.open .main-field')
      .fill(': bata * S * I / N')
      .then(() => page.keyboard.press('Enter')),
  );
  assert.match((await findings(page)).join(' '), /bata is not defined. Did you mean beta\?/);
  assert.equal(await page.locator('.finding mark').first().textContent(), 'bata');
  await edited(page, () => page.getByRole('button', { name: 'Use beta' }).click());
  assert.deepEqual(await findings(page), []);
  await edited(page, () =>
    page
      .locator('.line-item.open .main-field')
      .fill(': beta * S * (I / N')
      .then(() => page.keyboard.press('Enter')),
  );
  assert.match((await findings(page)).join(' '), /closing parenthesis is missing/);
  await edited(page, () =>
    page
      .locator('.line-item.open .main-field')
      .fill(': beta * S * I / N')
      .then(() => page.keyboard.press('Enter')),
  );
  await addLine(page, 'a = b + 1; b = a + 1');
  assert.match((await findings(page)).join(' '), /a → b → a/);
  await edited(page, () => page.keyboard.press('Control+z'));
  assert.deepEqual(await findings(page), []);
});

test('the quick line says what it would add, and refuses a slip without losing it', async () => {
  page = await fresh('Fever in Tesk', whole);
  await page.fill('#quick-line', 'R -> S after 1/90 per day');
  await page.getByText(/“after” takes a duration/).waitFor();
  await page.getByRole('button', { name: /at 1\/90 per day/ }).click();
  await page.getByText(/adds the flow R → S/).waitFor();
  assert.equal(await page.inputValue('#quick-line'), 'R -> S at 1/90 per day');
});

test('a plate moves by pointer and by key', async () => {
  page = await fresh('Fever in Tesk', whole);
  const plate = page.locator('.plate').first();
  const box = await plate.boundingBox();
  const x = () => plate.getAttribute('data-box');
  const before = await x();
  await edited(page, async () => {
    await page.mouse.move(box.x + 60, box.y + 30);
    await page.mouse.down();
    await page.mouse.move(box.x + 100, box.y + 80, { steps: 4 });
    await page.mouse.up();
  });
  const dragged = await x();
  assert.notEqual(dragged, before);
  await plate.focus();
  await edited(page, () => page.keyboard.press('ArrowUp'));
  assert.notEqual(await x(), dragged);
});

/** A study of the fever with the counts of the demo, brought as a file; the preview may be looked at on the way. */
async function counted(look) {
  page = await fresh('Fever in Tesk', whole);
  await page.getByRole('link', { name: /^Data/ }).click();
  await page.setInputFiles('#file', join(root, 'demo/marram-fever-cases.csv'));
  await page.getByRole('button', { name: 'Use these data' }).waitFor();
  await page.getByLabel('the flow').selectOption({ label: 'E → I ' });
  await page.getByLabel('times the share seen').fill('rho');
  await look?.();
  await page.getByRole('button', { name: 'Use these data' }).click();
  await page.getByText('from marram-fever-cases.csv').waitFor();
}

test('counts are brought as a file, previewed, and tied to the model', async () => {
  await counted(() => assertAccessible(page, 'data'));
  await page.getByRole('link', { name: /^Build/ }).click();
  await page.locator('#observed svg').waitFor();
  assert.equal(await page.locator('#observed .point').count(), 7);
});

async function fit(addresses) {
  await page.getByRole('link', { name: /^Fit/ }).click();
  await page.locator('input[name=tick]').first().waitFor();
  await page.locator('#held').evaluate(held => {
    held.open = true;
  });
  for (const box of await page.locator('input[name=tick]').all()) await box.setChecked(addresses.includes(await box.getAttribute('value')));
  const bounds = { beta: ['0.05', '2'], 'I.start': ['0.1', '200'], rho: ['0.01', '1'] };
  for (const address of addresses) {
    await page.getByLabel(`Lower bound of ${address}`, { exact: true }).fill(bounds[address][0]);
    await page.getByLabel(`Upper bound of ${address}`, { exact: true }).fill(bounds[address][1]);
  }
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.waitForFunction(
    wanted =>
      !document.querySelector('.progress') &&
      !document.querySelector('.stale') &&
      [...document.querySelectorAll('.estimates tbody th .mono')]
        .map(cell => cell.textContent)
        .sort()
        .join() === wanted,
    [...addresses].sort().join(),
  );
  return Object.fromEntries(
    await page
      .locator('.estimates tbody tr')
      .evaluateAll(rows =>
        rows.map(row => [row.querySelector('th .mono').textContent, row.querySelector('.words:last-child').textContent]),
      ),
  );
}

test('a fit says what the data can tell', async () => {
  await counted();
  const three = await fit(['beta', 'I.start', 'rho']);
  assert.match(three['I.start'], /product/);
  assert.match(three['rho'], /product/);
  assert.match(three['beta'], /The data tell beta/);
  const two = await fit(['I.start', 'rho']);
  assert.match(two['I.start'], /product/);
  assert.match(two['rho'], /product/);
  for (const fixed of [
    ['beta', 'I.start'],
    ['beta', 'rho'],
  ]) {
    for (const sentence of Object.values(await fit(fixed))) assert.match(sentence, /^The data tell/);
  }
  await fit(['beta', 'I.start']);
  await assertAccessible(page, 'fit');
});

test('a measure is laid over the baseline', async () => {
  page = await fresh('Fever in Tesk', whole);
  await page.getByRole('link', { name: /^Scenarios/ }).click();
  await page.getByLabel('new scenario').fill('Ferry pause');
  await page.getByRole('button', { name: 'Add scenario' }).click();
  await page.getByLabel('New measure in Ferry pause').fill('Ferry pause');
  const form = page.locator('form.measure').last();
  await form.getByLabel('Value that it changes').selectOption('beta');
  await form.getByLabel('By how much').fill('0.6');
  await form.getByLabel('from day').fill('56');
  await form.getByLabel('until').fill('120');
  await form.getByRole('button', { name: 'Add measure' }).click();
  await page.getByRole('button', { name: 'Change' }).waitFor();
  await page.locator('#scenario-chart rect[data-lane]').waitFor();
  await assertAccessible(page, 'scenarios');
});

test('baseline and scenario are projected with chance, and compared', async () => {
  page = await demo('fit');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.waitForFunction(() => document.querySelector('.estimates') && !document.querySelector('.progress'));
  await page.getByRole('link', { name: /^Projections/ }).click();
  await page.getByText(/The fitted state at day 49/).waitFor();
  await page.getByRole('button', { name: 'Project', exact: true }).click();
  await page.waitForFunction(() => document.querySelector('.projected') && !document.querySelector('.progress'), null, { timeout: 120000 });
  assert.equal(await page.locator('#projection-chart path.band').count(), 4);
  assert.equal(await page.locator('#projection-chart .now').count(), 1);
  assert.match(await page.locator('tr.difference').textContent(), /−/);
  await assertAccessible(page, 'projections');
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'the outcomes as CSV' }).click()]);
  const rows = readFileSync(await download.path(), 'utf8')
    .trim()
    .split('\n');
  assert.equal(rows.length, 1 + 2 * 3);
  assert.match(rows[0], /^scenario,outcome,p5/);
});

test('the command line gives the numbers of the screen', async () => {
  page = await demo();
  await page.locator('#curves svg').waitFor();
  const shown = await run(page);
  const table = execFileSync(join(root, 'cleartide'), ['simulate', 'demo/marram-fever.study.json', '--end', '200', '--every', '1'], {
    cwd: root,
  })
    .toString()
    .trim()
    .split('\n')
    .map(row => row.split(','));
  assert.deepEqual(table[0], ['time', 'S', 'E', 'I', 'R', 'H', 'D']);
  assert.equal(table.length, 202);
  for (const row of table.slice(1)) {
    const k = shown.times.findIndex(time => Math.abs(time - Number(row[0])) < 1e-9);
    for (const [column, symbol] of table[0].entries()) {
      if (column === 0) continue;
      assert.equal(shown.curves.find(curve => curve.symbol === symbol).values[k], Number(row[column]), `${symbol} at ${row[0]}`);
    }
  }
});
