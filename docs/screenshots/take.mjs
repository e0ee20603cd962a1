// Takes the pictures of the README from the built application with the demo study: node docs/screenshots/take.mjs
import { join } from 'node:path';
import { openBrowser, openPage } from '../../tests/browser/support/browser.mjs';
import { Server } from '../../tests/browser/support/server.mjs';

const server = new Server();
await server.start();
const browser = await openBrowser();
try {
  for (const [suffix, colorScheme] of [['', 'light'], ['-dark', 'dark']]) {
    const page = await openPage(browser, { colorScheme });
    const shoot = name => page.screenshot({ path: join(import.meta.dirname, `${name}${suffix}.png`) });
    await page.goto(server.url);
    if (!suffix) await shoot('shelf');
    await page.getByText('Marram fever in Quay Ordan').click();
    await page.locator('#curves svg').waitFor();
    const study = page.url().replace(/\/build$/, '');
    await page.getByRole('button', { name: /^β,/ }).click();
    await shoot('build');
    if (suffix) continue;
    await page.goto(`${study}/data`);
    await page.setInputFiles('#file', join(import.meta.dirname, '../../demo/marram-fever-cases.csv'));
    await page.getByRole('button', { name: 'Use these data' }).waitFor();
    await shoot('data');
    await page.goto(`${study}/fit`);
    await page.locator('input[name=tick][value=rho]').check();
    await page.getByRole('button', { name: 'Fit', exact: true }).click();
    await page.waitForFunction(() => document.querySelector('.estimates') && !document.querySelector('.progress'));
    await shoot('fit');
    await page.goto(`${study}/scenarios`);
    await shoot('scenarios');
    await page.goto(`${study}/projections`);
    await page.getByRole('button', { name: 'Project', exact: true }).click();
    await page.waitForFunction(() => document.querySelector('.outcomes') && !document.querySelector('.progress'), null, { timeout: 120000 });
    await shoot('projections');
  }
} finally {
  await browser.close();
  await server.end();
}
