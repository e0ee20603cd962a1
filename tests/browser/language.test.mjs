// Whatever a modeller can say: an epidemic by quick line alone and by keyboard alone, slips repaired by their fixes, tables, curves, copies.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { assertAccessible, tabTo } from './support/browser.mjs';
import { begin, edited, findings, openLine, run } from './support/build.mjs';
import { session } from './support/session.mjs';

const { server, opened, fresh } = session({ permissions: ['clipboard-read', 'clipboard-write'] });
const fever = [
  'S -> E : beta * S * I / N',
  'E -> I after 3 days in 2 stages',
  'I -> R 97%, D the rest after 5 days',
  'N = S + E + I + R',
  'beta = 0.4 per day',
  'S(0) = the rest of 9200 people; I(0) = 4',
  'expect: D never falls',
];
const gulls = [
  '-> N : births * season(t) * N * room(N / K); N -> : 0.02 * N per day; births = 0.05 per day; K = 900 animals; N(0) = 60 animals',
  'season = points 0 1, 30 1; room(x) = points 0 1, 1 0',
];
let page;

const amounts = async symbol => (await run(page)).curves.find(curve => curve.symbol === symbol).values;

test('an epidemic from nothing by quick line alone', async () => {
  page = await fresh('Fever in Tesk', ...fever);
  assert.deepEqual(await findings(page), []);
  const last = async symbol => (await amounts(symbol)).at(-1);
  const total = (await last('S')) + (await last('E')) + (await last('I')) + (await last('R')) + (await last('D'));
  assert.ok(Math.abs(total - 9200) < 1e-3, `the total is ${total}`);
  assert.ok(Math.abs((await last('D')) / ((await last('D')) + (await last('R'))) - 0.03) < 1e-6);
  await assertAccessible(page, 'ledger');
});

test('the quick line remembers, helps and completes', async () => {
  page = await fresh('Fever in Tesk', ...fever);
  await page.click('#quick-line');
  await page.keyboard.press('ArrowUp');
  assert.equal(await page.inputValue('#quick-line'), 'expect: D never falls');
  await page.keyboard.press('ArrowUp');
  assert.match(await page.inputValue('#quick-line'), /^S\(0\)/);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  assert.equal(await page.inputValue('#quick-line'), '');
  await page.getByRole('button', { name: 'Help on the quick line' }).click();
  await assertAccessible(page, 'help');
  await page.getByRole('button', { name: 'I -> R at gamma' }).click();
  assert.equal(await page.inputValue('#quick-line'), 'I -> R at gamma');
  await page.fill('#quick-line', '');
  await page.type('#quick-line', 'q = be');
  await page.locator('#completions li').first().waitFor();
  assert.match(await page.locator('#completions li').first().textContent(), /beta.*1\/day/);
  await page.keyboard.press('Tab');
  assert.equal(await page.inputValue('#quick-line'), 'q = beta');
  await page.type('#quick-line', ' * 3 we');
  await page.locator('#completions').getByText('weeks').waitFor();
  await page.keyboard.press('Escape');
  await page.fill('#quick-line', '');
});

test('clicking a part while a formula is open inserts its symbol', async () => {
  page = await fresh('Fever in Tesk', fever.join('; '));
  await page.fill('#quick-line', 'sick = ');
  await page.locator('.plate', { hasText: 'E' }).first().click();
  await page.type('#quick-line', ' + ');
  await page.locator('.line[aria-label^="I,"]').click();
  assert.equal(await page.inputValue('#quick-line'), 'sick = E + I');
  await edited(page, () => page.press('#quick-line', 'Enter'));
  assert.deepEqual(await findings(page), []);
});

test('a line is checked while it is typed, and nothing is saved by that', async () => {
  page = await fresh('Fever in Tesk', fever.join('; '));
  const version = await page.inputValue('#version');
  await openLine(page, /^N,/);
  await page.locator('.line-item.open .main-field').fill('S + E + I + QQ');
  await page.getByText('QQ is not defined.').waitFor();
  assert.equal(await page.inputValue('#version'), version);
  await page.keyboard.press('Escape');
});

test('the equations and units can be read, filtered for, and taken along', async () => {
  page = await fresh('Fever in Tesk', fever.join('; '));
  await page.fill('#ledger-filter', 'bet');
  assert.equal(await page.locator('.line-item:visible').count(), 1);
  await page.fill('#ledger-filter', '');
  await page.getByRole('button', { name: 'Equations' }).click();
  await page.getByText('Balances').waitFor();
  await assertAccessible(page, 'equations');
  for (const [name, wanted] of [
    ['text', /dS\/dt = -beta \* S \* I \/ N/],
    ['LaTeX', /\\frac\{d S\}\{dt\} = -\\frac\{\\beta/],
    ['MathML', /<mfrac>/],
    ['lines', /E -> I after 3 days in 2 stages/],
  ]) {
    // It says so for a moment: the wait begins before the click.
    const said = page.locator('.ledger-copy').getByText('copied').first().waitFor();
    await page.locator('.ledger-copy').getByRole('button', { name, exact: true }).click();
    await said;
    await page.waitForFunction(async pattern => new RegExp(pattern).test(await navigator.clipboard.readText()), wanted.source);
  }
  await page.getByRole('button', { name: 'Units', exact: true }).click();
  await page.getByRole('row', { name: /beta 1\/day given yes/ }).waitFor();
  await assertAccessible(page, 'units');
  await page.fill('.units input[name=word]', 'strip');
  await page.fill('.units input[name=meaning]', '200 mg');
  await edited(page, () => page.locator('.units form button').click());
  await page.getByText('1 strip = 200 mg').waitFor();
  await page.getByRole('button', { name: 'Parts', exact: true }).click();
  await page.locator('#ledger').waitFor();
});

test('parts are selected, duplicated, copied and pasted into another study', async () => {
  page = await fresh('Fever in Tesk', fever.join('; '));
  for (const name of [/^S,/, /^E,/])
    await page
      .locator('.line')
      .filter({ has: page.locator('math') })
      .and(page.getByRole('button', { name }))
      .first()
      .click({ modifiers: ['Control'] });
  await page.getByText('2 selected').waitFor();
  await edited(page, () => page.getByRole('button', { name: 'Duplicate' }).click());
  assert.ok((await run(page)).curves.some(curve => curve.symbol === 'S2'));
  assert.ok((await run(page)).curves.some(curve => curve.symbol === 'S2 → E2'));
  await edited(page, () => page.keyboard.press('Control+z'));
  await page.locator('.line[aria-label^="β,"]').click({ modifiers: ['Control'] });
  await page.locator('#selection-bar').getByRole('button', { name: 'Copy' }).click();
  await page.waitForFunction(async () => (await navigator.clipboard.readText()).includes('clear-tide-parts'));
  await begin(page, server, 'Fever in Ammelow');
  await page.locator('body').click({ position: { x: 400, y: 200 } });
  await edited(page, () => page.keyboard.press('Control+v'));
  await page.locator('.line[aria-label^="β,"]').waitFor();
  assert.match(await page.locator('.line[aria-label^="β,"]').textContent(), /0\.4\sper day/);
});

test('five planted slips are repaired by the offered fixes alone', async () => {
  page = await fresh(
    'Slips in Vorrin',
    'S -> I : bata * S * I / N; I -> R after stay; beta = 0.4 per day; stay = 5 days; N = S + I + R',
    'S(0) = the rest of 5000 people; I(0) = 3; R -> S : wane * R; wane = 0.01 per day',
  );
  const plant = async (name, text) => {
    await openLine(page, name);
    await edited(page, async () => {
      await page.locator('.line-item.open .main-field').fill(text);
      await page.keyboard.press('Enter');
    });
  };
  await plant(/^I → R,/, 'at stay');
  await plant(/^N,/, 'S + I + R + sgrt(0)');
  await plant(/^I, I/, '3 peple');
  await plant(/^R → S,/, ': wane * R * 1 day');
  const expected = [
    /bata is not defined/,
    /“at” takes a rate/,
    /There is no function sgrt/,
    /There is no unit “peple”/,
    /formula is in people/,
  ];
  const said = (await findings(page)).join(' ');
  for (const words of expected) assert.match(said, words);
  assert.match(await page.locator('.unfinished-list h2').textContent(), /4 parts are unfinished/);
  await assertAccessible(page, 'findings');
  for (let k = 0; k < 8 && (await page.locator('.finding .fix').count()) > 0; k++)
    await edited(page, () => page.locator('.finding .fix').first().click());
  assert.deepEqual(await findings(page), []);
  assert.equal((await run(page)).failure, null);
});

test('a repeated monthly input and a response curve', async () => {
  page = await fresh('Gulls of Tesk', ...gulls);
  await openLine(page, /^season,/);
  const months = Array.from({ length: 12 }, (_, month) => `${month * 30}\t${(1 + 0.5 * Math.sin(month)).toFixed(2)}`).join('\n');
  await edited(page, async () => {
    await page.locator('.line-item.open textarea').fill(`day\tBirth season (1/day)\n${months}`.replace(' (1/day)', ''));
    await page.locator('.line-item.open textarea').blur();
  });
  assert.match(await page.locator('.line-item.open button.line').textContent(), /12 points/);
  await edited(page, () => page.locator('.line-item.open').getByLabel('after').selectOption('Repeat'));
  await edited(page, async () => {
    await page.locator('.line-item.open').getByLabel('every').fill('360 days');
    await page.keyboard.press('Enter');
  });
  await page.fill('input[name=end]', '1080');
  await edited(page, () => page.press('input[name=end]', 'Enter'));
  const season = (await run(page)).curves.find(curve => curve.symbol === 'season');
  const { times } = await run(page);
  const at = time => season.values[times.findIndex(other => other >= time)];
  for (const day of [45, 200, 300]) assert.ok(Math.abs(at(day) - at(day + 360)) < 1e-4, `day ${day}: ${at(day)} and ${at(day + 360)}`);
  const point = page.locator('.points-chart .handle').nth(3);
  const before = await page.locator('.line-item.open textarea').inputValue();
  const box = await point.boundingBox();
  await edited(page, async () => {
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2, box.y - 12, { steps: 3 });
    await page.mouse.up();
  });
  assert.notEqual(await page.locator('.line-item.open textarea').inputValue(), before);
  await page.locator('.points-chart .handle').nth(3).focus();
  await edited(page, () => page.keyboard.press('Delete'));
  assert.match(await page.locator('.line-item.open button.line').textContent(), /11 points/);
  await edited(page, () => page.locator('.points-chart svg').dblclick({ position: { x: 150, y: 30 } }));
  assert.match(await page.locator('.line-item.open button.line').textContent(), /12 points/);
  await assertAccessible(page, 'points');
  await openLine(page, /^room,/);
  await edited(page, () => page.locator('.line-item.open').getByLabel('given by').selectOption('Hill'));
  await page.locator('.points-chart .handle.law').first().focus();
  const half = await page.locator('.line-item.open').getByRole('textbox', { name: 'half' }).inputValue();
  await edited(page, () => page.keyboard.press('ArrowRight'));
  assert.notEqual(await page.locator('.line-item.open').getByRole('textbox', { name: 'half' }).inputValue(), half);
});

test('pasted garbage in an input is refused and nothing is lost', async () => {
  page = await fresh('Gulls of Tesk', ...gulls);
  await openLine(page, /^season,/);
  const version = await page.inputValue('#version');
  await page.locator('.line-item.open textarea').fill('hello\nworld');
  await page.locator('.line-item.open textarea').blur();
  await page.getByText(/Line 1, “hello”, is not two numbers/).waitFor();
  assert.equal(await page.inputValue('#version'), version);
});

test('a random input is drawn anew by one key, earlier draws stay faint', async () => {
  page = await fresh('Gulls of Tesk', ...gulls, 'luck = normal(1, 0.3) every 20 days; -> N : luck * 1 animals per day');
  const before = await amounts('N');
  await page.locator('#curves').focus();
  await edited(page, () => page.keyboard.press('Shift+R'));
  assert.notDeepEqual(await amounts('N'), before);
  await edited(page, () => page.keyboard.press('Shift+R'));
  assert.equal(await page.locator('#curves path.before').count(), 2);
  await page.getByText('seed 3').waitFor();
});

test('time is converted or relabelled beside the span', async () => {
  page = await fresh('Gulls of Tesk', ...gulls);
  const days = (await amounts('N')).at(-1);
  await page.getByLabel('Title and question').click();
  await assertAccessible(page, 'question');
  await page.keyboard.press('Escape');
  await page.locator('.time-menu > summary').click();
  await assertAccessible(page, 'unit of time');
  await page.locator('#time-form select').selectOption('week');
  await page.getByRole('button', { name: 'Convert' }).click();
  await page.locator('#curves svg').waitFor();
  assert.equal((await run(page)).unit, 'week');
  // The run is sampled at other points; the amounts stay what they are.
  assert.ok(Math.abs((await amounts('N')).at(-1) / days - 1) < 1e-3);
});

test('a model with a flow and a value by keyboard alone', async () => {
  page = await opened();
  await page.goto(server.url);
  await tabTo(page, '#title');
  await page.keyboard.type('Keys only');
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/build$/);
  await tabTo(page, '#quick-line');
  for (const line of [
    'S -> I : beta * S * I / N',
    'I -> R after 5 days',
    'N = S + I + R',
    'beta = 0.4 per day',
    'S(0) = the rest of 900',
    'I(0) = 2',
  ]) {
    await edited(page, async () => {
      await page.keyboard.type(line);
      await page.keyboard.press('Enter');
    });
  }
  assert.deepEqual(await findings(page), []);
  await tabTo(page, '.line[aria-label^="β,"]');
  await page.keyboard.press('x');
  await edited(page, () => page.keyboard.press('Control+d'));
  await tabTo(page, '.line[aria-label^="beta2,"]');
  await edited(page, () => page.keyboard.press('Alt+ArrowUp'));
  await page.waitForFunction(() => document.activeElement.matches('.line[aria-label^="beta2,"]'));
  await page.keyboard.press('x');
  await edited(page, () => page.keyboard.press('Delete'));
  assert.equal(await page.locator('.line[aria-label^="beta2,"]').count(), 0);
});
