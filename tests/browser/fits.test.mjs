// The screen of a fit: values tried by slider, priors, profiles in the rows, where starts ended, and fits of the same data side by side.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { assertAccessible, tabTo } from './support/browser.mjs';
import { session } from './support/session.mjs';

const { demo } = session();
const law = page => page.locator('input[name=law]:checked').getAttribute('value');
const fit = async page => {
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.waitForFunction(() => document.querySelector('.estimates') && !document.querySelector('.progress, .stale'));
};
const dashed = page => page.locator('#fit-chart path.stroke-coral').count();

test('a start is found by slider, by mouse and by keys, and taken into the model', async () => {
  const page = await demo('fit');
  const slider = page.getByRole('slider', { name: 'Try other values of beta' });
  assert.equal(await dashed(page), 0);
  await slider.focus();
  for (let k = 0; k < 5; k++) await page.keyboard.press('ArrowLeft');
  const words = page.locator('#fit-trial p');
  await words.filter({ hasText: /With these values the log-likelihood is −\d/ }).waitFor();
  assert.equal(await dashed(page), 1);
  const before = await words.innerText();
  const box = await slider.boundingBox();
  await page.mouse.click(box.x + 0.2 * box.width, box.y + box.height / 2);
  await page.waitForFunction(said => document.querySelector('#fit-trial p').textContent !== said, before);
  await page.getByRole('button', { name: 'Back to the model’s values' }).click();
  assert.equal(await dashed(page), 0);
  assert.ok(await slider.evaluate(it => it === document.activeElement), 'the focus is on the first slider');
  await page.keyboard.press('ArrowRight');
  await page.getByRole('button', { name: 'Use them in the model' }).waitFor();
  await page.locator('#fit-chart path.stroke-coral').waitFor();
  await page.getByRole('button', { name: 'Use them in the model' }).focus();
  await page.keyboard.press('Enter');
  await page.getByText('revision 2').waitFor();
  assert.notEqual(await page.locator('.choices tr', { hasText: 'beta' }).locator('.number').innerText(), '0.4');
});

test('a fit shows profiles, where its starts ended, what residuals show and what to measure next', async () => {
  const page = await demo('fit');
  await fit(page);
  assert.equal(await page.locator('.estimates svg.profile').count(), await page.locator('.estimates tbody tr:not(.derived)').count());
  assert.match(
    await page.locator('.estimates svg.profile').first().getAttribute('aria-label'),
    /1\.92 below its best at [\d.]+ and [\d.]+/,
  );
  const found = await page.locator('#fit-found').innerText();
  assert.match(found, /All 20 starts ended at the same optimum\./);
  assert.match(found, /the row at day 7 stands out, 5 where 1\.1 is expected/);
  assert.match(found, /Fitted without what came from day 49 on/);
  assert.match(
    await page.locator('#fit-status').innerText(),
    /To measure next Reported cases from day \d+ to \d+ would narrow beta from ±13 % to ±\d+ %/,
  );
  // The bands of seven weeks, and a diamond where the next one would be.
  assert.equal(await page.locator('#fit-chart rect[class^=fill-tide]').count(), 14);
  assert.ok((await page.locator('#fit-chart path.stroke-tide').count()) > 0);
  await page.getByText('Standard errors and correlations').click();
  assert.match(await page.locator('#fit-status').innerText(), /by observed information/);
  await assertAccessible(page, 'a finished fit');
});

test('a prior is typed, a wrong one is refused and kept, and fits of the same data are compared', async () => {
  const page = await demo('fit');
  await fit(page);
  const prior = page.getByLabel('Prior of beta', { exact: true });
  await page.locator('.choices tr', { hasText: 'beta' }).getByText('no prior').click();
  await prior.fill('normal(0.4');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.getByText('is no prior. Type normal(mean, spread)').waitFor();
  assert.equal(await prior.inputValue(), 'normal(0.4');
  await prior.fill('normal(0.4, 0.01)');
  await fit(page);
  await page.getByText('The highest density of the values given data and priors').waitFor();
  const pulled = Number(await page.locator('.estimates tbody td').first().innerText());
  assert.ok(pulled > 0.37 && pulled < 0.4, `${pulled} lies between the data and the prior`);
  const rows = page.locator('.fits tbody tr');
  assert.equal(await rows.count(), 2);
  assert.match(await page.locator('.fits [aria-current=true]').innerText(), /with priors/);
  await page.locator('.fits button.text-left').click();
  await page.waitForFunction(() => !document.querySelector('.fits [aria-current=true]').textContent.includes('with priors'));
  assert.equal(await page.locator('.stale').count(), 0, 'the fit without priors is the present one again');
  // A name stands in the place of what it was of, and a reload keeps it.
  await page.getByLabel('Name of this fit').fill('Before the ferry');
  await page.keyboard.press('Enter');
  await page.locator('.fits [aria-current=true]', { hasText: 'Before the ferry' }).waitFor();
  await page.reload();
  assert.equal(await page.getByLabel('Name of this fit').inputValue(), 'Before the ferry');
  await page.getByRole('button', { name: /^Forget the fit/ }).click();
  await page.waitForFunction(() => !document.querySelector('.fits'));
  assert.equal(await law(page), 'Poisson');
});

test('before a fit it is said what the data can tell of what is ticked', async () => {
  const page = await demo('fit');
  const told = page.locator('#fit-status', { hasText: 'Before a fit' });
  assert.match(await told.innerText(), /If the model’s own values were right, these data would tell beta to within \d+ %/);
  await fit(page);
  assert.equal(await told.count(), 0);
});

test('a look at a fit that is not answered is not the last one', async () => {
  const page = await demo('fit');
  let missed = 0;
  await page.route(/handler=Status/, route => (missed++ < 2 ? route.fulfill({ status: 503 }) : route.continue()));
  await fit(page);
  assert.ok(missed > 2);
  // What was said of the looks that failed is over with the one that did not.
  assert.equal(await page.locator('#notice').isVisible(), false);
  page.complaints = page.complaints.filter(complaint => !/503|htmx:/.test(complaint));
});

test('starts that are no number are refused, and another number of them is kept', async () => {
  const page = await demo('fit');
  await page.getByLabel('Starts of the search').fill('many');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.getByText('type a whole number from 1 to 200').waitFor();
  await page.getByLabel('Starts of the search').fill('3');
  await fit(page);
  await page.getByText('All 3 starts ended at the same optimum').waitFor();
  assert.equal(await page.getByLabel('Starts of the search').inputValue(), '3');
});

test('a value follows from another, by keys, and the curves of two fits lie beside one another', async () => {
  const page = await demo('fit');
  await fit(page);
  await page.locator('#held > summary').focus();
  await page.keyboard.press('Enter');
  const row = page.locator('tr', { has: page.locator('[name=tick][value=illness]') });
  await row.locator('summary').first().focus();
  await page.keyboard.press('Enter');
  await row.getByLabel('What illness follows from').focus();
  await page.keyboard.type('2 / betta');
  await page.keyboard.press('Enter');
  await page.getByText('illness follows from betta, which is no value of the model').waitFor();
  assert.equal(await row.getByLabel('What illness follows from').inputValue(), '2 / betta');
  await row.getByLabel('What illness follows from').fill('2 / beta');
  await fit(page);
  const number = async name =>
    Number(
      await page
        .locator('.estimates tr', { has: page.locator('th .mono', { hasText: name }) })
        .locator('td')
        .first()
        .innerText(),
    );
  const [beta, illness] = [await number('beta'), await number('illness')];
  // Both are shown with four digits.
  assert.ok(Math.abs(illness - 2 / beta) < 0.002 * illness, `${illness} and ${beta}`);
  assert.equal(await page.locator('#fit-chart path.hue-s1').count(), 0);
  await page.locator('[data-beside]').first().focus();
  await page.keyboard.press('Space');
  await page.locator('#fit-chart path.hue-s1').first().waitFor({ state: 'attached' });
  await assertAccessible(page, 'two fits beside one another');
  await page.getByRole('button', { name: 'Use these values in the model' }).click();
  await page.locator('.estimates').waitFor();
  assert.equal(await page.locator('.stale').count(), 0);
});

test('the start day is found by its words and estimated by keys, under a name that is taken up again', async () => {
  const page = await demo('fit');
  await page.locator('#held > summary').focus();
  await page.keyboard.press('Enter');
  const search = page.getByLabel('Find a value to estimate');
  await search.focus();
  await page.keyboard.type('starts on');
  assert.deepEqual(await page.locator('#held-choices [name=tick]:visible').evaluateAll(all => all.map(one => one.value)), ['t.start']);
  // Enter in what is looked for sends no form.
  await page.keyboard.press('Enter');
  await tabTo(page, '[name=tick][value="t.start"]');
  await page.keyboard.press('Space');
  // Contacts are held, so that cases in the first weeks tell the day.
  await page.locator('[name=tick][value="I.start"]').uncheck();
  const row = page.locator('tr', { has: page.locator('[name=tick][value="t.start"]') });
  await row.locator('[name=upper]').fill('3');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.getByText('Let the start day be at most 0, or leave earlier rows out.').waitFor();
  assert.equal(await row.locator('[name=upper]').inputValue(), '3');
  await row.locator('[name=upper]').fill('0');
  await row.locator('[name=lower]').fill('-30');
  await fit(page);
  await page.locator('.estimates tr', { hasText: 'the day that the model starts on' }).waitFor();
  await page.getByLabel('Name of this fit').fill('With the day');
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => document.querySelector('#fit-found input[name=name]')?.value === 'With the day');
  // What is fitted next has another name; the first can be asked for again, also where its result was thrown away.
  await page.locator('[name=tick][value="t.start"]').uncheck();
  await fit(page);
  assert.equal(await page.getByLabel('Name of this fit').inputValue(), '');
  await page.getByLabel('Name of this fit').fill('With the day');
  await page.keyboard.press('Enter');
  await page.getByText('Another fit is called With the day.').waitFor();
  assert.equal(await page.getByLabel('Name of this fit').inputValue(), 'With the day');
  await page.getByRole('button', { name: 'Forget the fit With the day' }).click();
  await page.getByRole('button', { name: 'With the day', exact: true }).click();
  await page.locator('[name=tick][value="t.start"]:checked').waitFor();
});

test('a fit of a copy stands beside those of the study that it came from', async () => {
  const page = await demo('fit');
  await fit(page);
  const first = page.url();
  const id = /studies\/([^/]+)/.exec(first)[1];
  await page.goto(new URL('/', first).href);
  await page
    .locator('form', { has: page.locator(`input[name=id][value="${id}"]`) })
    .getByRole('button', { name: /^Duplicate/ })
    .click();
  await page.getByRole('link', { name: /copy/ }).first().click();
  await page.getByRole('link', { name: /^Fit/ }).click();
  await page.locator('[name=tick][value="I.start"]').uncheck();
  await fit(page);
  const other = page.locator('.fits a', { hasText: 'Marram fever in Quay Ordan' });
  await other.waitFor();
  await page.getByLabel(/^Lay the curve of .* Marram fever in Quay Ordan beside/).check();
  await page.locator('#fit-chart path.hue-s1').first().waitFor({ state: 'attached' });
  await other.click();
  await page.waitForURL(first);
});
