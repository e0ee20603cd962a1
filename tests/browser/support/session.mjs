// A server of its own and a page in a browser, for all tests of a file; both end with them.
import { after } from 'node:test';
import { openBrowser, openPage } from './browser.mjs';
import { Server } from './server.mjs';

/** @param {object} options of the browser's context */
export function session(options) {
  const server = new Server();
  let browser;
  after(async () => {
    await browser?.close();
    await server.end();
  });
  return {
    server,
    /** Starts the server and gives the page. */
    async opened() {
      await server.start();
      browser = await openBrowser();
      return openPage(browser, options);
    },
  };
}
