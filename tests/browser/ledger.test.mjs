// What the ledger's forms do in a browser: completion, contact by number and by share, a table from a file, fixes, print, and the words at the curves.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { assertAccessible } from './support/browser.mjs';
import { addLine, edited, findings, openLine, run } from './support/build.mjs';
import { session } from './support/session.mjs';

const { fresh } = session();
const reeds = 'A(0) = 40; A -> B : drift * A; drift = 0.1 per day';
let page;

const field = () => page.locator('.line-item.open .main-field');

test('the curves say why nothing moves, and which of them leave something out', async () => {
  page = await fresh('Reeds of Vorrin', 'A(0) = 40');
  await page.locator('.chart-problem', { hasText: 'There are no flows yet' }).waitFor();
  await addLine(page, 'A -> B : drift * A');
  await page.locator('.chart-problem', { hasText: 'leave out A → B' }).waitFor();
  assert.equal(await page.locator('.line.provisional').count(), 2);
  await addLine(page, 'drift = 0.1 per day');
  await page.locator('.chart-problem').waitFor({ state: 'detached' });
  assert.equal(await page.locator('.line.provisional').count(), 0);
});

test('a refused edit is told at its field, which keeps what was typed', async () => {
  page = await fresh('Reeds of Vorrin', reeds);
  await openLine(page, /^A → B/);
  const version = await page.locator('#version').inputValue();
  await openLine(page, /^drift/);
  const symbol = page.locator('.line-item.open .line-form label', { hasText: 'symbol' }).locator('input');
  await symbol.fill('A');
  await page.keyboard.press('Enter');
  const told = page.locator('.line-item.open .line-check');
  await told.filter({ hasText: 'A' }).waitFor();
  assert.match(await told.textContent(), /already|taken/);
  assert.equal(await symbol.inputValue(), 'A');
  assert.equal(await symbol.getAttribute('aria-invalid'), 'true');
  assert.equal(await page.locator('#notice').isVisible(), false);
  assert.equal(await page.locator('#version').inputValue(), version);
  await symbol.fill('drift');
  assert.equal(await symbol.getAttribute('aria-invalid'), null);
});

test('the fields of the span say what the study has, after undo and after a refused entry', async () => {
  page = await fresh('Reeds of Vorrin', reeds);
  const end = page.getByLabel('End of the span');
  const had = await end.inputValue();
  await edited(page, async () => {
    await end.fill('64');
    await page.keyboard.press('Enter');
  });
  await page.locator('#ledger-filter').focus();
  await edited(page, () => page.getByRole('button', { name: 'Undo' }).click());
  assert.equal(await end.inputValue(), had);
  await end.fill('-5');
  await page.keyboard.press('Enter');
  await page.locator('#notice', { hasText: 'must end after it starts' }).waitFor();
  assert.equal(await end.inputValue(), '-5', 'what was typed stays to be mended');
  await addLine(page, 'B(0) = 2');
  assert.equal(await end.inputValue(), had);
});

test('a name is completed with its label and unit while a formula is typed', async () => {
  page = await fresh('Reeds of Vorrin', reeds);
  await openLine(page, /^A → B/);
  await field().fill(': dr');
  const offered = page.locator('.completions li');
  await offered.first().waitFor();
  assert.match(await offered.first().textContent(), /drift/);
  await edited(page, async () => {
    await page.keyboard.press('Tab');
    await page.keyboard.type(' * A * 2');
    await page.keyboard.press('Enter');
  });
  assert.match(await page.locator('.line-item.open .line').getAttribute('aria-label'), /^A → B/);
  assert.equal(await field().inputValue(), 'drift * A * 2');
});

test('a net rate is split into two flows by the fix that is offered', async () => {
  page = await fresh('Reeds of Vorrin', reeds);
  await openLine(page, /^A → B/);
  await edited(page, async () => {
    await field().fill(': drift * A - 0.05 * B');
    await field().press('Enter');
  });
  assert.ok((await findings(page)).some(sentence => sentence.includes('net of two terms')));
  const before = (await run(page)).curves.find(curve => curve.symbol === 'A').values.at(-1);
  await edited(page, () => page.getByRole('button', { name: 'Split into two flows' }).click());
  const after_ = (await run(page)).curves;
  assert.deepEqual(
    after_.filter(curve => curve.kind === 'flow').map(curve => curve.symbol),
    ['A → B', 'B → A'],
  );
  // Both solve the same equations: only the last digits of the solver differ.
  assert.ok(Math.abs(after_.find(curve => curve.symbol === 'A').values.at(-1) - before) < 1e-6);
});

test('contact is said by share and by number, and the outbreak stays the same', async () => {
  page = await fresh(
    'Contact in Tesk',
    'S -> I : beta * S * I / N; I -> R after 5 days; N = S + I + R; beta = 0.4 per day; S(0) = 995; I(0) = 5',
  );
  const peak = async () => Math.max(...(await run(page)).curves.find(curve => curve.symbol === 'I').values);
  const before = await peak();
  await openLine(page, /^S → I/);
  await edited(page, () => page.getByRole('button', { name: /say it by/ }).click());
  assert.ok(Math.abs((await peak()) - before) < 1e-6 * before, `${await peak()} and ${before}`);
  await edited(page, () => page.getByRole('button', { name: /say it by/ }).click());
  assert.ok(Math.abs((await peak()) - before) < 1e-6 * before);
  await edited(page, () => page.getByRole('button', { name: /^split/ }).click());
  assert.ok(Math.abs((await peak()) - before) < 1e-6 * before);
  await assertAccessible(page, 'a flow with contact');
});

test('an input takes its points from a file', async () => {
  page = await fresh('Ferry of Ammelow', 'people = points 0 1, 10 2; -> A : people(t); A(0) = 0');
  await openLine(page, /^people/);
  await edited(page, () =>
    page.setInputFiles('[data-points-file]', {
      name: 'ferry.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from('day,Passengers\n0,5\n20,25\n40,5\n'),
    }),
  );
  const { times, curves } = await run(page);
  const values = curves.find(curve => curve.symbol === 'people').values;
  const at = time => values[times.findIndex(other => other >= time)];
  assert.deepEqual([at(0), at(10), at(20), at(40)], [5, 15, 25, 5]);
});

test('on paper the ledger stands alone', async () => {
  page = await fresh('Reeds of Vorrin', reeds);
  await page.emulateMedia({ media: 'print' });
  assert.equal(await page.locator('#ledger').isVisible(), true);
  for (const part of ['.diagram-area', '.quick', '.curves-pane', '.study-header'])
    assert.equal(await page.locator(part).isVisible(), false, part);
  await page.emulateMedia({ media: 'screen' });
  assert.equal(await page.locator('.diagram-area').isVisible(), true);
});

test('the run is played, and the time cursor goes with it', async () => {
  page = await fresh('Reeds of Vorrin', reeds);
  const at = async () => page.locator('#cursor-time').textContent();
  const start = await at();
  await page.selectOption('#play-speed', 'fast');
  await page.getByRole('button', { name: 'Play' }).click();
  await page.waitForFunction(before => document.getElementById('cursor-time').textContent !== before, start);
  await page.getByRole('button', { name: 'Pause' }).click();
  assert.notEqual(await at(), start);
});

test('the list of keys opens and closes by key', async () => {
  page = await fresh('Reeds of Vorrin', reeds);
  await page.locator('.plate').first().focus();
  await page.keyboard.press('?');
  assert.equal(await page.locator('#keys').isVisible(), true);
  await assertAccessible(page, 'the list of keys');
  await page.keyboard.press('Escape');
  assert.equal(await page.locator('#keys').isVisible(), false);
});

test('one scale for all staffs shows which amount is the larger', async () => {
  page = await fresh('Two ponds', 'A -> at 0.001; B -> at 0.001; A(0) = 100; B(0) = 10');
  const height = symbol =>
    page
      .locator(`.plate[aria-label^="${symbol},"] [data-level]`)
      .evaluate(
        level => Number(/M\S+ (\S+)l/.exec(level.getAttribute('d'))[1]) - Number(level.closest('.plate').dataset.box.split(' ')[1]),
      );
  await page.waitForFunction(() => document.querySelector('.plate [data-value]').textContent !== '');
  // Each by its own peak, both stand about as high.
  assert.ok(Math.abs((await height('A')) - (await height('B'))) < 2);
  await page.getByRole('button', { name: 'Common scale' }).click();
  assert.ok((await height('B')) - (await height('A')) > 30, 'B stands lower than A');
});

test('of a large model what is in view comes first, then the rest, and what was typed meanwhile stays', async () => {
  const places = 150,
    ring = Array.from({ length: places }, (_, k) => `C${k}(0) = ${k + 1}; C${k} -> C${(k + 1) % places} at 0.1`);
  page = await fresh('Long marsh', ring.join('; '));
  const first = await (await page.request.get(page.url())).text();
  assert.equal(first.split('class="line-item').length - 1, 80);
  assert.equal(first.split('data-node=').length - 1, places);
  assert.match(first, /id="run-data"><\/div>/);
  let send;
  const held = new Promise(done => (send = done));
  await page.route(/handler=Rest/, async route => {
    await held;
    await route.continue();
  });
  await page.reload();
  await page.getByText('More is on its way').waitFor();
  await page.fill('#quick-line', 'slow = 0.1');
  send();
  await page
    .locator('#ledger .line-item')
    .nth(2 * places - 1)
    .waitFor({ state: 'attached' });
  await page.locator('#curves .chart-svg').waitFor();
  assert.equal(await page.inputValue('#quick-line'), 'slow = 0.1');
  await edited(page, () => page.press('#quick-line', 'Enter'));
  assert.equal(await page.locator('#ledger .line-item').count(), 2 * places + 1);
  assert.equal((await run(page)).curves.length, 2 * places);
});

test('an edit of a large model is seen before its curves, and the next one waits for neither', async () => {
  const places = 450,
    ring = Array.from({ length: places }, (_, k) => `C${k}(0) = ${k + 1}; C${k} -> C${(k + 1) % places} at a`);
  page = await fresh('Longer marsh', `a = 0.1 per day; ${ring.join('; ')}`);
  await page
    .locator('#curves path.line')
    .nth(places - 1)
    .waitFor({ state: 'attached' });
  const before = (await run(page)).curves[0].values.at(-1);
  // Each answer is made when it is asked for, and comes when it is let go: the last one last, then first.
  const late = [];
  let wake;
  await page.route(/handler=Numbers/, async route => {
    const response = await route.fetch();
    await new Promise(done => {
      late.push(done);
      wake?.();
    });
    await route.fulfill({ response });
  });
  await openLine(page, /^a,/);
  const field = page.locator('.line-item.open .main-field');
  const to = async rate => {
    await edited(page, async () => {
      await field.fill(`${rate} per day`);
      await field.press('Enter');
    });
    if (late.length === 0) await new Promise(done => (wake = done));
    return late.pop();
  };
  const text = () => page.locator('#run-data').textContent();
  const changed = old => page.waitForFunction(was => document.getElementById('run-data').textContent !== was, old);
  let [first, second] = [await to('0.2'), await to('0.3')];
  assert.match(await page.locator('#ledger').getByRole('button', { name: /^a,/ }).textContent(), /0\.3/);
  assert.equal((await run(page)).curves[0].values.at(-1), before);
  const shownBefore = await text();
  first();
  second();
  await changed(shownBefore);
  await page.locator('#curves path.line.before').first().waitFor({ state: 'attached' });
  // What is on the page is the answer to the last edit.
  const isOfTheLast = async () => {
    const of = Number(await page.inputValue('#version'));
    const sent = await (await page.request.get(`${page.url()}?handler=Numbers&of=${of}`)).text();
    const wanted = sent.replace(/^[^>]*>|<\/div>\s*$/g, '').replaceAll('&quot;', '"');
    await page.waitForFunction(numbers => document.getElementById('run-data').textContent === numbers, wanted);
    assert.equal((await page.request.get(`${page.url()}?handler=Numbers&of=${of - 1}`)).status(), 204);
  };
  await isOfTheLast();
  const third = await text();
  [first, second] = [await to('0.4'), await to('0.5')];
  second();
  await changed(third);
  const isOver = page.waitForEvent('requestfinished', request => /handler=Numbers/.test(request.url()));
  first();
  await isOver;
  // Whatever it does to the page is done by the frame after.
  await page.evaluate(() => new Promise(done => requestAnimationFrame(() => setTimeout(done))));
  await isOfTheLast();
});
