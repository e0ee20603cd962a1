// Many bodies of one model, as a modeller of medicines meets them: doses, tables of volunteers, what differs, exposures, two plans.
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { assertAccessible } from './support/browser.mjs';
import { addLine, edited } from './support/build.mjs';
import { session } from './support/session.mjs';
import { root } from './support/server.mjs';

const { demo, fresh } = session();
const title = 'brennalo';
const ready = page => page.waitForFunction(() => document.querySelector('#subject-chart svg') && document.querySelector('.exposure'));
const inside = async page =>
  (await page.locator('.exposure tr', { hasText: 'inside the target' }).locator('td').first().textContent()).trim();

test('doses are typed as they are said, and the ledger says what they come to', async () => {
  const page = await fresh('Brennalo by hand');
  await addLine(page, 'G -> C at 0.6 per day; C -> at 0.1 per day; G(0) = 0 mg; C(0) = 0 mg');
  await addLine(page, '200 mg into G every 12 hours for 7 days, first dose doubled');
  await page.locator('#ledger .worded', { hasText: '14 doses, 3\u2009000 mg in all' }).waitFor();
  await page.fill('#quick-line', '200 mg into nowhere every 12 hours');
  await page.press('#quick-line', 'Enter');
  await page.locator('#ledger .finding', { hasText: 'nowhere' }).first().waitFor();
  await addLine(page, '50 mg into C at 3 days over 6 hours');
  await page.locator('#ledger .worded', { hasText: '1 dose, 50 mg in all' }).waitFor();
});

for (const [file, bad] of [
  ['brennalo.csv', 0],
  ['brennalo-as-sent.csv', 2],
])
  test(`the volunteers of ${file} are brought by keys`, async () => {
    const page = await fresh('Brennalo by hand');
    await addLine(page, 'G -> C at ka; C -> at CL / V; ka = 0.6; CL = 3; V = 50; weight = 70; G(0) = 0; C(0) = 0');
    await page.goto(page.url().replace(/build.*$/, 'data'));
    await page.locator('#text').fill(readFileSync(join(root, 'demo', file), 'utf8'));
    await page.locator('#preview').focus();
    await page.keyboard.press('Enter');
    await page.getByText('12 subjects, 48 doses in all.').waitFor();
    assert.equal(await page.getByText('Each has its own weight').count(), 1);
    if (bad) assert.equal(await page.getByText(`${bad} rows are left out`).count(), 1);
    // Doses go where no flow enters, unless told otherwise.
    assert.match(await page.locator('select[name="series[0].dosesInto"] option:checked').textContent(), /^G/);
    await page.fill('#mapping input[name="series[0].formula"]', 'C / V');
    await page.getByRole('button', { name: 'Use these data' }).focus();
    await page.keyboard.press('Enter');
    await page.getByText('Doses go into G.').waitFor();
    assert.equal(await page.locator('.series tbody tr').count(), 156);
    // Outside the span the points say so: the study counts in days.
    await page.keyboard.press('Control+z');
    await page.getByText('No data yet').waitFor();
  });

test('what differs is added, changed and refused by hand, and the first fifty are there at once', async () => {
  const page = await demo('subjects', title);
  await ready(page);
  await page.getByText('% of 500 subjects').waitFor();
  assert.equal(await page.locator('.exposure th', { hasText: 'By weight' }).count(), 1);
  const before = await inside(page);
  await assertAccessible(page, 'subjects');
  // A wider target holds more of them.
  await page.fill('input[name=targetHigh]', '12');
  await page.press('input[name=targetHigh]', 'Enter');
  await ready(page);
  await page.getByText('% of 500 subjects').waitFor();
  assert.ok(parseInt(await inside(page)) > parseInt(before), `${await inside(page)} after ${before}`);
  // The other way of saying a spread.
  await page.getByLabel('Spread of ka').fill('0.3 log');
  await page.getByRole('button', { name: 'Apply', exact: true }).last().click();
  await ready(page);
  assert.match(await page.getByLabel('Spread of ka').inputValue(), /^30\.69 %/);
  await page.getByText('sd of log 0.300').waitFor();
  // What cannot be meant is refused, and stays as typed.
  await page.getByLabel('Spread of ka').fill('much');
  await page.press('input[name=count]', 'Enter');
  await page.getByRole('alert').getByText('is no number').waitFor();
  assert.equal(await page.getByLabel('Spread of ka').inputValue(), 'much');
  await page.getByLabel('Spread of ka').fill('45 %');
  await page.getByLabel('Lowest weight').fill('200');
  await page.press('input[name=count]', 'Enter');
  await page.getByRole('alert').getByText('limits of weight cross').waitFor();
  await page.getByLabel('Lowest weight').fill('45');
  for (const [count, words] of [
    ['0', 'From 1 to'],
    ['10000000', 'From 1 to'],
    ['some', 'whole number'],
  ]) {
    await page.fill('input[name=count]', count);
    await page.press('input[name=count]', 'Enter');
    await page.getByRole('alert').getByText(words).waitFor();
  }
  await page.fill('input[name=count]', '60');
  await page.press('input[name=count]', 'Enter');
  await page.getByText('% of 60 subjects').waitFor();
  // One value is the same for all again, by its button.
  await page.getByRole('button', { name: 'ka no longer differs' }).click();
  await ready(page);
  assert.equal(await page.getByLabel('Spread of ka').count(), 0);
  await page.keyboard.press('Control+z');
  await page.getByLabel('Spread of ka').waitFor();
  // And another one differs as soon as it is chosen.
  await page.selectOption('select[name=add]', 'G.start');
  await page.getByLabel('Spread of G.start').waitFor();
});

test('correlations that cannot hold at once are refused, and the nearest are taken', async () => {
  const page = await demo('subjects', title);
  await ready(page);
  await page.getByLabel('Correlation of ka and CL70').fill('0.95');
  await page.getByLabel('Correlation of ka and V70').fill('-0.95');
  await page.press('input[name=count]', 'Enter');
  await page.getByRole('alert').getByText('cannot all hold at once').waitFor();
  assert.equal(await page.getByLabel('Correlation of ka and CL70').inputValue(), '0.95');
  await page.getByRole('button', { name: /^Take the nearest/ }).click();
  await ready(page);
  const taken = Number(await page.getByLabel('Correlation of ka and CL70').inputValue());
  assert.ok(taken > 0.3 && taken < 0.95, `${taken}`);
  const table = page.waitForEvent('download');
  await page.getByRole('link', { name: 'CSV' }).click();
  const lines = readFileSync(await (await table).path(), 'utf8')
    .trim()
    .split('\n');
  assert.equal(lines.length, 501);
  assert.match(lines[0], /^subject,CL70,V70,ka,weight,"?Model, maximum/);
});

test('the share inside the target against the dose says which doses do, or why none', async () => {
  const page = await demo('subjects', title);
  await ready(page);
  assert.equal(await page.inputValue('.fields select[name=value]'), 'dose');
  await page.fill('.fields input[name=share]', '50');
  await page.press('.fields input[name=share]', 'Enter');
  await page.locator('#attainment', { hasText: /dose from [\d.]+ to [\d.]+ keeps 50 % of 300 subjects/ }).waitFor();
  await page.locator('#attainment-chart svg').waitFor();
  await assertAccessible(page, 'share against dose');
  await page.fill('.fields input[name=share]', '99.9');
  await page.press('.fields input[name=share]', 'Enter');
  await page.locator('#attainment', { hasText: 'No dose between 100 and 400' }).waitFor();
  await page.fill('.fields input[name=to]', '1');
  await page.press('.fields input[name=to]', 'Enter');
  await page.locator('#attainment', { hasText: 'ends of dose cross' }).waitFor();
  await page.fill('.fields input[name=from]', 'few');
  await page.press('.fields input[name=from]', 'Enter');
  await page.locator('#attainment', { hasText: 'where the value begins as a number' }).waitFor();
  assert.equal(await page.inputValue('.fields input[name=from]'), 'few');
});

test('volunteers are fitted pooled, then each with values of its own, and their spread becomes that of subjects', async () => {
  const page = await demo('fit', title);
  assert.equal(await page.locator('#fit-chart svg').count(), 12);
  await page.locator('input[name=starts]').fill('2');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.locator('.estimates').waitFor();
  await page.getByText('Subjects differ').waitFor();
  for (const own of await page.locator('input[name=own]').all()) await own.check();
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.locator('table.subjects tfoot').waitFor({ timeout: 120_000 });
  assert.equal(await page.locator('table.subjects tbody tr').count(), 12);
  // Both fits of these data stand side by side.
  await page.locator('table.fits tbody tr').nth(1).waitFor();
  await edited(page, () => page.getByRole('button', { name: 'Use these values in the model' }).click());
  await page.goto(page.url().replace(/fit.*$/, 'subjects'));
  await edited(page, () => page.getByRole('button', { name: /^Take the spread from the fit/ }).click());
  assert.doesNotMatch(await page.getByLabel('Spread of CL70').inputValue(), /^24 %/);
});

test('an empty study says what comes first', async () => {
  const page = await fresh('Nobody yet');
  await page.goto(page.url().replace(/build.*$/, 'subjects'));
  await page.getByText('Build a model first').waitFor();
});

test('levels on a log axis, over the last interval, coloured by a value, as a histogram; doses are listed and marked', async () => {
  const page = await demo('subjects', 'brennalo');
  await page.getByText('Of 1 000 mg given within the span a typical body has 251.9 mg'.replace(' ', '\u2009')).waitFor();
  await page.getByText('Its half-lives are 13.9 and 0.693 hours').waitFor();
  const axis = () => page.locator('#subject-chart svg').first().locator('.grid text').allTextContents();
  assert.ok((await axis()).includes('0'));
  await page.getByLabel('log axis').focus();
  await page.keyboard.press('Space');
  // Equal ratios have no zero; the axis of time has its own.
  assert.equal((await axis()).filter(text => text === '0').length, 1);
  await page.getByLabel('last interval only').check();
  assert.ok((await axis()).some(text => text.startsWith('48')));
  assert.ok(!(await axis()).includes('10 hours'));
  await page.getByLabel('how it spreads').selectOption('trough');
  // Two plans, each with its bars: all shares come to one.
  assert.equal(await page.locator('#subject-spread svg').count(), 2);
  await page.getByLabel('coloured by').selectOption('CL70');
  await page.locator('#subject-dots svg[aria-label="trough against CL70, Model"]').waitFor();
  assert.ok(await page.getByLabel('log axis').isChecked(), 'an answer keeps how it is looked at');
  await page.getByText('4 doses of the model, one by one').click();
  await page.getByRole('row', { name: '0 400 G at once' }).waitFor();
  await page.getByRole('row', { name: 'accumulation' }).waitFor();
  await assertAccessible(page, 'how subjects are looked at');
  await page.goto(page.url().replace(/subjects$/, 'build'));
  await page.locator('#curves .dose').nth(3).waitFor();
});
