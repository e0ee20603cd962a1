// How parts are selected, opened, drawn and typed into, by mouse and by keys. Each test has a study of its own.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { edited, findings, openLine } from './support/build.mjs';
import { session } from './support/session.mjs';

const { fresh } = session();
const sir = ['S(0) = 990; I(0) = 10; R(0) = 0; beta = 0.4 per day', 'S -> I : beta * S * I / 1000', 'I -> R after 5 days'];

const plate = (page, symbol) => page.locator(`.plate[aria-label^="${symbol},"]`);
const part = (page, symbol) => plate(page, symbol).getAttribute('data-part');
const centre = async element => {
  const { x, y, width, height } = await element.boundingBox();
  return [x + width / 2, y + height / 2];
};
const field = page => page.locator('.line-item.open .main-field');
const focused = page => page.evaluate(() => document.activeElement?.getAttribute('aria-label') ?? document.activeElement?.id ?? '');
const opened = async (page, symbol) => page.locator(`#form-${await part(page, symbol)}`).waitFor();

test('a click on another part keeps what was typed and opens that part', async () => {
  const page = await fresh('Reeds', ...sir);
  await openLine(page, /^β/);
  await field(page).fill('999');
  await edited(page, () => plate(page, 'I').click());
  await opened(page, 'I');
  assert.match(await page.locator('#ledger').textContent(), /999/);
  assert.doesNotMatch(await page.locator('#ledger').textContent(), /999 I/);
  assert.deepEqual(await findings(page), []);
});

test('where an operand is still to come, and with Alt, a click puts in the symbol', async () => {
  const page = await fresh('Reeds', ...sir);
  await openLine(page, /^β/);
  await field(page).fill('0.4 * ');
  await plate(page, 'I').click();
  assert.equal(await field(page).inputValue(), '0.4 * I');
  await plate(page, 'R').click({ modifiers: ['Alt'] });
  assert.equal(await field(page).inputValue(), '0.4 * I R');
  // The first Escape closes the names that are offered.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  assert.equal(await page.locator('.line-item.open').count(), 0);
  assert.match(await page.locator('#ledger').textContent(), /0\.4/);
  assert.doesNotMatch(await page.locator('#ledger').textContent(), /0\.4\s*\*?\s*I/, 'Escape drops what was typed');
});

test('a line that was refused stays as it is when a part is clicked', async () => {
  const page = await fresh('Reeds', ...sir);
  await page.fill('#quick-line', 'S -> V at 2 fathomz');
  await page.press('#quick-line', 'Enter');
  await page.locator('#notice:visible, .quick-preview .problem').first().waitFor();
  await plate(page, 'I').click();
  await opened(page, 'I');
  assert.equal(await page.locator('#quick-line').inputValue(), 'S -> V at 2 fathomz');
});

test('a click selects and Delete removes; a double click and Enter open with all selected', async () => {
  const page = await fresh('Reeds', ...sir);
  await plate(page, 'R').click();
  await opened(page, 'R');
  assert.match(await focused(page), /^R,/);
  await plate(page, 'R').dblclick();
  await page.waitForFunction(
    () =>
      document.activeElement?.matches('.main-field') &&
      document.activeElement.selectionEnd - document.activeElement.selectionStart === document.activeElement.value.length,
  );
  await page.keyboard.type('25');
  await edited(page, () => page.keyboard.press('Enter'));
  await plate(page, 'I').focus();
  await page.keyboard.press('Enter');
  await page.waitForFunction(
    () =>
      document.activeElement?.matches('.main-field') &&
      getSelection() !== null &&
      document.activeElement.selectionEnd === 2 &&
      document.activeElement.selectionStart === 0,
  );
  await plate(page, 'R').click();
  await opened(page, 'R');
  await edited(page, () => page.keyboard.press('Delete'));
  assert.equal(await plate(page, 'R').count(), 0);
});

test('a rate has three ways that are seen, and a whole formula typed per head is told', async () => {
  const page = await fresh('Reeds', 'A(0) = 100');
  await edited(page, async () => {
    await plate(page, 'A').focus();
    await page.keyboard.press('f');
    await page.keyboard.press('o');
  });
  await page.waitForFunction(() => document.activeElement?.matches('.main-field'));
  assert.equal(await field(page).inputValue(), '');
  const ways = page.locator('.line-item.open .radios label');
  assert.deepEqual(
    (await ways.allTextContents()).map(words => words.trim()),
    ['at, per head', 'after a stay', 'whole flow'],
  );
  await edited(page, async () => {
    await page.keyboard.type('9% * A');
    await page.keyboard.press('Enter');
  });
  assert.match((await findings(page)).join(' '), /A counts twice/);
  await edited(page, () =>
    page
      .getByRole('button', { name: /The whole flow is/ })
      .first()
      .click(),
  );
  assert.deepEqual(
    (await findings(page)).filter(words => /twice/.test(words)),
    [],
  );
  assert.ok(await ways.nth(2).locator('input').isChecked());
  await edited(page, () => ways.nth(1).locator('input').check());
  assert.match(await page.locator('.line-item.open .line').textContent(), /after/);
});

test('after a box around plates the keys belong to what it chose', async () => {
  const page = await fresh('Reeds', ...sir);
  await openLine(page, /^β/);
  const pane = await page.locator('#diagram').boundingBox();
  await page.mouse.move(pane.x + 6, pane.y + 40);
  await page.mouse.down();
  await page.mouse.move(pane.x + pane.width - 10, pane.y + pane.height - 10, { steps: 4 });
  await page.mouse.up();
  await page.locator('#selection-count', { hasText: '3 selected' }).waitFor();
  const before = await plate(page, 'S').getAttribute('data-box');
  await edited(page, () => page.keyboard.press('ArrowDown'));
  assert.notEqual(await plate(page, 'S').getAttribute('data-box'), before);
  await edited(page, () => page.keyboard.press('Delete'));
  assert.equal(await page.locator('.plate').count(), 0);
});

test('keys go on to mean the paper after a button of its toolbar', async () => {
  const page = await fresh('Reeds', ...sir);
  await page.getByRole('button', { name: 'Dependencies' }).click();
  await page.keyboard.press('n');
  await page.locator('.paper-field').waitFor();
  await page.keyboard.type('V');
  await edited(page, () => page.keyboard.press('Enter'));
  assert.equal(await plate(page, 'V').count(), 1);
});

test('a flow is drawn by two clicks of the pen, and by keys', async () => {
  const page = await fresh('Reeds', 'A(0) = 100; B(0) = 0');
  await page.getByRole('button', { name: 'Flow', exact: true }).click();
  await page.mouse.click(...(await centre(plate(page, 'A'))));
  await edited(page, async () => page.mouse.click(...(await centre(plate(page, 'B')))));
  assert.equal(await page.locator('.flow').count(), 1);
  assert.match(await page.locator('.flow').getAttribute('aria-label'), /A → B/);
  await page.waitForFunction(() => document.activeElement?.matches('.main-field'));
  await page.keyboard.press('Escape');
  await plate(page, 'B').focus();
  await page.keyboard.press('f');
  await plate(page, 'A').focus();
  await edited(page, () => page.keyboard.press('Enter'));
  assert.equal(await page.locator('.flow').count(), 2);
  await page.locator('.flow[aria-label*="B → A"]').waitFor();
});

test('drawing over a flow offers to change it', async () => {
  const page = await fresh('Reeds', 'A -> B at 0.1 per day');
  const draw = async () => {
    await plate(page, 'A').focus();
    await page.keyboard.press('f');
    await plate(page, 'B').focus();
    await page.keyboard.press('Enter');
  };
  await draw();
  await page
    .getByRole('dialog', { name: /already/ })
    .getByRole('button', { name: 'Change it' })
    .click();
  await page.waitForFunction(() => document.activeElement?.matches('.main-field'));
  assert.equal(await page.locator('.flow').count(), 1);
  await page.keyboard.press('Escape');
  await draw();
  await page.keyboard.press('ArrowDown');
  await edited(page, () => page.keyboard.press('Enter'));
  assert.equal(await page.locator('.flow').count(), 2);
});

test('an open region folds by mouse', async () => {
  const page = await fresh('Reeds', ...sir);
  for (const symbol of ['S', 'I']) await plate(page, symbol).click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: 'Region' }).click();
  await page.keyboard.type('The harbour');
  await edited(page, () => page.keyboard.press('Enter'));
  await edited(page, () => page.locator('.region-fold').click());
  assert.equal(await page.locator('.plate.folded').count(), 1);
});

test('Home and End move the time cursor, which a reload keeps', async () => {
  const page = await fresh('Reeds', ...sir);
  const clock = page.locator('#cursor-time');
  await page.locator('#curves').focus();
  await page.keyboard.press('End');
  await clock.filter({ hasText: 'day 150' }).waitFor();
  await page.keyboard.press('Home');
  await clock.filter({ hasText: /day 0$/ }).waitFor();
  for (let k = 0; k < 7; k++) await page.keyboard.press('ArrowRight');
  await clock.filter({ hasText: /day 14$/ }).waitFor();
  await page.reload();
  await clock.filter({ hasText: /day 14$/ }).waitFor();
});

test('time is converted and relabelled beside the span, and undo goes back', async () => {
  const page = await fresh('Reeds', ...sir);
  const unit = page.locator('.time-menu > summary');
  assert.equal(await unit.textContent(), 'days');
  await unit.click();
  await page.getByLabel('time is counted in').selectOption('week');
  await Promise.all([page.waitForURL(/build$/), page.getByRole('button', { name: 'Convert' }).click()]);
  await page.locator('.time-menu > summary', { hasText: 'weeks' }).waitFor();
  assert.ok(Math.abs(Number(await page.getByLabel('End of the span').inputValue()) - 150 / 7) < 1e-9);
  await edited(page, () => page.getByRole('button', { name: 'Undo' }).click());
  await page.locator('.time-menu > summary', { hasText: 'days' }).waitFor();
  assert.equal(await page.getByLabel('End of the span').inputValue(), '150');
});

test('an empty start is asked for with its field', async () => {
  const page = await fresh('Reeds', 'S -> I : beta * S * I / N; I -> R after 5 days; N = S + I + R; beta = 0.4 per day');
  const finding = page.locator('.finding', { hasText: 'Nothing starts with anything: give S a start.' });
  await finding.waitFor();
  await edited(page, async () => {
    await finding.locator('input').fill('990');
    await page.keyboard.press('Enter');
  });
  assert.equal(await finding.count(), 0);
  assert.notEqual(await page.evaluate(() => document.activeElement.localName), 'body', 'the focus is not lost');
});

test('the focus never falls to the page', async () => {
  const page = await fresh('Reeds', ...sir);
  const holds = async what => {
    await page
      .waitForFunction(() => document.activeElement && document.activeElement !== document.body, null, { timeout: 3000 })
      .catch(() => assert.fail(`${what}: the focus fell to the page`));
  };
  // A curve is hidden, and shown again.
  const name = page.locator('#curves .end-name').first();
  await name.focus();
  await page.keyboard.press('Enter');
  await page.locator('#hidden-curves button').first().waitFor();
  await holds('hiding a curve');
  await page.locator('#hidden-curves button').first().click();
  await page.locator('#hidden-curves button').first().waitFor({ state: 'detached' });
  await holds('showing it again');
  // A line is removed, and the one that takes its place has the focus.
  await openLine(page, /^I → R/);
  await edited(page, () => page.getByRole('button', { name: 'Remove', exact: true }).click());
  await holds('removing a part');
  // A plate is named.
  await plate(page, 'S').focus();
  await page.keyboard.press('n');
  await page.locator('.paper-field').fill('Vaccinated');
  await edited(page, () => page.keyboard.press('Enter'));
  await holds('naming a plate');
  await page.locator('.plate[aria-label^="V,"]').waitFor();
  // A finding is repaired by its fix.
  await edited(page, async () => {
    await page.fill('#quick-line', 'A -> at 9% * A');
    await page.press('#quick-line', 'Enter');
  });
  await edited(page, () => page.locator('.fix').first().click());
  await holds('a fix');
  // The unit of time is changed: the page is loaded again.
  await page.locator('.time-menu > summary').click();
  await page.getByLabel('time is counted in').selectOption('year');
  await Promise.all([page.waitForURL(/build$/), page.getByRole('button', { name: 'Relabel' }).click()]);
  await page.locator('.time-menu > summary', { hasText: 'years' }).waitFor();
  await holds('relabelling');
  assert.match(await page.locator('#quick-help').textContent(), /1\/5 per year/);
});

test('what is typed while an answer is on its way stays', async () => {
  const page = await fresh('Reeds', ...sir);
  await page.locator('[data-view=Run]').click();
  const level = page.getByLabel('Level that the curve is looked at against');
  let held;
  const asked = new Promise(resolve =>
    page.route(
      '**/*handler=Workspace*',
      route => {
        held ??= route;
        resolve();
      },
      { times: 1 },
    ),
  );
  await page.locator('#run-of').selectOption({ label: 'I' });
  await asked;
  await level.fill('50');
  await held.continue();
  await page.waitForFunction(
    () => document.querySelector('#run-of').selectedOptions[0].textContent === 'I' && !document.querySelector('.htmx-request'),
  );
  assert.equal(await level.inputValue(), '50');
  await level.press('Enter');
  await page.locator('.readings').getByText('first crossing').waitFor();
});
