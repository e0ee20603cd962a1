// Explore as a modeller plays: sliders, kept runs, sweeps, phase planes, and everything taken away and read back.
import { spawnSync } from 'node:child_process';
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { assertAccessible } from './support/browser.mjs';
import { follows, quiet } from './support/events.mjs';
import { session } from './support/session.mjs';

const { demo } = session({ permissions: ['clipboard-read', 'clipboard-write'] });
let page;

/** Opens Explore with a copy of the demo study, and a slider where one is asked for. */
async function begin(slider) {
  page = await demo('explore');
  await page.locator('#panel-x1 .line').first().waitFor();
  await quiet(page);
  if (slider) {
    await page.selectOption('.explore-side select[name=address]', slider);
    await answered(() => page.locator('.explore-side').getByRole('button', { name: 'Add', exact: true }).click());
  }
}

/** Does something that the server answers, and waits until the page has taken it up. */
const answered = action => follows(page, 'htmx:afterSettle', action);
/** Does something after which the panels are drawn from another run. */
const explored = action => follows(page, 'explored', action, 'main');

const curve = k => page.locator('#panel-x1 .line').nth(k).getAttribute('d');
const add = async kind => {
  await page.selectOption('.add-panel select', kind);
  const before = await page.locator('.panel').count();
  await page.locator('.add-panel button:not([data-residuals])').click();
  await page.waitForFunction(count => document.querySelectorAll('.panel').length > count, before);
  return page.locator('.panel').last();
};
/** Opens a panel's menu and sets one of its fields, as they are labelled. */
async function set(panel, label, value) {
  if (!(await panel.locator('.panel-menu').evaluate(menu => menu.open))) await panel.locator('.panel-menu > summary').click();
  // The words of a choice are part of its label's text.
  const field = panel.getByLabel(new RegExp(`^\\s*${label}`)).first();
  await answered(async () => {
    if (await field.evaluate(element => element.tagName === 'SELECT')) await field.selectOption(value);
    else {
      await field.fill(value);
      await field.press('Tab');
    }
  });
}
const close = panel => panel.locator('.panel-menu[open] > summary').click();

test('a slider moves the curves by mouse and by keys, and is put back', async () => {
  await begin('beta');
  const slider = page.getByRole('slider', { name: 'beta' }),
    before = await curve(1);
  await explored(async () => {
    const box = await slider.boundingBox();
    await page.mouse.click(box.x + 0.7 * box.width, box.y + box.height / 2);
  });
  const moved = await curve(1);
  assert.notEqual(moved, before);
  await slider.focus();
  await explored(() => page.keyboard.press('ArrowLeft'));
  assert.notEqual(await curve(1), moved);
  await explored(() => page.getByRole('button', { name: 'Reset' }).click());
  assert.equal(await curve(1), before);
  assert.equal(await page.locator('#version').inputValue(), '2', 'the model itself has only got a slider');
});

test('three runs are kept, compared and hidden', async () => {
  await begin('beta');
  const value = page.getByLabel('beta as a number');
  for (const beta of ['0.3', '0.45', '0.6']) {
    await explored(async () => {
      await value.fill(beta);
      await value.press('Tab');
    });
    const count = await page.locator('.kept-run').count();
    await page.locator('#body-x1').focus();
    await page.keyboard.press('k');
    await page.waitForFunction(before => document.querySelectorAll('.kept-run').length === before + 1, count);
  }
  await explored(() => page.getByRole('button', { name: 'Reset' }).click());
  await page.waitForFunction(() => document.querySelectorAll('#panel-x1 .panel-part:first-child .line').length === 24);
  assert.deepEqual(
    (await page.locator('.kept-run p').allTextContents()).map(words => /beta (\S+)/.exec(words)?.[1]),
    ['0.3', '0.45', '0.6'],
  );
  await page.selectOption('#compare-how', 'difference');
  await page.waitForFunction(
    () =>
      document.querySelector('#panel-x1 .y-title')?.textContent === 'difference from now' &&
      document.querySelectorAll('#panel-x1 .panel-part:first-child .line').length === 18,
  );
  await page.selectOption('#compare-how', '');
  await answered(() => page.locator('.kept-run').nth(0).getByLabel('hide').check());
  await page.waitForFunction(() => document.querySelectorAll('#panel-x1 .panel-part:first-child .line').length === 18);
  await answered(() =>
    page
      .locator('.kept-run')
      .nth(1)
      .getByRole('button', { name: /Remove/ })
      .click(),
  );
  await page.waitForFunction(() => document.querySelectorAll('#panel-x1 .panel-part:first-child .line').length === 12);
});

test('a sweep of one value and of two', async () => {
  await begin();
  const panel = await add('Sweep');
  await panel.locator('.line').first().waitFor();
  assert.equal(await panel.locator('.panel-part').first().locator('.line').count(), 21);
  await set(panel, 'values', '10000000');
  await panel.getByText(/is the limit/).waitFor();
  await set(panel, 'values', '1');
  await panel.locator('.point').first().waitFor();
  assert.equal(await panel.locator('.point').count(), 1);
  await set(panel, 'values', '12');
  await set(panel, 'and at once', 'I.start');
  await panel.locator('.map rect').first().waitFor();
  assert.equal(await panel.locator('.map rect title').count(), 12 * 15);
  await close(panel);
});

test('a phase plane with five starts, and one that is none', async () => {
  await begin();
  const panel = await add('Phase');
  await panel.locator('.whole').first().waitFor();
  await set(panel, 'further starts', '9000 10, 12000 50, 15000 200, 6000 400, 3000 800');
  await page.waitForFunction(() => document.querySelectorAll('[data-kind=Phase] .whole').length === 6);
  await set(panel, 'further starts', '9000');
  await panel.getByText(/is no start/).waitFor();
  await close(panel);
});

test('a second axis, equal ratios, shares, a formula that divides by zero', async () => {
  await begin();
  const panel = page.locator('#panel-x1');
  await panel.locator('.panel-menu > summary').click();
  await answered(() => panel.locator('[data-pick=second]').nth(3).check());
  await panel.locator('.on-second').first().waitFor();
  await set(panel, 'scale', 'true');
  await page.waitForFunction(() => document.querySelector('#panel-x1 .grid text')?.textContent !== '0');
  await set(panel, 'scale', 'false');
  await set(panel, 'computed curves, one a line', 'share = D / (R + D)\nmad = 1 / (S - S)');
  await panel.getByText(/mad: This has no value anywhere/).waitFor();
  await panel.locator('svg').getByText('share', { exact: true }).first().waitFor();
  await close(panel);
});

test('a budget tells what turned the curve; outcomes are read in words', async () => {
  await begin();
  await page
    .locator('#panel-x2')
    .getByText(/Stops rising at day/)
    .waitFor();
  await page
    .locator('#panel-x3')
    .getByText(/S falls from/)
    .waitFor();
});

test('at the cursor a budget says what moves the amount, and what turned it last', async () => {
  await begin();
  const panel = page.locator('[data-kind=Budget]').first(),
    box = await panel.locator('svg').first().boundingBox();
  const at = async share => {
    await page.mouse.move(box.x + share * box.width, box.y + 90);
    return panel.locator('.panel-words').textContent();
  };
  assert.match(await at(0.3), /^At day [\d.]+ H rises by [\d.]+ a day: Admission brings [\d.]+, Discharge takes .*has not turned before/);
  assert.match(await at(0.75), /^At day [\d.]+ H falls by .* Stops rising at day/);
  await page.mouse.move(5, 5);
  assert.match(await panel.locator('.panel-words').textContent(), /^Stops rising/);
});

test('data lie below the curves that have to do with them, on an axis of their own', async () => {
  await begin();
  const panel = page.locator('#panel-x1');
  assert.equal(await panel.locator('.panel-part svg').count(), 2);
  assert.ok((await panel.locator('.panel-part').nth(1).locator('.observed, circle').count()) > 3);
  await set(panel, 'data below', 'false');
  assert.equal(await panel.locator('.panel-body svg').count(), 1);
  await set(panel, 'data below', 'true');
  await close(panel);
});

test('a sweep as bands, its numbers, and a phase plane for several values', async () => {
  await begin();
  const sweep = await add('Sweep');
  await sweep.locator('svg').first().waitFor();
  await set(sweep, 'curves as', 'true');
  await sweep.locator('.family-band').first().waitFor();
  assert.equal(await sweep.locator('.family-band').count(), 3);
  await close(sweep);
  await sweep.getByRole('button', { name: 'numbers' }).click();
  assert.equal(await sweep.locator('table.numbers tbody tr').count(), 21);
  await sweep.getByRole('button', { name: 'copy' }).click();
  await sweep.getByText('paste it into a spreadsheet').waitFor();
  const copied = (await page.evaluate(() => navigator.clipboard.readText()))
    .trim()
    .split('\n')
    .map(row => row.split('\t'));
  assert.deepEqual([copied.length, copied[0].length, Number(copied[1][0])], [22, 2, 0.2]);
  await sweep.getByRole('button', { name: 'numbers' }).click();
  const phase = await add('Phase');
  await phase.locator('.line').first().waitFor();
  await set(phase, 'value', 'beta');
  await phase.locator('.value-name').nth(3).waitFor();
  assert.equal(await phase.locator('.value-name').count(), 4);
  await close(phase);
  for (const panel of [sweep, phase])
    await answered(async () => {
      await panel.locator('.panel-menu > summary').click();
      await panel.getByRole('button', { name: 'Remove' }).click();
    });
  assert.equal(await page.locator('[data-kind=Sweep], [data-kind=Phase]').count(), 0);
});

test('a panel is made higher by mouse and by keys, and a picture at a size of its own', async () => {
  await begin();
  const panel = page.locator('#panel-x2'),
    grip = panel.locator('.panel-grip'),
    high = () => panel.locator('svg').first().getAttribute('height').then(Number);
  const before = await high();
  await grip.focus();
  await answered(() => page.keyboard.press('ArrowDown'));
  assert.equal(await high(), before + 20);
  await grip.scrollIntoViewIfNeeded();
  const box = await grip.boundingBox();
  await answered(async () => {
    await page.mouse.move(box.x + 50, box.y + 3);
    await page.mouse.down();
    await page.mouse.move(box.x + 50, box.y + 53, { steps: 4 });
    await page.mouse.up();
  });
  assert.equal(await high(), before + 70);
  await panel.locator('.panel-menu > summary').click();
  await panel.getByLabel('Width of the picture in pixels').fill('900');
  await panel.getByLabel('Height of the picture in pixels').fill('500');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    panel.locator('.panel-tools').getByText('SVG', { exact: true }).click(),
  ]);
  assert.match(readFileSync(await download.path(), 'utf8'), /^<svg[^>]* width="900" height="526"/);
  assert.equal(await high(), before + 70, 'the panel itself stays as it is');
  await set(panel, 'height', '0');
  await page.keyboard.press('Escape');
  assert.equal(await panel.locator('.panel-menu[open]').count(), 0, 'Escape closes a menu');
  await panel.locator('.panel-menu > summary').click();
  await page.locator('.explore-side h2').first().click();
  assert.equal(await panel.locator('.panel-menu[open]').count(), 0, 'and so does a click elsewhere');
});

test('a slider may go by steps', async () => {
  await begin('beta');
  const more = page.locator('.slider').first();
  await more.locator('summary').click();
  await answered(async () => {
    await more.getByLabel(/^step/).fill('0.05');
    await more.getByLabel(/^step/).press('Tab');
  });
  const slider = page.getByRole('slider', { name: 'beta' }),
    number = () => more.locator('.slider-number').inputValue().then(Number);
  const from = Number(await more.getAttribute('data-low'));
  await slider.focus();
  await explored(() => page.keyboard.press('ArrowRight'));
  const at = await number();
  assert.ok(Math.abs((at - from) / 0.05 - Math.round((at - from) / 0.05)) < 1e-9);
  await explored(() => page.keyboard.press('ArrowRight'));
  assert.ok(Math.abs((await number()) - at - 0.05) < 1e-9);
  await explored(() => page.getByRole('button', { name: 'Reset' }).click());
});

test('names hide and show curves, dragging zooms, double click takes it back', async () => {
  await begin();
  const panel = page.locator('#panel-x2'),
    layers = panel.locator('.layer');
  const count = await layers.count();
  await panel.locator('.end-name').first().click();
  assert.equal(await layers.count(), count - 1);
  await panel.locator('.hidden-names button').click();
  assert.equal(await layers.count(), count);
  await panel.scrollIntoViewIfNeeded();
  const box = await panel.locator('svg').boundingBox(),
    ticks = () => panel.locator('.grid text').allTextContents();
  const before = await ticks();
  await page.mouse.move(box.x + 120, box.y + 100);
  await page.mouse.down();
  await page.mouse.move(box.x + 220, box.y + 110, { steps: 4 });
  await page.mouse.up();
  assert.notDeepEqual(await ticks(), before);
  await page.mouse.dblclick(box.x + 160, box.y + 100);
  assert.deepEqual(await ticks(), before);
});

test('pictures and numbers are taken away and read back', async () => {
  await begin();
  const panel = page.locator('#panel-x1');
  const file = async name => {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      panel.locator('.panel-tools').getByText(name, { exact: true }).click(),
    ]);
    return readFileSync(await download.path());
  };
  assert.match((await file('SVG')).toString(), /^<svg[^>]*xmlns[^]*<path/);
  assert.equal((await file('PNG')).subarray(1, 4).toString(), 'PNG');
  const rows = (await file('CSV'))
    .toString()
    .trim()
    .split('\n')
    .map(row => row.trim().split(','));
  assert.deepEqual(rows[0].slice(0, 2), ['time (days)', 'S (people)']);
  assert.equal(Number(rows[1][1]), 18395);
  const path = (await Promise.all([page.waitForEvent('download'), panel.getByText('XLSX', { exact: true }).click()]))[0].path();
  const sheet = spawnSync(
    '/usr/bin/python3',
    [
      '-c',
      'import sys, zipfile; z = zipfile.ZipFile(sys.argv[1]); print(z.read([n for n in z.namelist() if "sheet1.xml" in n][0]).decode())',
      await path,
    ],
    { encoding: 'utf8' },
  ).stdout;
  assert.match(sheet, /18395/);
});

test('what an outcome depends on, one by one and over all', async () => {
  await begin();
  const panel = await add('Sensitivity');
  await panel.locator('.bar').first().waitFor();
  await set(panel, 'how', 'Sobol');
  await panel.locator('.whisker').first().waitFor({ state: 'attached' });
  await set(panel, 'runs', 'many');
  await panel.getByText(/whole number from 100/).waitFor();
  await close(panel);
});

test('the screen says what a part that is gone was for', async () => {
  await begin('beta');
  await add('Sweep');
  const other = await page.context().newPage();
  await other.goto(page.url().replace('explore', 'build'));
  await other.locator('#curves svg').waitFor();
  await other.getByRole('button', { name: /^β,/ }).click();
  await other.locator('.line-item.open').getByRole('button', { name: 'Remove', exact: true }).click();
  await other.waitForFunction(() => !document.querySelector('.line-item.open'));
  await other.close();
  await page.reload();
  await page.getByText(/There is no value beta in the model any more/).waitFor();
  await page
    .locator('[data-kind=Sweep]')
    .getByText(/There is no value “beta” in the model any more/)
    .waitFor();
});

test('axe finds nothing, with a panel of every kind', async () => {
  await begin('beta');
  for (const kind of ['Sweep', 'Phase', 'Sensitivity', 'Checks'])
    await (await add(kind)).locator('.panel-body').locator('svg, table, .checks').first().waitFor();
  await assertAccessible(page, 'Explore');
});
