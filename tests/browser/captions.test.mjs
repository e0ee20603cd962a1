// Captions of the diagram keep clear of each other and of plates, in a large study and in patterns.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { assertAccessible } from './support/browser.mjs';
import { edited } from './support/build.mjs';
import { session } from './support/session.mjs';

const { server, opened, demo } = session();

/** Pairs of captions and plates that cover each other, with all captions shown, as they are from near by. */
const covered = page =>
  page.evaluate(() => {
    const root = document.getElementById('diagram');
    root.classList.remove('far', 'farther');
    const boxes = [...root.querySelectorAll('.caption text, .plate .sheet:not(.under)')].map(element => ({
      of: element.closest('.flow, .plate'),
      box: element.getBBox(),
      words: element.textContent,
    }));
    const name = one => one.words || one.of.getAttribute('aria-label');
    const over = (a, b) => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
    return boxes.flatMap((one, k) =>
      boxes
        .slice(k + 1)
        .filter(other => other.of !== one.of && one.box.width > 0 && other.box.width > 0 && over(one.box, other.box))
        .map(other => `${name(one)} and ${name(other)}`),
    );
  });

test('sixty compartments are folded into their regions and stay apart', async () => {
  const page = await demo('build', 'round-the-estuary');
  await page.locator('#curves svg').waitFor();
  assert.deepEqual(await covered(page), []);
  for (let left = 5; left > 0; left--) {
    await page.locator('.region').first().focus();
    await edited(page, () => page.keyboard.press('Enter'));
  }
  assert.equal(await page.locator('.plate').count(), 5);
  assert.deepEqual(await covered(page), []);
  assert.match(await page.locator('.plate.folded .value').first().textContent(), /people/);
  await assertAccessible(page, 'five folded regions');
});

for (const name of ['Closed epidemic', 'Decay chain', 'Stages of life', 'Predator and prey']) {
  test(`${name}: no caption covers another or a plate`, async () => {
    const page = await opened();
    await page.goto(`${server.url}/patterns/${name.toLowerCase().replaceAll(' ', '-')}`);
    await assertAccessible(page, name);
    await page.getByRole('button', { name: 'Start a study from this' }).click();
    await page.locator('#curves svg').waitFor();
    await page.waitForFunction(() => document.querySelector('[data-rate]')?.textContent);
    assert.deepEqual(await covered(page), []);
  });
}
