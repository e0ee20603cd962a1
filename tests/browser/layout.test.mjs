// Every main view, small and large, light and dark, with the demo data, with a long model and with nothing: nothing is cut off, covered, or beside what it
// belongs to. What is looked for stands in support/layout.mjs.
import { join } from 'node:path';
import { after, before, test } from 'node:test';
import assert from 'node:assert/strict';
import { assertAccessible, openBrowser, openPage } from './support/browser.mjs';
import { addLine, begin, edited, openLine } from './support/build.mjs';
import { layoutFaults } from './support/layout.mjs';
import { root, Server } from './support/server.mjs';

const sizes = [
  [1280, 800],
  [1024, 700],
  [1600, 1000],
];
// In development, where the page of the parts that screens are made of is shown.
const server = new Server({ ASPNETCORE_ENVIRONMENT: 'Development' });
let browser;

before(async () => {
  await server.start();
  browser = await openBrowser();
});

after(async () => {
  await browser.close();
  await server.end();
});

/** Looks at the page as it stands in each size; in the dark in one of them, since what stands where does not depend on colours. */
async function look(page, where, found) {
  for (const [width, height] of sizes) {
    await page.setViewportSize({ width, height });
    for (const colorScheme of width === 1280 ? ['dark', 'light'] : ['light']) {
      await page.emulateMedia({ colorScheme });
      // Charts are drawn for their new size with the next frames.
      await page.evaluate(() => new Promise(resolve => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(resolve)))));
      for (const fault of await layoutFaults(page)) found.set(fault, [...(found.get(fault) ?? []), `${where} at ${width}, ${colorScheme}`]);
    }
  }
}

const said = found =>
  [...found]
    .map(([fault, places]) => `${fault}: ${places.slice(0, 3).join(', ')}${places.length > 3 ? ` and ${places.length - 3} more` : ''}`)
    .join('\n');

const opened = () => openPage(browser);
const study = async (page, title) => {
  await page.goto(server.url);
  await page.getByText(title).click();
  await page.locator('#curves svg').waitFor();
  return page.url().replace(/\/build$/, '');
};
const steps = ['explore', 'data', 'fit', 'subjects', 'scenarios', 'projections', 'history', 'files'];
const visit = async (page, address, step) => {
  await page.goto(`${address}/${step}`);
  if (step === 'explore') await page.locator('.panel svg, .empty').first().waitFor();
};

test('pages without a study', async () => {
  const page = await opened(),
    found = new Map();
  for (const path of [
    '/',
    '/settings',
    '/?archived=true',
    '/?search=medicine',
    '/patterns/epidemic-with-vaccination',
    '/patterns/stages-of-life',
    '/guide',
    '/guide/formulas',
    '/guide?search=share',
    '/design',
    '/nothing',
  ]) {
    await page.goto(server.url + path);
    await look(page, path, found);
    for (const colorScheme of ['light', 'dark']) {
      await page.emulateMedia({ colorScheme });
      await assertAccessible(page, `${path}, ${colorScheme}`);
    }
  }
  assert.equal(said(found), '');
});

test('the demo study in every step', async () => {
  const page = await opened(),
    found = new Map();
  const address = await study(page, 'Marram fever in Quay Ordan');
  await look(page, 'build', found);
  await openLine(page, /^S → E/);
  await look(page, 'an open flow', found);
  await openLine(page, /^S, /);
  await look(page, 'an open compartment', found);
  await page.locator('.time-menu > summary').click();
  await look(page, 'the unit of time', found);
  await page.keyboard.press('Escape');
  for (const view of ['Equations', 'Units', 'Run']) {
    await page.getByRole('button', { name: view, exact: true }).click();
    await page.locator(`[data-view=${view}][aria-pressed=true]`).waitFor();
    await page.locator('#workspace h2').first().waitFor();
    await look(page, view, found);
  }
  for (const step of steps) {
    await visit(page, address, step);
    if (step === 'explore') {
      await page.getByRole('button', { name: 'Keep this run' }).click();
      await page.locator('.kept-run').waitFor();
      await page.selectOption('.explore-side select[name=address]', 'beta');
      await page.locator('.explore-side').getByRole('button', { name: 'Add', exact: true }).click();
      await page.locator('.slider').waitFor();
      await page.locator('.panel-menu > summary').first().click();
      await look(page, 'the menu of a panel', found);
      await page.keyboard.press('Escape');
    }
    await look(page, step, found);
  }
  assert.equal(said(found), '');
});

test('many subjects: their data, a fit of their own values, their curves', async () => {
  const page = await opened(),
    found = new Map();
  const address = await study(page, 'Brennalo');
  await look(page, 'build with doses', found);
  await page.goto(`${address}/subjects`);
  await page.getByText('% of 500 subjects').waitFor();
  await page.locator('#subject-dots svg').first().waitFor();
  await look(page, 'subjects', found);
  await page.goto(`${address}/data`);
  await look(page, 'data of subjects', found);
  await page.goto(`${address}/fit`);
  for (const own of await page.locator('input[name=own]').all()) await own.check();
  await page.locator('input[name=starts]').fill('1');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.locator('table.subjects').waitFor({ timeout: 120_000 });
  await look(page, 'own values', found);
  await assertAccessible(page, 'own values');
  assert.equal(said(found), '');
});

test('results of a fit and of a projection', async () => {
  const page = await opened(),
    found = new Map();
  const address = await study(page, 'Marram fever in Quay Ordan');
  await page.goto(`${address}/fit`);
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.locator('.estimates').waitFor({ timeout: 60_000 });
  await look(page, 'fitted', found);
  await page.goto(`${address}/projections`);
  await page.fill('[name=replicates]', '20');
  await page.getByRole('button', { name: 'Project', exact: true }).click();
  await page.locator('.projected').waitFor({ timeout: 60_000 });
  await look(page, 'projected', found);
  assert.equal(said(found), '');
});

test('a study with two series of what stood, in every step', async () => {
  const page = await opened(),
    found = new Map();
  const address = await study(page, 'The Vorrin apiary');
  await look(page, 'build', found);
  for (const step of ['explore', 'data', 'fit', 'projections']) {
    await visit(page, address, step);
    await look(page, step, found);
  }
  await page.goto(`${address}/data`);
  await page.setInputFiles('#file', join(root, 'demo/vorrin-apiary-as-sent.csv'));
  await page.locator('#mapping').waitFor();
  await look(page, 'a table', found);
  assert.equal(said(found), '');
});

test('a long model and an empty one', async () => {
  const page = await opened(),
    found = new Map();
  const address = await study(page, 'Marram fever round the estuary');
  await look(page, 'build', found);
  for (const step of steps) {
    await visit(page, address, step);
    await look(page, step, found);
  }
  await begin(page, server, 'A study with a title that is as long as titles are when somebody means to say in it all that it is about');
  const empty = page.url().replace(/\/build$/, '');
  await look(page, 'empty', found);
  for (const step of steps) {
    await visit(page, empty, step);
    await look(page, `empty ${step}`, found);
  }
  await page.goto(`${empty}/build`);
  await addLine(
    page,
    'infectiousness_before_onset(0) = 123456.789 people; infectiousness_before_onset -> somewhere_else_entirely after 12.3456789 days in 3 stages; unfinished_quantity = infectiousness_before_onset * what_is_not_there',
  );
  await openLine(page, /^infectiousness_before_onset → /);
  await look(page, 'long names', found);
  await edited(page, () => page.locator('.line-item.open .radios input').nth(2).check());
  await look(page, 'findings', found);
  assert.equal(said(found), '');
});

test('what is looked for is found', async () => {
  const page = await openPage(browser);
  await page.setContent(`<body style="margin: 0"><section style="position: relative; width: 400px; border: 1px solid black">
    <div style="position: relative; height: 40px"><p style="position: absolute; margin: 0">Words that lie</p><p style="position: absolute; margin: 0">on other words</p></div>
    <p style="width: 50px; overflow: hidden; white-space: nowrap">Words that are cut off</p>
    <table style="display: flex"><thead><tr><th>Head</th></tr></thead><tbody><tr><td>Body</td></tr></tbody></table>
    <table style="width: 300px"><thead><tr><th style="text-align: right">Far</th></tr></thead><tbody><tr><td>Near</td></tr></tbody></table>
    <input style="width: 40px" placeholder="what it proposes is long">
    <button style="position: relative; left: 390px">Outside</button>
    <div style="width: 3000px; height: 2px"></div>
    <button style="display: block">Under</button><button style="position: relative; top: -22px; left: 8px">Over</button>
  </section></body>`);
  const faults = (await layoutFaults(page)).join('\n');
  for (const words of [
    /wider than the window/,
    /text lies on text/,
    /text is cut off/,
    /stands beside its body/,
    /the head “Far” stands at the other side/,
    /too narrow/,
    /px outside its panel/,
    /under another/,
    /touches the edge/,
  ])
    assert.match(faults, words);
});
