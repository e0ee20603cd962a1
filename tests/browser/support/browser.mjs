// Debian's Chromium, headless, with an empty profile; collects what pages complain about. The build without windows is a quarter quicker
// than the one that hides them.
import { execFileSync } from 'node:child_process';
import assert from 'node:assert/strict';
import AxeBuilder from '@axe-core/playwright';
import { chromium } from 'playwright-core';

const flags = [
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** @param {string[]} names the builds of Debian that will do, the best first: that without windows is the quicker one */
export async function openBrowser(names = ['chromium-headless-shell', 'chromium']) {
  const found = names.map(name => `command -v ${name}`).join(' || ');
  const executablePath = execFileSync('sh', ['-c', found]).toString().trim();
  return chromium.launch({ executablePath, args: [...flags, ...(process.getuid?.() === 0 ? ['--no-sandbox'] : [])] });
}

/** What a page is given where nothing else is asked for. */
export const size = { width: 1280, height: 800 };

/** A page that remembers every error of script and console, so that a test can ask for none. */
export async function openPage(browser, options = {}) {
  const context = await browser.newContext({ viewport: size, acceptDownloads: true, ...options });
  const page = await context.newPage();
  // Long enough for a machine that others use too: a test waits for what it expects and not for a time.
  page.setDefaultTimeout(60_000);
  page.complaints = [];
  page.on('pageerror', error => page.complaints.push(error.message));
  // What was refused is told on the page; a request that is under way when the page is left is no fault.
  page.on('console', message => {
    if (message.type() === 'error' && !/status of 4(09|13|22)|^htmx:(sendAbort|afterRequest),/.test(message.text()))
      page.complaints.push(message.text());
  });
  return page;
}

/**
 * Fails for whatever axe finds. In legacy mode, which leaves out frames of other origins (there are none) and the page of its own
 * that results are put together in, and with the nodes of violations alone: a quarter of the time of the other way.
 */
export async function assertAccessible(page, where) {
  const { violations } = await new AxeBuilder({ page })
    .setLegacyMode(true)
    .options({ resultTypes: ['violations'] })
    .analyze();
  assert.deepEqual(
    violations.map(
      violation =>
        `${where}: ${violation.id} at ${violation.nodes
          .map(node => node.target.join(' '))
          .slice(0, 3)
          .join(', ')}`,
    ),
    [],
  );
}

/** Presses Tab until the element that has the focus matches, as a person without a mouse would. */
export async function tabTo(page, selector) {
  for (let k = 0; k < 200; k++) {
    await page.keyboard.press('Tab');
    if (await page.evaluate(wanted => document.activeElement?.matches(wanted), selector)) return;
  }
  assert.fail(`Tab never reached ${selector}`);
}
