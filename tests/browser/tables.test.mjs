// Tables as people have them, brought to the model by mouse and by keys.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { readFile } from 'node:fs/promises';
import { assertAccessible } from './support/browser.mjs';
import { session } from './support/session.mjs';

// Its fit does not wait for the jobs of others.
const { fresh } = session();
const sir = ['S(0) = 990; I(0) = 10; R(0) = 0; beta = 0.4 per day', 'S -> I : beta * S * I / 1000', 'I -> R after 5 days'];
const weekly = [
  'Marram fever in Tesk;;',
  'week ending;new cases;remark',
  '03.02.2026;1.005;',
  '10.02.2026;2.012;',
  '17.02.2026;NA;late',
  '24.02.2026;1.019;',
  'total;4.036;',
  'source: the clinic;;',
].join('\n');
const rows = page =>
  page.locator('section[aria-labelledby=have-heading] tbody tr').evaluateAll(all =>
    all.map(row =>
      [...row.cells]
        .map(cell => (cell.querySelector('[name=value]')?.value ?? cell.innerText).replace(/[\u2009\s]+/g, ''))
        .filter(Boolean)
        .join(' '),
    ),
  );

async function bring(page, text) {
  await page.goto(page.url().replace(/build$/, 'data'));
  await page.locator('#text').fill(text);
  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  await page.locator('#mapping').waitFor();
}

test('dates, a title, a total, decimal points between thousands: all is guessed, said, and used', async () => {
  const page = await fresh('Reeds', ...sir);
  await bring(page, weekly);
  await page.getByText('3 rows, from day 0 to 28, 7 days each').waitFor();
  await page.getByText('27 January 2026 becomes it').waitFor();
  await page.getByText('Above the heading stands: Marram fever in Tesk').waitFor();
  const left = page.locator('details.finding li');
  assert.equal(await left.count(), 3);
  assert.match(await left.first().textContent(), /row 5: the count is missing/);
  assert.equal(await page.getByLabel('Row 5 of the file').inputValue(), '17.02.2026;NA;late');
  await assertAccessible(page, 'a table');
  await page.getByRole('button', { name: 'Use these data' }).click();
  await page.getByText('Take New cases off the model').waitFor();
  assert.deepEqual(await rows(page), ['0 7 1005', '7 14 2012', '21 28 1019']);
  await page.getByLabel('Title and question').click();
  assert.equal(await page.locator('[name=origin]').inputValue(), '2026-01-27');
});

test('what was chosen stays while the table is mended, by keys alone', async () => {
  const page = await fresh('Reeds', ...sir);
  await bring(page, 'day,all cases\n7,5\n14,9\n21,9\n28,30\n35,33\n42,40\n49,41\n56,60');
  await page.getByText('These values never fall').waitFor();
  await page.getByLabel('which are').focus();
  await page.keyboard.press('r');
  await page.getByLabel('which marks').focus();
  await page.keyboard.press('ArrowDown');
  await page.getByRole('button', { name: 'Preview again' }).focus();
  await page.keyboard.press('Enter');
  await page.getByText('7 rows, from day 14 to 63').waitFor();
  await page.getByText('what was counted before is not known').waitFor();
  await page.locator('#text').fill('day,all cases\n7,5\n14,9\n21,8\n28,30');
  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  await page.getByText('the running total falls from 9 to 8').waitFor();
  assert.equal(await page.getByLabel('which are').inputValue(), 'true');
  assert.equal(await page.getByLabel('which marks').inputValue(), 'Start');
});

test('what was said of the columns of one table is not meant for another that has as many', async () => {
  const page = await fresh('Reeds', ...sir);
  const roles = () => page.locator('#mapping thead select').evaluateAll(all => all.map(one => one.value));
  await bring(page, 'day,cases,se\n7,5,1\n14,9,2');
  assert.deepEqual(await roles(), ['Time', 'Value', 'Error']);
  await page.locator('#text').fill('from,to,cases\n0,7,5\n7,10,9');
  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  await page.getByText('2 rows, from day 0 to 10').waitFor();
  assert.deepEqual(await roles(), ['Time', 'OtherEnd', 'Value']);
});

test('the order of day and month is asked about where nothing settles it', async () => {
  const page = await fresh('Reeds', ...sir);
  await bring(page, 'date,cases\n02/03/2026,5\n09/03/2026,7');
  await page.getByText('is read as 2 March').waitFor();
  await page.getByLabel('written as').selectOption('MonthDayYear');
  await page.getByRole('button', { name: 'Preview again' }).click();
  await page.getByText('is read as 3 February').waitFor();
  await page.getByText('from day 0 to 424, 212 days each').waitFor();
});

test('columns say where intervals end, what is below detection and what a dose goes into', async () => {
  const page = await fresh('Reeds', 'G(0) = 0; C(0) = 0; ka = 0.8 per hour', 'G -> C at ka', 'C -> at 0.2 per hour');
  await bring(page, 'id;hour;dose;into;level;LLOQ\na;0;100;G;;\na;1;;;12;2\na;4;50;c;;\na;6;;;1;2\nb;0;100;liver;;\nb;2;;;9;2');
  const roles = page.locator('#mapping thead select');
  assert.deepEqual(await roles.evaluateAll(all => all.map(one => one.value)), ['Subject', 'Time', 'Dose', 'Target', 'Value', 'Below']);
  await page.getByText('the dose goes into “liver”, which is no compartment of the model').waitFor();
  assert.equal(await page.getByLabel('doses go into').count(), 0, 'each row says it');
  await page.locator('[data-series=level]').getByLabel('the formula').fill('C');
  await page.getByRole('button', { name: 'Use these data' }).focus();
  await page.keyboard.press('Enter');
  const level = page.getByRole('article', { name: 'Level' });
  await level.getByText('2 subjects, 2 doses in all').waitFor();
  await level.getByText('Doses go into G and C.').waitFor();
  assert.deepEqual(await level.locator('[name=value]').evaluateAll(all => all.map(one => one.value)), ['12', '9', '< 2']);
  await bring(page, 'from;to;in C\n0;7;5\n7;9;3\n9;9;4');
  assert.deepEqual(await roles.evaluateAll(all => all.map(one => one.value)), ['Time', 'OtherEnd', 'Value']);
  await page.locator('[data-series="in C"]').getByLabel('has seen').selectOption('Mean');
  await page.locator('[data-series="in C"]').getByLabel('the formula').fill('C');
  await page.getByText('its interval has no length').waitFor();
  await page.getByText('2 rows, from hour 0 to 9').or(page.getByText('2 rows, from day 0 to 9')).waitFor();
});

test('a flow and a level with its errors come in one table, by mouse; a point is left out, and the next version keeps it out', async () => {
  const page = await fresh('Reeds', ...sir);
  await bring(page, 'day;new cases;survey;se;remark\n7;20;960;9;calm\n14;45;900;8;wind\n21;80;790;9;calm\n28;1200;640;7;calm');
  const survey = page.locator('[data-series=survey]');
  assert.deepEqual(await page.locator('#mapping thead select').evaluateAll(all => all.map(one => one.value)), [
    'Time',
    'Value',
    'Value',
    'Error',
    'Out',
  ]);
  await survey.getByLabel('has seen').selectOption('Standing');
  await survey.getByLabel('the formula').fill('S +');
  await page.getByRole('button', { name: 'Use these data' }).click();
  await page.getByText('What Survey has seen cannot be read').waitFor();
  assert.equal(await survey.getByLabel('the formula').inputValue(), 'S +');
  await survey.getByLabel('the formula').fill('S');
  await page.getByRole('button', { name: 'Use these data' }).click();
  await page.getByText('Survey: S at the row’s time').waitFor();
  const cases = page.getByRole('article', { name: 'New cases' });
  await cases.locator('summary', { hasText: '4 rows' }).click();
  await cases.getByLabel('Use the row at 28 in fits').uncheck();
  await cases.getByRole('button', { name: 'Keep values and ticks' }).click();
  await cases.getByText('4 rows, 1 left out').waitFor();
  await assertAccessible(page, 'two series on the model');
  await bring(page, 'day;new cases\n7;21\n14;45\n21;80\n28;1200\n35;300');
  await page.getByText('This is the next version of New cases: 1 row added, 1 row changed.').waitFor();
  await page.getByRole('button', { name: 'Use these data' }).click();
  await cases.getByText('5 rows, 1 left out').waitFor();
  await page.goto(page.url().replace(/data$/, 'build'));
  // What was seen of a compartment lies on its curve, with bars; what flowed lies below.
  await page.locator('#curves .point').nth(3).waitFor();
  assert.equal(await page.locator('#curves .point-error').count(), 4);
  assert.equal(await page.locator('#observed .point').count(), 5);
  await page.keyboard.press('Control+z');
  await page.waitForFunction(() => document.querySelectorAll('#observed .point').length === 4);
});

test('a long table is brought by keys alone, each subject a series', async () => {
  const page = await fresh('Reeds', 'C(0) = 200 mg; V = 20; C -> at 0.2 per day');
  await page.goto(page.url().replace(/build$/, 'data'));
  await page.locator('#text').focus();
  await page.keyboard.insertText('who,day,level\nAsta,1,8.1\nBram,1,7.7\nAsta,2,6.9\nBram,2,6.4\nAsta,4,4.6\nBram,4,4.2');
  await page.getByRole('button', { name: 'Preview', exact: true }).focus();
  await page.keyboard.press('Enter');
  for (const name of ['Asta', 'Bram']) {
    await page.locator(`[data-series=${name}]`).getByLabel('the formula').focus();
    await page.keyboard.press('Control+a');
    await page.keyboard.insertText('C / V');
  }
  await page.getByRole('button', { name: 'Use these data' }).focus();
  await page.keyboard.press('Enter');
  await page.getByText('Bram: C / V at the row’s time').waitFor();
  await page.goto(page.url().replace(/data$/, 'fit'));
  await page.locator('input[name=tick][value=V]').check();
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.locator('.estimates').waitFor();
  assert.match(await page.locator('#fit-status').innerText(), /Asta: standard deviation .*, Bram: standard deviation/);
  assert.equal(await page.locator('#fit-chart svg').count(), 2);
});

test('axes show dates from then on, and numbers again by a button', async () => {
  const page = await fresh('Reeds', ...sir);
  assert.equal(await page.locator('#dates').count(), 0);
  await bring(page, weekly);
  await page.getByRole('button', { name: 'Use these data' }).click();
  await page.getByText('Take New cases off the model').waitFor();
  await page.goto(page.url().replace(/data.*$/, 'build'));
  await page.locator('#curves svg').waitFor();
  const axis = async () => (await page.locator('#curves .grid text[text-anchor=middle]').allTextContents()).join(' ');
  // Time zero is 27 January 2026; the span is 150 days.
  assert.match(await axis(), /^Feb 2026 Mar Apr May Jun$/);
  await page.locator('#curves').hover({ position: { x: 300, y: 60 } });
  assert.match(await page.locator('#curves .hover text').first().textContent(), /^\d+ \w{3} 2026, day \d/);
  const dates = page.getByRole('button', { name: 'dates', exact: true });
  await dates.focus();
  await page.keyboard.press('Enter');
  assert.equal(await dates.getAttribute('aria-pressed'), 'false');
  assert.match(await axis(), /^0 .* \d+ days$/);
  // Said once for all steps.
  await page.goto(page.url().replace('build', 'explore'));
  await page.locator('.panel .grid text', { hasText: 'days' }).first().waitFor();
  await dates.click();
  await page.locator('.panel .grid text', { hasText: '2026' }).first().waitFor();
  await page.goto(page.url().replace('explore', 'fit'));
  await page.locator('#fit-chart text', { hasText: '2026' }).first().waitFor();
  await assertAccessible(page, 'fit with dates');
});

test('values below a limit are said so, drawn as arrows, and fitted', async () => {
  const page = await fresh('One volunteer', 'central(0) = 80; central -> at k; k = 0.3 per day; V = 20; conc = central / V');
  await bring(page, 'days;mg/l\n0,5;3,4\n1;2,7\n2;1,9\n4;1,1\n8;0,31\n12;<0,2\n16;<0,2\n24;<0,2');
  await page.locator('select[name="series[0].seen"]').selectOption('Standing');
  await page.locator('#mapping [name="series[0].formula"]').fill('conc');
  await page.locator('#mapping [name="series[0].law"]').selectOption('LogNormal');
  await page.getByRole('button', { name: 'Preview again' }).click();
  await page.getByText('3 are below a limit, and count as such in fits.').waitFor();
  await page.getByRole('button', { name: 'Use these data' }).click();
  await page.getByText('Take mg/l off the model').waitFor();
  assert.deepEqual((await rows(page)).slice(4, 6), ['8 0.31', '12 <0.2']);
  await page.goto(page.url().replace(/data.*$/, 'build'));
  await page.locator('#observed svg').waitFor();
  assert.equal(await page.locator('#observed .point').count(), 5);
  assert.equal(await page.locator('#observed svg > path.fill-none:not(.stroke-edge)').count(), 3);
  await page.goto(page.url().replace('build', 'fit'));
  for (const value of ['k', 'V']) await page.locator(`[name=tick][value=${value}]`).check();
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.getByText('The data tell k to within').waitFor();
  assert.ok(await page.getByText('Counts spread as').isHidden());
});

test('several flows are counted together, and a mean is taken over intervals', async () => {
  const page = await fresh('Rushes', ...sir);
  await bring(page, 'day,cases\n7,30\n14,55\n21,90');
  await page.getByText('other flows counted with it').click();
  await page.locator('#mapping [name="series[0].otherFlows"]').nth(1).check();
  await page.getByRole('button', { name: 'Preview again' }).click();
  await page.locator('#mapping details[open] input:checked').waitFor();
  await page.getByRole('button', { name: 'Use these data' }).click();
  await page.getByText('what flowed along S → I and I → R in the row’s interval').waitFor();
  await page.goto(page.url().replace(/data.*$/, 'build'));
  await page.locator('#observed svg').waitFor();
  assert.match(await page.locator('#observed').innerText(), /cases in 7 days/i);
  // By keys: another series, of a mean.
  await bring(page, 'day,sick\n7,14.5\n14,22.75\n21,31');
  await page.locator('#mapping [name="series[0].label"]').fill('Sick at noon');
  await page.locator('#mapping [name="series[0].seen"]').focus();
  for (let k = 0; k < 3 && (await page.locator('#mapping [name="series[0].seen"]').inputValue()) !== 'Mean'; k++)
    await page.keyboard.press('ArrowDown');
  await page.locator('#mapping [name="series[0].formula"]').fill('I');
  await page.locator('#mapping [name="series[0].reporting"]').fill('1');
  await page.getByRole('button', { name: 'Preview again' }).focus();
  await page.keyboard.press('Enter');
  await page.getByText('3 rows, from day 0 to 21, 7 days each').waitFor();
  await assertAccessible(page, 'a mean');
  await page.getByRole('button', { name: 'Use these data' }).click();
  await page.getByText('the mean of I over the row’s interval').waitFor();
  await page.goto(page.url().replace(/data.*$/, 'explore'));
  await page.locator('.panel svg').first().waitFor();
  assert.match(await page.locator('.panel').first().innerText(), /Sick at noon, mean of 7 days/i);
});

test('a survey out of a number is mended where it is listed, tied to a share, and fitted, by mouse', async () => {
  const page = await fresh('Reeds', ...sir, 'N = S + I + R');
  const lines = Array.from({ length: 12 }, (_, k) => `${70 + k},none,100`);
  await bring(page, `day,positive,tested\n10,4,200\n20,x,180\n30,150,400\n40,20,150\n${lines.join('\n')}`);
  assert.deepEqual(await page.locator('#mapping thead select').evaluateAll(all => all.map(one => one.value)), ['Time', 'Value', 'OutOf']);
  await page.getByText('13 rows are left out').click();
  await page.getByLabel('Show only rows left out that hold this').fill('“x”');
  const shown = page.locator('#bad-0 > li:visible');
  await page.waitForFunction(() => [...document.querySelectorAll('#bad-0 > li')].filter(item => !item.hidden).length === 1);
  await shown.locator('[name=mendLine]').fill('20,19,180');
  await page.keyboard.press('Tab');
  await page.getByText('12 rows are left out').waitFor();
  const positive = page.locator('[data-series=positive]');
  await positive.getByText('4 rows, from day 10 to 40').waitFor();
  await positive.getByLabel('the formula').fill('I / N');
  await positive.getByText('Nine of ten lie between').waitFor();
  await page.getByRole('button', { name: 'Use these data' }).click();
  const tied = page.getByRole('article', { name: 'Positive' });
  await tied.getByText('Positive: I / N at the row’s time').waitFor();
  const [file] = await Promise.all([page.waitForEvent('download'), tied.getByText('as it came').click()]);
  // Forms send each end of a line in two signs.
  const text = (await readFile(await file.path(), 'utf8')).replaceAll('\r', '');
  assert.ok(text.startsWith('day,positive,tested\n10,4,200\n20,19,180\n'));
  await page.goto(page.url().replace(/data$/, 'fit'));
  await page.locator('[name=tick][value=beta]').check();
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.getByText('The data tell beta to within').waitFor();
  await assertAccessible(page, 'a fit of shares');
});

test('a point is left out by a click in Build and taken back in Explore', async () => {
  const page = await fresh('Reeds', ...sir);
  await bring(page, 'day,cases\n7,20\n14,45\n21,80\n28,1200');
  await page.getByRole('button', { name: 'Use these data' }).click();
  await page.getByText('Cases: what flowed along').waitFor();
  await page.goto(page.url().replace(/data$/, 'build'));
  const hollow = () => page.waitForFunction(() => document.querySelectorAll('.point[class*=dasharray]').length === 1);
  await page.locator('[data-point="3"]').first().click();
  await hollow();
  await page.goto(page.url().replace(/build$/, 'explore'));
  await page.locator('[data-point="3"]').first().waitFor();
  await hollow();
  await page.locator('[data-point="3"]').first().click();
  await page.waitForFunction(
    () => document.querySelectorAll('[data-point]').length >= 4 && !document.querySelector('.point[class*=dasharray]'),
  );
});

test('how a series was seen is changed by keys, and what is refused stays typed', async () => {
  const page = await fresh('Reeds', ...sir);
  await bring(page, 'date,cases\n2026-02-02,20\n2026-02-03,45\n2026-02-04,80\n2026-02-05,90');
  await page.getByRole('button', { name: 'Use these data' }).click();
  const cases = page.getByRole('article', { name: 'Cases' });
  await cases.locator('summary', { hasText: 'how they were seen' }).focus();
  await page.keyboard.press('Enter');
  await cases.getByText('comes in late, or by weekdays').focus();
  await page.keyboard.press('Enter');
  await cases.getByLabel('late by, on average').focus();
  await page.keyboard.type('lag');
  await cases.getByLabel('Sunday, relative').focus();
  await page.keyboard.type('0.4');
  await page.keyboard.press('Enter');
  await page.getByText('The delay uses lag, which the model does not have').waitFor();
  assert.equal(await cases.getByLabel('late by, on average').inputValue(), 'lag');
  assert.equal(await cases.getByLabel('Sunday, relative').inputValue(), '0.4');
  await cases.getByLabel('late by, on average').focus();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('36 hours');
  await cases.getByLabel('through so many stages').focus();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('3');
  await page.keyboard.press('Enter');
  await cases.getByText('late by 36 hours in 3 stages, each weekday with its part').waitFor();
  await assertAccessible(page, 'how a series was seen');
  // A spread that is known from elsewhere belongs to a law that has one, and is a number.
  const spread = cases.getByLabel('known spread');
  for (const [law, typed, told] of [
    ['Poisson', '12', 'has no spread of its own to be known'],
    ['Normal', 'wide', 'A known spread is a number above zero'],
  ]) {
    if (!(await spread.isVisible())) await cases.locator('summary', { hasText: 'how they were seen' }).click();
    await cases.getByLabel('values spread as').selectOption(law);
    await spread.fill(typed);
    await page.keyboard.press('Enter');
    await page.getByText(told).waitFor();
    assert.equal(await spread.inputValue(), typed);
  }
  await spread.fill('12');
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => !document.querySelector('main').innerText.includes('A known spread is'));
  assert.equal(await spread.inputValue(), '12');
  // Values are changed in their rows.
  await cases.getByLabel('Count at 4', { exact: true }).fill('95');
  await page.keyboard.press('Enter');
  await page.locator('article.series').getByText('4 rows').waitFor();
  await page.waitForFunction(() => document.querySelector('[aria-label="Count at 4"]').value === '95');
  await page.goto(page.url().replace(/data$/, 'build'));
  await page.locator('#observed .point').nth(3).waitFor();
});
