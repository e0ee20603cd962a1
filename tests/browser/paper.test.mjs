// The diagram by mouse: an epidemic from nothing, everything deleted and brought back.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { assertAccessible } from './support/browser.mjs';
import { edited, openLine, run } from './support/build.mjs';
import { session } from './support/session.mjs';

const { fresh, demo } = session({ permissions: ['clipboard-read', 'clipboard-write'] });
let page;

/** A new study of three plates in a row, susceptible, infectious and recovered, and two flows between them. */
const begin = async () => {
  page = await demo('build', 'patterns/closed-epidemic');
  await page.locator('.flow').nth(1).waitFor();
};

const plate = symbol => page.locator(`.plate:not(.reference)[aria-label^="${symbol},"]`);
const flow = ends => page.locator(`.flow[aria-label="Flow ${ends}"]`);
const centre = async locator => {
  const box = await locator.boundingBox();
  return [box.x + box.width / 2, box.y + box.height / 2];
};

/** A drag with the mouse in several moves, as a hand makes it. */
async function drag([x1, y1], [x2, y2], key) {
  await page.mouse.move(x1, y1);
  await page.mouse.down();
  if (key) await page.keyboard.down(key);
  for (let k = 1; k <= 6; k++) await page.mouse.move(x1 + ((x2 - x1) * k) / 6, y1 + ((y2 - y1) * k) / 6);
  await page.mouse.up();
  if (key) await page.keyboard.up(key);
}

/** The middle of a plate's right rim. */
async function rim(symbol) {
  const box = await plate(symbol).locator('.sheet').boundingBox();
  return [box.x + box.width - 1, box.y + box.height / 2];
}

async function newPlate(at, name) {
  await page.mouse.dblclick(...at);
  await edited(page, async () => {
    await page.locator('.paper-field').fill(name);
    await page.keyboard.press('Enter');
  });
}

/** Gives the flow whose line is open its rate, by clicking into the field. */
async function rate(ends, text) {
  const form = page.locator('.line-item.open .line-form');
  await form.waitFor();
  await edited(page, async () => {
    await form.locator('.main-field').fill(text);
    await form.locator('.main-field').press('Enter');
  });
  assert.equal(await page.locator('.line-item.open').count(), 1, ends);
}

test('an epidemic from nothing by mouse', async () => {
  page = await fresh('Fever in Tesk');
  const box = await page.locator('#diagram-pane').boundingBox();
  const at = (x, y) => [box.x + x, box.y + y];
  await newPlate(at(120, 190), 'Susceptible');
  await newPlate(at(380, 190), 'Infectious');
  await newPlate(at(640, 190), 'Recovered');
  assert.deepEqual(await page.locator('.plate .symbol').allTextContents(), ['S', 'I', 'R']);
  await edited(page, async () => drag(await rim('S'), await centre(plate('I'))));
  await rate('S → I', ': 0.4 * S * I / 1000');
  await edited(page, async () => drag(await rim('I'), await centre(plate('R'))));
  await rate('I → R', 'after 5 days');
  for (const [line, start] of [
    [/^S,/, '995'],
    [/^I,/, '5'],
  ]) {
    await openLine(page, line);
    await edited(page, async () => {
      await page.locator('.line-item.open .main-field').fill(start);
      await page.locator('.line-item.open .main-field').press('Enter');
    });
  }
  const { curves } = await run(page);
  const [s, i, r] = ['S', 'I', 'R'].map(symbol => curves.find(curve => curve.symbol === symbol).values);
  assert.ok(Math.max(...i) > 100, 'an outbreak');
  for (const k of s.keys()) assert.ok(Math.abs(s[k] + i[k] + r[k] - 1000) < 1e-6);
  assert.equal(await page.locator('.unfinished').count(), 0);
  await assertAccessible(page, 'the diagram');
});

test('a flow is drawn to empty paper, with the pen from it, and turned round while it is drawn', async () => {
  await begin();
  const box = await page.locator('#diagram-pane').boundingBox();
  await edited(page, async () => drag(await rim('R'), [box.x + 700, box.y + 330]));
  assert.equal(await flow('R → outside').count(), 1);
  await page.getByRole('button', { name: 'Flow', exact: true }).click();
  await edited(page, async () => drag([box.x + 60, box.y + 320], await centre(plate('S'))));
  assert.equal(await flow('outside → S').count(), 1);
  await edited(page, async () => drag(await rim('S'), await centre(plate('R')), 'Shift'));
  assert.equal(await flow('R → S').count(), 1);
});

test('a gesture broken off half-way changes nothing', async () => {
  await begin();
  const version = await page.inputValue('#version');
  const [x, y] = await rim('S');
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 60, y + 60, { steps: 4 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  const before = await plate('I').getAttribute('data-box');
  const [px, py] = await centre(plate('I'));
  await page.mouse.move(px, py);
  await page.mouse.down();
  await page.mouse.move(px + 50, py + 40, { steps: 4 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  assert.equal(await page.inputValue('#version'), version);
  assert.equal(await plate('I').getAttribute('data-box'), before);
  assert.equal(await plate('I').getAttribute('transform'), null);
  assert.equal(await page.locator('.sketch').count(), 0);
});

test('a flow onto its own plate is refused before it is let go', async () => {
  await begin();
  const version = await page.inputValue('#version');
  const [x, y] = await rim('S');
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 30, y + 5, { steps: 4 });
  assert.match(await page.locator('#gesture-hint').textContent(), /moves nothing/);
  assert.equal(await page.locator('.plate.refuses').count(), 1);
  await page.mouse.up();
  assert.equal(await page.inputValue('#version'), version);
});

test('a ribbon is bent and straightened, its caption moved, and its head fans it out', async () => {
  await begin();
  await page.getByRole('button', { name: 'Fit' }).click();
  const ribbon = flow('I → R');
  const straight = await ribbon.locator('.ribbon').getAttribute('d');
  await openLine(page, /^I → R/);
  const handle = page.locator('.handle[data-handle=bend]');
  const [hx, hy] = await centre(handle);
  await edited(page, () => drag([hx, hy], [hx, hy - 60]));
  assert.notEqual(await ribbon.locator('.ribbon').getAttribute('d'), straight);
  await edited(page, async () => page.mouse.dblclick(...(await centre(page.locator('.handle[data-handle=bend]')))));
  assert.equal(await ribbon.locator('.ribbon').getAttribute('d'), straight);
  const caption = ribbon.locator('.caption .formula');
  const [cx, cy] = await centre(caption);
  await edited(page, () => drag([cx, cy], [cx + 10, cy + 90]));
  const moved = await centre(caption);
  assert.ok(Math.abs(moved[1] - cy - 90) < 4, `the caption moved by ${moved[1] - cy}`);
  await newPlate([(await rim('R'))[0] - 60, (await rim('R'))[1] + 110], 'Died');
  const [x, y] = await centre(ribbon.locator('.head'));
  await edited(page, async () => drag([x, y], await centre(plate('D'))));
  assert.equal(await page.locator('.flow[aria-label^="Flow I → R, D"]').count(), 2);
});

test('several plates are chosen by a box, aligned, nudged and collected in a region that folds', async () => {
  await begin();
  const [sx, sy] = await centre(plate('S')),
    [rx] = await centre(plate('I'));
  await drag([sx - 70, sy - 50], [rx + 70, sy + 50]);
  assert.equal(await page.locator('#selection-count').textContent(), '2 selected');
  await edited(page, async () => {
    await plate('S').focus();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowDown');
  });
  await edited(page, () => page.getByRole('button', { name: 'Align top' }).click());
  const tops = await page.locator('.plate.chosen').evaluateAll(plates => plates.map(one => one.dataset.box.split(' ')[1]));
  assert.equal(new Set(tops).size, 1);
  await page.getByRole('button', { name: 'Region' }).click();
  await edited(page, async () => {
    await page.locator('.paper-field').fill('Healthy and ill');
    await page.keyboard.press('Enter');
  });
  const region = page.locator('.region');
  await region.focus();
  await edited(page, () => page.keyboard.press('Enter'));
  assert.equal(await page.locator('.plate.folded').count(), 1);
  assert.equal(await plate('S').count(), 0);
  await edited(page, () => page.locator('.plate.folded .region-name').dblclick());
  assert.equal(await plate('S').count(), 1);
});

test('words are written on the paper, changed, and taken away', async () => {
  await begin();
  await page.getByRole('button', { name: 'Text', exact: true }).click();
  await edited(page, async () => {
    await page.locator('.paper-field').fill('All made up');
    await page.keyboard.press('Enter');
  });
  const text = page.locator('.paper-text');
  assert.match(await text.textContent(), /All made up/);
  await text.focus();
  await page.keyboard.press('Enter');
  await edited(page, async () => {
    await page.locator('.paper-field').fill('Made up, all of it');
    await page.keyboard.press('Enter');
  });
  assert.match(await text.textContent(), /all of it/);
  await text.focus();
  await edited(page, () => page.keyboard.press('Delete'));
  assert.equal(await text.count(), 0);
});

test('one travels from plate to plate along the flows by keyboard', async () => {
  await begin();
  await plate('S').focus();
  const label = () => page.evaluate(() => document.activeElement.getAttribute('aria-label'));
  await page.keyboard.press('.');
  assert.match(await label(), /^Flow S → /);
  await page.keyboard.press('.');
  assert.match(await label(), /^I,/);
  await page.keyboard.press('.');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press(',');
  assert.match(await label(), /^I,/);
});

test('choosing a part shows what it moves, with signs, in words too', async () => {
  await begin();
  await openLine(page, /^I,/);
  await page.locator('.influences', { hasText: 'moves S → I +' }).waitFor();
  await page.locator('.diagram.weighing').waitFor();
  assert.ok((await page.locator('.dependency.more').count()) >= 1);
  await page.getByRole('button', { name: 'Dependencies' }).click();
  await page.keyboard.press('Escape');
});

test('the picture travels with its fonts and shows what was drawn', async () => {
  await begin();
  await page.locator('.tool-menu summary', { hasText: 'Picture' }).click();
  const [svg] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save SVG' }).click()]);
  const { readFile } = await import('node:fs/promises');
  const text = await readFile(await svg.path(), 'utf8');
  assert.match(text, /font-face/);
  assert.match(text, /base64,/);
  assert.ok(text.includes('Susceptible'));
  assert.ok(!text.includes('class='), 'no style sheet is needed');
  const [png] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save PNG' }).click()]);
  const bytes = await readFile(await png.path());
  // A PNG says its width in the four bytes after its header chunk's name.
  assert.equal(bytes.readUInt32BE(16), 1600);
  await page.locator('.tool-menu summary', { hasText: 'Picture' }).click();
});

test('the picture is copied as a drawing and as dots', async () => {
  await begin();
  await page.locator('.tool-menu summary', { hasText: 'Picture' }).click();
  await page.getByRole('button', { name: 'Copy SVG' }).click();
  await page.locator('.picture-words', { hasText: 'copied' }).waitFor();
  assert.match(await page.evaluate(() => navigator.clipboard.readText()), /^<svg[^]*Susceptible[^]*<\/svg>\s*$/);
  await page.getByRole('button', { name: 'Copy PNG' }).click();
  const head = await page.evaluate(async () => {
    for (;;) {
      const [item] = await navigator.clipboard.read();
      if (item?.types.includes('image/png')) return [...new Uint8Array(await (await item.getType('image/png')).arrayBuffer())].slice(0, 8);
      await new Promise(requestAnimationFrame);
    }
  });
  assert.deepEqual(head, [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a], 'the signature of a PNG file');
  await page.locator('.tool-menu summary', { hasText: 'Picture' }).click();
});

test('zoom ends at its limits, and no way of moving loses the paper', async () => {
  await begin();
  const level = async () => Number.parseInt(await page.locator('#zoom-level').textContent());
  const { x, y, width, height } = await page.locator('#diagram').boundingBox();
  await page.mouse.move(x + width / 2, y + height / 2);
  await page.keyboard.down('Control');
  for (let k = 0; k < 12; k++) await page.mouse.wheel(0, -400);
  await page.waitForFunction(() => document.getElementById('zoom-level').textContent === '600 %');
  for (let k = 0; k < 24; k++) await page.mouse.wheel(0, 400);
  await page.waitForFunction(() => document.getElementById('zoom-level').textContent === '4 %');
  await page.keyboard.up('Control');
  for (let k = 0; k < 10; k++) await page.mouse.wheel(5000, 5000);
  const inside = () =>
    page.evaluate(() => {
      const pane = document.getElementById('diagram').getBoundingClientRect();
      return [...document.querySelectorAll('.plate')].some(plate => {
        const box = plate.getBoundingClientRect();
        return box.right > pane.left && box.left < pane.right && box.bottom > pane.top && box.top < pane.bottom;
      });
    });
  assert.ok(await inside(), 'a plate is still to be seen');
  await page.getByRole('button', { name: 'Fit' }).click();
  assert.ok(await inside());
  assert.ok((await level()) > 20);
});

test('plates stand in line by their middles', async () => {
  await begin();
  await edited(page, async () =>
    drag(
      await centre(plate('I')),
      (await centre(plate('I'))).map(at => at + 40),
    ),
  );
  const middles = () =>
    page
      .locator('.plate.chosen')
      .evaluateAll(all =>
        all.map(one => one.dataset.box.split(' ').map(Number)).map(([x, y, width, height]) => [x + width / 2, y + height / 2]),
      );
  const plates = page.locator('.plate');
  for (let k = 0; k < 3; k++) await plates.nth(k).click({ modifiers: ['Shift'] });
  await edited(page, () => page.getByRole('button', { name: 'Middle', exact: true }).click());
  const level = await middles();
  assert.equal(level.length, 3);
  // Places on the paper are kept to tenths.
  assert.ok(Math.max(...level.map(([, y]) => y)) - Math.min(...level.map(([, y]) => y)) < 0.11);
});

test('a reaction is typed, drawn as a node between what it takes and makes, opened and changed', async () => {
  page = await fresh(
    'Mites on kelp',
    'reaction settle: mite + 2 kelp -> pair : 0.001 * mite * kelp; mite(0) = 90; kelp(0) = 60; -> kelp : 0.5 * settle',
  );
  // The dots of the steps follow edits.
  await page.getByRole('link', { name: /^Build ?, ready/ }).waitFor();
  const reactionNode = page.locator('.reaction-node');
  assert.equal(
    await reactionNode.getAttribute('aria-label'),
    'Reaction settle, mite + 2 kelp -> pair : 0.001 * mite * kelp. Enter opens it.',
  );
  assert.equal(await page.locator('.flow.leg').count(), 3);
  assert.equal(await page.locator('.flow.leg .count', { hasText: '2' }).count(), 1);
  await page.waitForFunction(() => document.querySelector('.reaction-node [data-rate]')?.textContent.includes('a day'));
  // Its ribbons go along with a plate that is dragged.
  const before = await page.locator('.flow.leg .ribbon').first().getAttribute('d');
  await edited(page, async () =>
    drag(
      await centre(plate('mite').locator('.sheet')),
      (await centre(plate('mite').locator('.sheet'))).map(at => at + 60),
    ),
  );
  assert.notEqual(await page.locator('.flow.leg .ribbon').first().getAttribute('d'), before);
  await reactionNode.focus();
  await page.keyboard.press('Enter');
  const field = page.locator('.line-item.open .main-field');
  await field.waitFor();
  await page.locator('.influences', { hasText: /moves .*mite −, kelp −, pair \+/ }).waitFor();
  await field.fill('mite + 2 kelp -> pair + ghost : 0.001 * mite');
  await edited(page, () => page.keyboard.press('Enter'));
  await page.locator('.reaction-node.unfinished').waitFor();
  await page.locator('.line-item', { hasText: 'ghost' }).first().waitFor();
  await page.keyboard.press('Escape');
  await page.waitForFunction(() => !document.querySelector('.weighing'));
  await assertAccessible(page, 'a reaction');
});
