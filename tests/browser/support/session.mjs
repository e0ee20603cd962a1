// A server of its own and a browser, for all tests of a file; both end with them.
import { after } from 'node:test';
import { openBrowser, openPage } from './browser.mjs';
import { addLine, begin } from './build.mjs';
import { Server } from './server.mjs';

/** @param {object} options of the browser's context */
export function session(options) {
  const server = new Server();
  let browser, page;
  const started = async () => {
    if (browser) return;
    await server.start();
    browser = await openBrowser();
  };
  after(async () => {
    await browser?.close();
    await server.end();
  });
  return {
    server,
    /** Starts the server and gives the page. */
    async opened() {
      await started();
      page = await openPage(browser, options);
      return page;
    },
    /** A page with a new study of these lines, that no other test sees; the page of the test before is closed. */
    async fresh(title, ...lines) {
      await started();
      await page?.context().close();
      page = await openPage(browser, options);
      await begin(page, server, title);
      for (const line of lines) await addLine(page, line);
      return page;
    },
    /** A page of a demo study in Build, by a part of its title. */
    async demo(title = 'Marram fever in Quay Ordan') {
      await started();
      await page?.context().close();
      page = await openPage(browser, options);
      await page.goto(server.url);
      await page.getByText(title).click();
      await page.locator('#curves svg').waitFor();
      return page;
    },
  };
}
