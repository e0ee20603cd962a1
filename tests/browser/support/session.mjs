// A server and a browser for all tests of a file. The server is the one that runs for all files, or the file's own where it stands alone
// or does to a server what others would notice. Each test asks for a page of its own, on which no script may have failed when the test
// ends.
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, afterEach } from 'node:test';
import { openBrowser, openPage, size } from './browser.mjs';
import { addLine } from './build.mjs';
import { root, Server, SharedServer } from './server.mjs';

/**
 * @param {object} options of the browser's context
 * @param {boolean} alone whether the server is killed, or its settings or shelf are looked at as nobody else has touched them
 */
export function session(options, alone = false) {
  const server = SharedServer.address && !alone ? new SharedServer() : new Server();
  let browser, page;
  after(async () => {
    await browser?.close();
    await server.end();
  });
  afterEach(async test => {
    // What was there when a test failed tells more than what it waited for.
    if (test.error)
      console.error(`${test.name}: the page showed\n${await page?.locator('body').innerText({ timeout: 5000 }).catch(String)}`);
    assert.deepEqual(page?.complaints ?? [], []);
  });

  /** A page as a new visitor has it. It is that of the test before with all it kept forgotten, since a browser that has read scripts and
   * fonts once is quicker by a third. */
  async function opened() {
    if (!browser) {
      await server.start();
      browser = await openBrowser();
      page = await openPage(browser, options);
      return page;
    }
    await page.unrouteAll();
    if (page.url().startsWith(server.url))
      await page.evaluate(() => {
        localStorage.clear();
        sessionStorage.clear();
      });
    await page.goto('about:blank');
    await page.setViewportSize(size);
    page.complaints.length = 0;
    return page;
  }

  /** Sends a form of the shelf without drawing it or any picture on it, and opens the view of the study that it makes. */
  async function made(fields, view, address = '/') {
    await opened();
    const { request } = page.context(),
      form = await (await request.get(`${server.url}/settings`)).text();
    const token = /name="__RequestVerificationToken"[^>]*value="([^"]+)"/.exec(form)[1];
    const begun = await request.post(new URL(address, server.url).href, { multipart: { ...fields, __RequestVerificationToken: token } });
    await page.goto(begun.url().replace(/build$/, view));
  }

  return {
    server,
    opened,
    /** A page with a new study of these lines, that no other test sees. */
    async fresh(title, ...lines) {
      await made({ title }, 'build');
      for (const line of lines) await addLine(page, line);
      return page;
    },
    /** A page with a copy of a study that is shipped, by the name of its file; in Build, or in another step. */
    async demo(view = 'build', name = 'marram-fever') {
      const file = {
        name: `${name}.study.json`,
        mimeType: 'application/json',
        buffer: readFileSync(join(root, 'demo', `${name}.study.json`)),
      };
      await made({ file }, view, '/?handler=Import');
      await page.locator('main').waitFor();
      return page;
    },
    /** Kills the server as a power cut would, starts it anew and shows the same view of it. */
    async restarted() {
      await server.kill();
      await server.start();
      await page.goto(page.url().replace(/^http:\/\/[^/]+/, server.url));
      // What the page asked for while there was no server was refused, as it had to be.
      page.complaints = page.complaints.filter(complaint => !complaint.includes('ERR_CONNECTION_REFUSED'));
    },
  };
}
