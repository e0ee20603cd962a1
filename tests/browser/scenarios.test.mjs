// Scenarios without data: from an empty study to a fan of futures under a measure, by mouse alone and by keys alone; bars that are moved.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { assertAccessible } from './support/browser.mjs';
import { session } from './support/session.mjs';

const { server, opened, fresh, demo } = session();

const bar = page => page.locator('#scenario-chart rect[data-lane]').first();
const until = page => page.locator('form.measure [name=until]').first().inputValue();
const line = page => page.locator('#scenario-chart path.hue-s1').first().getAttribute('d');
const projected = page => page.locator('.projected').waitFor({ timeout: 60_000 });

/** The page after an edit, with its scripts: what is pressed before is heard by nobody. */
const loaded = (page, before) =>
  page.waitForFunction(was => {
    const now = document.querySelector('input[name=version]')?.value;
    return document.readyState === 'complete' && now !== undefined && now !== was;
  }, before);

/** Bands of the baseline and the scenario, and what they come to. */
async function assertFan(page) {
  // The picture is drawn once the answer has settled.
  await page.locator('#projection-chart path.band').nth(3).waitFor({ state: 'attached' });
  assert.equal(await page.locator('#projection-chart path.band').count(), 4);
  const table = await page.locator('.projected').textContent();
  assert.match(table, /Baseline/);
  assert.match(table, /against baseline/);
}

test('by mouse alone: an empty study, a pattern, a measure that is dragged, a fan', async () => {
  const page = await opened();
  await page.goto(server.url);
  await page.getByRole('button', { name: 'Create the study' }).click();
  await page.getByRole('link', { name: 'an epidemic' }).click();
  await page.getByRole('button', { name: /^Add to Untitled study/ }).click();
  await page.locator('#curves svg').waitFor();
  await page.getByRole('link', { name: /^Scenarios/ }).click();
  await page.locator('button.sample').first().click();
  await bar(page).waitFor();
  const before = [await until(page), await line(page)],
    box = await bar(page).boundingBox();
  await page.mouse.move(box.x + box.width - 3, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width + 40, box.y + 10, { steps: 4 });
  await page.waitForFunction(was => document.querySelector('#scenario-chart path.hue-s1').getAttribute('d') !== was, before[1]);
  await page.mouse.up();
  await page.waitForFunction(was => document.querySelector('form.measure [name=until]').value !== was, before[0]);
  assert.ok(Number(await until(page)) > Number(before[0]) + 5);
  await assertAccessible(page, 'scenarios with a bar');
  await page.getByRole('link', { name: /^Projections/ }).click();
  await page.getByText('one run without chance').waitFor();
  await page.getByRole('button', { name: 'Project', exact: true }).click();
  await projected(page);
  await assertFan(page);
  await assertAccessible(page, 'projections without data');
});

test('by keys alone: the same', async () => {
  const page = await opened();
  await page.goto(server.url);
  let keys = 0;
  const press = async key => {
    keys++;
    await page.keyboard.press(key);
  };
  const to = async words => {
    for (let k = 0; k < 30; k++) {
      const found = await page.evaluate(sought => {
        const at = document.activeElement;
        return at !== document.body && `${at.id} ${at.getAttribute('aria-label') ?? at.innerText ?? ''}`.trim().match(sought) !== null;
      }, words.source);
      if (found) return;
      await press('Tab');
    }
    assert.fail(`Tab never reached ${words}`);
  };
  await to(/title/);
  await press('Enter');
  await page.waitForURL(/build/);
  await to(/an epidemic/);
  await press('Enter');
  await page.waitForURL(/patterns/);
  await to(/Add to/);
  await press('Enter');
  await page.waitForURL(/build/);
  await page.locator('#curves svg').waitFor();
  for (const step of ['explore', 'data', 'fit', 'subjects', 'scenarios']) {
    await press('Alt+PageDown');
    await page.waitForURL(new RegExp(step));
  }
  await to(/x 0.5/);
  await press('Enter');
  await bar(page).waitFor();
  await to(/Arrow keys move it/);
  const before = await until(page);
  await press('Shift+ArrowRight');
  await press('Shift+ArrowRight');
  await press('ArrowRight');
  await page.waitForFunction(was => document.querySelector('form.measure [name=until]').value !== was, before);
  assert.equal(Number(await until(page)), Number(before) + 3);
  assert.equal(await bar(page).evaluate(element => element === document.activeElement), true, 'the focus stays with the bar');
  await press('Alt+PageDown');
  await page.waitForURL(/projections/);
  await to(/^Project$/);
  await press('Enter');
  await projected(page);
  await assertFan(page);
  assert.ok(keys < 80, `${keys} keys`);
});

test('a bar goes back with Escape and with undo, and a line that cannot be read is kept', async () => {
  const page = await fresh(
    'Reeds',
    'S -> I : beta * S * I / N; I -> R at 0.2',
    'beta = 0.4; N = S + I + R; S(0) = 990; I(0) = 10; R(0) = 0',
  );
  await page.goto(page.url().replace('build', 'scenarios'));
  await page.getByLabel('Type a measure').fill('beta x, days 20 to 40');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await page.locator('.notice:visible', { hasText: 'A measure is a value' }).waitFor();
  assert.equal(await page.getByLabel('Type a measure').inputValue(), 'beta x, days 20 to 40');
  await page.getByLabel('Type a measure').fill('beta = 0.1, day 20 on');
  await page.keyboard.press('Enter');
  await bar(page).waitFor();
  assert.equal(await page.locator('form.measure [name=kind]').first().inputValue(), 'Set');
  const box = await bar(page).boundingBox(),
    from = page.locator('form.measure [name=from]').first();
  await page.mouse.move(box.x + box.width / 2, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 50, box.y + 10, { steps: 3 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  assert.equal(await from.inputValue(), '20');
  await page.waitForFunction(
    was => Math.abs(document.querySelector('#scenario-chart rect[data-lane]').getBoundingClientRect().x - was) < 1,
    box.x,
  );
  await bar(page).focus();
  await page.keyboard.press('ArrowRight');
  await page.waitForFunction(() => document.querySelector('form.measure [name=from]').value !== '20');
  await page.keyboard.press('Control+z');
  await page.waitForFunction(() => document.querySelector('form.measure [name=from]').value === '20');
});

test('a scenario gets another name, and one that is taken is refused and kept', async () => {
  const page = await fresh('Reeds', 'A -> B at k', 'k = 0.1; A(0) = 1000; B(0) = 0');
  await page.goto(page.url().replace('build', 'scenarios'));
  for (const line of ['k x 0, days 0 to 50', 'k x 2, days 0 to 50']) {
    await page.getByRole('textbox', { name: 'new scenario' }).fill(line.slice(0, 5));
    await page.getByRole('button', { name: 'Add scenario' }).click();
    await page.getByLabel(`Type a measure of ${line.slice(0, 5)}`).fill(line);
    await page.keyboard.press('Enter');
    await page.locator('.compared', { hasText: line.slice(0, 5) }).waitFor();
  }
  await page.getByLabel('Name of the scenario k x 0').fill('k x 2');
  await page.keyboard.press('Enter');
  await page.locator('.notice:visible', { hasText: 'already' }).waitFor();
  assert.equal(await page.getByLabel('Name of the scenario k x 0').inputValue(), 'k x 2');
  await page.getByLabel('Name of the scenario k x 0').fill('Nothing leaves');
  await page.keyboard.press('Enter');
  await page.locator('.compared', { hasText: 'Nothing leaves' }).waitFor();
});

test('another curve is compared, and what it comes to', async () => {
  const page = await fresh('Reeds', 'A -> B at k', 'k = 0.1; A(0) = 1000; B(0) = 0');
  await page.goto(page.url().replace('build', 'scenarios'));
  await page.getByLabel('Type a measure').fill('k x 0, days 0 to 150');
  await page.keyboard.press('Enter');
  await bar(page).waitFor();
  await page.getByLabel('compare').selectOption({ label: 'A → B' });
  await page.waitForURL(/of=/);
  // Nothing flows while the rate is nothing; without the measure all of it does.
  const rows = await page.locator('.compared tbody tr').allTextContents();
  assert.match(rows[1].replace(/\s+/g, ' '), /k × 0 0 0 0/);
  assert.match(rows[0], /1\u2009000/);
});

test('what is done at times and on conditions is typed, refused, changed and taken away, and its lane shows when it acts', async () => {
  const page = await fresh('Reeds of Vorrin', 'A(0) = 100; B(0) = 0; A -> B : k * A; k = 0.02 per day');
  await page.goto(page.url().replace(/build.*$/, 'scenarios'));
  const type = async (text, label = 'Type a measure') => {
    await page.getByLabel(label).first().fill(text);
    await page.keyboard.press('Enter');
    await page.waitForLoadState();
  };
  const marks = () => page.locator('#scenario-chart rect.bar').count();
  await type('at 5: A -> Z : 20');
  await page.getByRole('alert').filter({ hasText: 'Z' }).waitFor();
  assert.equal(await page.getByLabel('Type a measure').inputValue(), 'at 5: A -> Z : 20', 'what was typed stays to be mended');
  await type('every 10 from 20 until 50: A -> B : 5');
  await page.locator('#scenario-chart rect.bar').nth(3).waitFor();
  assert.equal(await marks(), 4);
  await type('while A < 50: k = 0', 'Type a measure of');
  await page.locator('#scenario-chart rect.bar').nth(4).waitFor();
  const table = await page.locator('table.compared').textContent();
  await type('every 10 from 20 until 30: A -> B : 5', /^What .* does: every/);
  await page.waitForFunction(was => document.querySelector('table.compared').textContent !== was, table);
  assert.equal(await marks(), 3);
  await assertAccessible(page, 'scenarios with rules');
  await page.getByRole('link', { name: /^Projections/ }).click();
  await page.getByRole('button', { name: 'Project', exact: true }).click();
  await projected(page);
  await page.locator('#projection-chart rect.bar title').first().waitFor({ state: 'attached' });
  assert.match(await page.locator('#projection-chart rect.bar title').first().textContent(), /^in 100 % of the replicates$/);
  await page.locator('#projection-chart text', { hasText: 'acts in 100 %' }).first().waitFor();
  await page.getByRole('link', { name: /^Scenarios/ }).click();
  await page.getByRole('button', { name: /^Remove the measure while/ }).click();
  await page.waitForFunction(() => document.querySelectorAll('#scenario-chart rect.bar').length === 2);
  assert.equal(await page.getByText('It does nothing in this run').count(), 0);
  await type('when A > 1000: A -> B : 5', 'Type a measure of');
  await page.getByText('It does nothing in this run').waitFor();
  await page.keyboard.press('Control+z');
  await page.getByText('It does nothing in this run').waitFor({ state: 'detached' });
  await page.keyboard.press('Control+z');
  await page.waitForFunction(() => document.querySelectorAll('#scenario-chart rect.bar').length === 3);
});

test('a scenario is duplicated, switched off and on, moved up and removed from its menu', async () => {
  const page = await fresh('Reeds of Vorrin', 'A(0) = 100; A -> : k * A; k = 0.02 per day');
  await page.goto(page.url().replace(/build.*$/, 'scenarios'));
  await page.getByLabel('Type a measure').fill('k x 0.5, days 20 to 40');
  await page.keyboard.press('Enter');
  await bar(page).waitFor();
  const names = () => page.locator('section.scenario [name=name]').evaluateAll(fields => fields.map(field => field.value));
  const choose = async (scenario, what) => {
    await page.getByLabel(`More for the scenario ${scenario}`, { exact: true }).click();
    await page.getByRole('button', { name: what }).and(page.locator('details[open] button')).click();
    await page.waitForLoadState();
  };
  await choose('k × 0.5', 'Duplicate');
  await page.locator('section.scenario').nth(1).waitFor();
  assert.deepEqual(await names(), ['k × 0.5', 'k × 0.5 (2)']);
  await choose('k × 0.5 (2)', 'Move up');
  await page.waitForFunction(() => document.querySelector('section.scenario [name=name]').value.endsWith('(2)'));
  await page.locator('#scenario-chart path.hue-s2').first().waitFor();
  await choose('k × 0.5', /^Off/);
  await page.getByText('it has no curve').waitFor();
  await page.locator('#scenario-chart path.hue-s2').waitFor({ state: 'detached' });
  assert.equal(await page.locator('table.compared tbody tr').count(), 3);
  await assertAccessible(page, 'scenarios, one of them off');
  await choose('k × 0.5', 'Run it again');
  await page.locator('#scenario-chart path.hue-s2').first().waitFor();
  await choose('k × 0.5 (2)', 'Remove scenario');
  await page.locator('section.scenario').nth(1).waitFor({ state: 'detached' });
  assert.deepEqual(await names(), ['k × 0.5']);
});

test('what measures cost is typed by mouse and by keys, refused and kept, and stands beside what they avert, by chance too', async () => {
  const page = await fresh('Rushes cost', 'A -> B at k; k = 0.1 per day; V -> : 0 * V; A(0) = 100');
  await page.goto(page.url().replace(/build$/, 'scenarios'));
  const add = async text => {
    await page.fill('section.scenario:last-of-type input[name=line], form input[aria-label="Type a measure"]', text);
    await page.keyboard.press('Enter');
  };
  await add('at 1: A -> V : 40');
  await page.locator('section.scenario summary', { hasText: /^cost$/ }).click();
  const field = page.getByLabel('What at 1: A -> V : 40 costs');
  await field.fill('dear');
  await page.keyboard.press('Enter');
  await page.getByText('“dear” is no cost. Type what it costs once').waitFor();
  assert.equal(await field.inputValue(), 'dear');
  await field.fill('100, 5 each');
  await page.keyboard.press('Enter');
  // What was moved at day 1 would have been 40 exp(-14.9) after 150 days: next to nothing is averted.
  await page.locator('.compared th', { hasText: /^cost$/ }).waitFor();
  const rows = () => page.locator('.compared tbody tr').evaluateAll(all => all.map(row => row.cells[row.cells.length - 1].innerText));
  assert.deepEqual((await rows()).slice(0, 2), ['0', '300']);
  // Looked at where it is moved to, it brings 40 more, and averts none.
  await page.locator('select[name=of]').selectOption({ label: 'V' });
  await page.waitForFunction(() => /averts none/.test(document.querySelector('.compared')?.textContent ?? ''));
  assert.equal(await page.locator('.compared tr[title="Baseline costs no more and leaves no more"]').count(), 1);
  await assertAccessible(page, 'costs');
  const version = () => page.locator('input[name=version]').first().inputValue();
  const [costly, head] = [await version(), page.locator('.compared th', { hasText: /^cost$/ })];
  await page.keyboard.press('Control+z');
  await loaded(page, costly);
  assert.equal(await head.count(), 0);
  const without = await version();
  await page.keyboard.press('Control+Shift+z');
  await loaded(page, without);
  assert.equal(await head.count(), 1);
  await page.getByRole('link', { name: 'Project', exact: true }).click();
  await page.getByRole('button', { name: 'Project', exact: true }).focus();
  await page.keyboard.press('Enter');
  await projected(page);
  await page.waitForFunction(() => !document.querySelector('.progress'));
  const costs = await page.locator('.projected tbody tr').evaluateAll(all => all.map(row => row.cells[4].innerText.split('\n')[0]));
  assert.deepEqual(costs, ['0', '300', '+300']);
});

test('names of curves that end at one place lie on no other text', async () => {
  const page = await demo('scenarios');
  for (const [name, line] of [
    ['Shots', 'every 1 day from 50 until 70: S -> R : 200'],
    ['More shots', 'every 1 day from 50 until 70: S -> R : 300'],
  ]) {
    for (const [field, text] of [
      ['new scenario', name],
      [`Type a measure of ${name}`, line],
    ]) {
      const before = await page.locator('input[name=version]').first().inputValue();
      await page.getByLabel(field).fill(text);
      await page.keyboard.press('Enter');
      await loaded(page, before);
    }
    await page.locator('#scenario-chart .end-name', { hasText: name }).waitFor();
  }
  const lying = await page
    .locator('#scenario-chart svg')
    .first()
    .evaluate(chart => {
      const boxes = selector =>
        [...chart.querySelectorAll(selector)].map(one => ({ text: one.textContent, box: one.getBoundingClientRect() }));
      const over = (one, other, from, to) => Math.min(one.box[to], other.box[to]) - Math.max(one.box[from], other.box[from]);
      return boxes('.end-name').flatMap(one =>
        boxes('text:not(.end-name)')
          .filter(other => over(one, other, 'left', 'right') > 1 && over(one, other, 'top', 'bottom') > 1)
          .map(other => `${one.text} and ${other.text}`),
      );
    });
  assert.deepEqual(lying, []);
});

test('a scenario builds on another by keys, follows it, and a circle is refused', async () => {
  const page = await fresh('Rushes both', 'A -> B at k; k = 0.1 per day; A(0) = 100');
  await page.goto(page.url().replace(/build.*$/, 'scenarios'));
  const sent = async action => {
    const before = await page.locator('input[name=version]').first().inputValue();
    await action();
    await loaded(page, before);
  };
  await sent(async () => {
    await page.getByLabel('Type a measure').fill('k x 0.5, days 0 to 150');
    await page.keyboard.press('Enter');
  });
  await sent(async () => {
    await page.getByLabel('new scenario').fill('Both');
    await page.keyboard.press('Enter');
  });
  const final = k => page.locator('.compared tbody tr:not(.difference)').nth(k).locator('td').nth(2).innerText();
  const [baseline, half] = [await final(0), await final(1)];
  assert.equal(await final(2), baseline);
  const both = page.locator('section.scenario').nth(1);
  await both.locator('summary', { hasText: 'builds on others' }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Tab');
  await sent(() => page.keyboard.press('Space'));
  assert.equal(await final(2), half);
  assert.ok(await page.getByLabel('Both builds on').isChecked());
  await assertAccessible(page, 'a scenario that builds on another');
  await page.locator('section.scenario').first().locator('summary', { hasText: 'builds on others' }).click();
  await page.getByLabel('builds on Both').click();
  await page.getByText('One of the two goes without the other.').waitFor();
  await sent(() => page.keyboard.press('Control+z'));
  assert.equal(await final(2), baseline);
});
