// Dates of the model's time, without a browser: the module is bundled alone and asked.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { root } from './support/server.mjs';

const web = join(root, 'src/ClearTide.Web'),
  { buildSync } = createRequire(join(web, 'package.json'))('esbuild');
const bundle = buildSync({ entryPoints: [join(web, 'Scripts/chart/calendar.ts')], bundle: true, format: 'esm', write: false });
const { dateOf, timeOf, dateTicks } = await import(
  `data:text/javascript;base64,${Buffer.from(bundle.outputFiles[0].contents).toString('base64')}`
);
const from = (zero, months, seconds = 86_400) => ({ zero: new Date(`${zero}T00:00:00Z`), months, seconds });
const day = (of, time) => dateOf(of, time).toISOString().slice(0, 16);

test('months and years have their true lengths, and end where they are too short', () => {
  const january = from('2026-01-31', 1);
  assert.equal(day(january, 1), '2026-02-28T00:00');
  assert.equal(day(january, 2), '2026-03-31T00:00');
  // Half of the 28 days from 31 January, and of the 31 from 28 February.
  assert.equal(day(january, 0.5), '2026-02-14T00:00');
  assert.equal(day(january, 1.5), '2026-03-15T12:00');
  assert.equal(day(january, -1), '2025-12-31T00:00');
  const leap = from('2024-02-29', 12);
  assert.equal(day(leap, 1), '2025-02-28T00:00');
  assert.equal(day(leap, 4), '2028-02-29T00:00');
});

test('a time comes back from its date, in every unit and on both sides of time zero', () => {
  for (const zero of ['2026-01-31', '2024-02-29', '2025-06-15'])
    for (const of of [from(zero, 0), from(zero, 0, 7 * 86_400), from(zero, 1), from(zero, 12)])
      for (let k = -900; k < 2000; k++) {
        const date = new Date(of.zero.getTime() + k * 1.37 * 86_400_000);
        // Dates are whole milliseconds.
        assert.ok(Math.abs(dateOf(of, timeOf(of, date)) - date) <= 1, `${date.toISOString()} from ${zero}`);
      }
});

test('axes name years, months, days and hours, and nothing where a calendar does not reach', () => {
  const names = (of, until) => dateTicks(of, 0, until, 6).map(tick => tick.name);
  assert.deepEqual(names(from('2000-01-01', 12), 50), ['2000', '2010', '2020', '2030', '2040', '2050']);
  assert.deepEqual(names(from('2031-10-15', 0), 150), ['Nov 2031', 'Dec', 'Jan 2032', 'Feb', 'Mar']);
  assert.deepEqual(names(from('2026-02-02', 0), 12).slice(0, 2), ['2 Feb 2026', '4 Feb']);
  assert.deepEqual(names(from('2026-02-02', 0, 3600), 48), [
    '2 Feb 2026',
    ...['06:00', '12:00', '18:00'],
    '3 Feb',
    ...['06:00', '12:00', '18:00'],
    '4 Feb',
  ]);
  assert.deepEqual(names(from('2026-02-02', 0, 1), 20).slice(0, 2), ['2 Feb 2026', '00:00:05']);
  assert.deepEqual(names(from('2026-02-02', 0), 1e12), []);
  assert.deepEqual(names(from('2026-02-02', 0, 1), 1), []);
});
