// Takes the pictures of the README from the built application with the demo study: node docs/screenshots/take.mjs
import { join } from 'node:path';
import { openBrowser, openPage } from '../../tests/browser/support/browser.mjs';
import { addLine, begin, edited, openLine } from '../../tests/browser/support/build.mjs';
import { Server } from '../../tests/browser/support/server.mjs';

const gulls = [
  'unit bird; eggs -> chicks after 28 days',
  'chicks -> adults 60%, outside the rest after 45 days in 3 stages',
  'laying = points 0 0, 90 0.01, 140 0.03, 200 0.01, 300 0 smooth then repeat 365 days; crowding(x) = hill(1, 0, 0.8, 3); weather = gamma(1, 0.2) every 14 days',
  '-> eggs : laying(t) * adults * crowding(adults / room) * weather',
  'adults -> : loss * adults; loss = 0.1 per year; room = 900 birds; adults(0) = 400 birds',
  'while adults > 700: loss = 0.3 per year',
  'assume: no birds come from other harbours',
  'expect: eggs >= 0',
];
const server = new Server();
await server.start();
// The whole browser: it finds the system's letters for signs that the fonts of the pages lack.
const browser = await openBrowser(['chromium', 'chromium-headless-shell']);
try {
  for (const [suffix, colorScheme] of [
    ['', 'light'],
    ['-dark', 'dark'],
  ]) {
    const page = await openPage(browser, { colorScheme });
    const shoot = name => page.screenshot({ path: join(import.meta.dirname, `${name}${suffix}.png`) });
    await page.goto(server.url);
    // Its small pictures are drawn in the background.
    await page.waitForFunction(() => {
      const cards = [...document.querySelectorAll('.study-card')];
      return cards.length > 0 && cards.every(card => card.querySelectorAll('svg.thumb').length === 2);
    });
    if (!suffix) await shoot('shelf');
    await page.getByText('Marram fever in Quay Ordan').click();
    await page.locator('#curves svg').waitFor();
    const study = page.url().replace(/\/build$/, '');
    await page.getByRole('button', { name: /^β,/ }).click();
    await page.locator('.line-item.open .main-field').waitFor();
    await page.locator('.influences', { hasText: 'moves' }).waitFor();
    await shoot('build');
    await page.goto(server.url);
    await page.getByText('Marram fever round the estuary').click();
    await page.locator('#curves svg').waitFor();
    for (const region of ['Vorrin', 'Ammelow', 'Quay Ordan', 'On the ferry']) {
      // They are folded already where a picture was taken before.
      const area = page.locator('.region').filter({ hasText: region });
      if ((await area.count()) === 0) continue;
      await area.focus();
      await edited(page, () => page.keyboard.press('Enter'));
    }
    await page.getByRole('button', { name: 'Fit' }).click();
    if (suffix) continue;
    await shoot('regions');
    await page.goto(server.url);
    await page.getByText('Marram fever by age').first().click();
    await page.locator('#curves svg').first().waitFor();
    await openLine(page, /^C,/);
    await shoot('groups');
    await page.goto(`${server.url}/patterns/epidemic-with-vaccination`);
    await shoot('pattern');
    await page.goto(`${study}/build`);
    await addLine(page, 'beta = 0.38 per day');
    await addLine(page, 'R -> S after 200 days');
    await page.goto(`${study}/history`);
    await page.getByRole('button', { name: 'Compare' }).click();
    await page.getByText('R → S').first().waitFor();
    await shoot('history');
    await page.goto(`${study}/build`);
    await page.locator('#curves svg').waitFor();
    await page.getByRole('button', { name: 'Equations' }).click();
    await page.getByText('Balances').waitFor();
    await shoot('equations');
    await page.getByRole('button', { name: 'Units', exact: true }).click();
    await page.getByText('Units of the parts').waitFor();
    await shoot('units');
    await page.getByRole('button', { name: 'Run', exact: true }).click();
    await page.getByText('Conserved totals').waitFor();
    await shoot('run');
    await page.goto(server.url);
    await page.getByText('Brennalo', { exact: true }).first().click();
    await page.locator('#curves svg').waitFor();
    await page.goto(page.url().replace(/build.*$/, 'subjects'));
    await page.getByText('% of 500 subjects').waitFor();
    await shoot('subjects');
    await page.goto(`${server.url}/settings`);
    await shoot('settings');
    await begin(page, server, 'Gulls of Tesk');
    for (const line of gulls) await addLine(page, line);
    await openLine(page, /^laying/);
    await page.locator('.points-chart svg').waitFor();
    await shoot('input');
    await page.goto(`${study}/explore`);
    await page.locator('.panel svg').first().waitFor();
    await page.selectOption('.explore-side select[name=address]', 'beta');
    await page.locator('.explore-side').getByRole('button', { name: 'Add', exact: true }).click();
    const value = page.getByLabel('beta as a number');
    for (const beta of ['0.3', '0.45']) {
      await value.fill(beta);
      await value.press('Tab');
      const count = await page.locator('.kept-run').count();
      await page.getByRole('button', { name: 'Keep this run' }).click();
      await page.waitForFunction(before => document.querySelectorAll('.kept-run').length > before, count);
    }
    await page.getByRole('button', { name: 'Reset' }).click();
    await page.locator('.panel-menu > summary').first().click();
    // The infectious alone, so that colour tells the runs.
    const boxes = page.locator('#panel-x1 [data-pick=curves]');
    for (let k = 0; k < 6; k++) {
      if (k === 2) continue;
      const version = await page.inputValue('#version');
      await boxes.nth(k).uncheck();
      await page.waitForFunction(before => document.getElementById('version').value !== before, version);
    }
    await page.locator('.panel-menu > summary').first().click();
    await page.waitForFunction(() => document.querySelectorAll('#panel-x1 .panel-part:first-child .line').length === 3);
    await page.locator('#panel-x3 .reading').waitFor();
    await shoot('explore');
    for (const kind of ['Sweep', 'Sensitivity', 'Phase', 'Sweep']) {
      const count = await page.locator('.panel').count();
      await page.selectOption('.add-panel select', kind);
      await page.locator('.add-panel button:not([data-residuals])').click();
      await page.waitForFunction(before => document.querySelectorAll('.panel').length > before, count);
    }
    const map = page.locator('.panel').last();
    await map.locator('.panel-menu > summary').click();
    await map.getByLabel(/^\s*and at once/).selectOption('illness');
    await map.locator('.map rect').first().waitFor();
    await map.locator('.panel-menu > summary').click();
    await page.locator('[data-kind=Sensitivity] .bar').first().waitFor();
    const phase = page.locator('[data-kind=Phase]');
    await phase.locator('.panel-menu > summary').click();
    await phase.getByLabel(/^\s*value/).selectOption('beta');
    await phase.locator('.value-name').nth(3).waitFor();
    await phase.locator('.panel-menu > summary').click();
    await page
      .locator('[data-kind=Sweep]')
      .first()
      .evaluate(panel => panel.scrollIntoView());
    await shoot('sweep');
    await page.goto(server.url);
    await page.getByText('The Vorrin apiary').click();
    await page.locator('#curves svg').waitFor();
    await page.goto(page.url().replace(/build$/, 'data'));
    await page.setInputFiles('#file', join(import.meta.dirname, '../../demo/vorrin-apiary-as-sent.csv'));
    await page.getByRole('button', { name: 'Use these data' }).waitFor();
    await shoot('data');
    await page.goto(`${study}/fit`);
    await page.locator('#held > summary').click();
    await page.locator('input[name=tick][value=rho]').check();
    await page.getByRole('button', { name: 'Fit', exact: true }).click();
    await page.waitForFunction(() => document.querySelector('.estimates') && !document.querySelector('.progress'));
    await page.getByLabel(/negative binomial/).check();
    await page.getByRole('button', { name: 'Fit', exact: true }).click();
    await page.waitForFunction(() => document.querySelectorAll('.fits tbody tr').length > 1 && !document.querySelector('.progress'));
    await shoot('fit');
    await page.goto(`${study}/scenarios`);
    await page.getByLabel('new scenario').fill('Warning level');
    await page.keyboard.press('Enter');
    await page.getByLabel('Type a measure of Warning level').fill('while I > 200: beta = 0.6 * beta');
    await page.keyboard.press('Enter');
    await page.locator('#scenario-chart rect.hue-s2').first().waitFor();
    for (const [k, cost] of ['500, 20 per day', '15 per day'].entries()) {
      await page
        .locator('section.scenario')
        .nth(k)
        .locator('summary', { hasText: /^cost$/ })
        .click();
      await page.locator('input[name=cost]').nth(k).fill(cost);
      const version = await page.locator('input[name=version]').first().inputValue();
      await page.keyboard.press('Enter');
      await page.waitForFunction(
        before => document.readyState === 'complete' && document.querySelector('input[name=version]')?.value > before,
        version,
      );
    }
    await page.locator('#scenario-chart rect.hue-s2').first().waitFor();
    await shoot('scenarios');
    await page.goto(`${study}/projections`);
    await page.getByLabel('and of each run').fill('peak(H) > 90 and peak_time(H) > 80');
    await page.getByLabel('and where the spread comes from').check();
    await page.getByRole('button', { name: 'Project', exact: true }).click();
    await page.waitForFunction(() => document.querySelector('.projected') && !document.querySelector('.progress'), null, {
      timeout: 120000,
    });
    await shoot('projections');
  }
} finally {
  await browser.close();
  await server.end();
}
