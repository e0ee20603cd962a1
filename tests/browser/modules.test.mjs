// Browser modules without a browser: the arithmetic of drawing.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { importModule } from './support/module.mjs';

const { thin } = await importModule('chart/thin');
const { amount, brief, tick } = await importModule('chart/numbers');
const { arrangeByForces } = await importModule('paper/forces');
const { valueAt } = await importModule('chart/marks');

/** The greatest distance, up or down, of a point from the line through those kept. */
function worst(x, y, kept) {
  let most = 0;
  for (let k = 0; k + 1 < kept.length; k++) {
    const [from, to] = [kept[k], kept[k + 1]];
    for (let j = from + 1; j < to; j++)
      most = Math.max(most, Math.abs(y[from] + ((y[to] - y[from]) * (x[j] - x[from])) / (x[to] - x[from]) - y[j]));
  }
  return most;
}

/** Numbers between 0 and 1 in an order of their own for each seed. */
function numbers(seed) {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

test('a thinned curve never leaves what was left out by more than the tolerance', () => {
  for (let seed = 1; seed <= 200; seed++) {
    const next = numbers(seed),
      count = 2 + Math.floor(200 * next()),
      rough = next() < 0.3;
    const x = Float64Array.from({ length: count }, (_, k) => 3 * k),
      period = 5 + 50 * next(),
      tolerance = 0.05 + next();
    const y = x.map(at => 100 * Math.sin(at / period) + (rough ? 20 * next() : 0));
    const kept = thin(x, y, tolerance);
    assert.equal(kept[0], 0);
    assert.equal(kept.at(-1), count - 1);
    assert.ok(
      kept.every((at, k) => k === 0 || at > kept[k - 1]),
      'rising',
    );
    // The slopes are compared after a division: a rounding of the last digits more than the tolerance is right.
    assert.ok(worst(x, y, kept) <= tolerance * (1 + 1e-9), `seed ${seed}`);
  }
});

test('a straight line is two points, a bend a third', () => {
  const x = [0, 1, 2, 3, 4, 5, 6];
  assert.deepEqual(
    thin(
      x,
      x.map(at => 2 * at + 1),
      0.1,
    ),
    [0, 6],
  );
  assert.deepEqual(
    thin(
      x,
      x.map(at => Math.abs(at - 3) * 10),
      0.1,
    ),
    [0, 3, 6],
  );
});

test('a smooth curve of hundreds of samples needs few', () => {
  const x = Float64Array.from({ length: 600 }, (_, k) => k),
    y = x.map(at => 200 / (1 + Math.exp(-(at - 300) / 40)));
  // A chord of a curve with curvature c misses it by c L²/8: with c up to 0.012 and 0.15 px, chords are some 10 to 50 px long.
  assert.ok(thin(x, y, 0.15).length < 70);
});

test('both sides of a jump and of a gap are kept', () => {
  assert.deepEqual(thin([0, 1, 2, 2, 3, 4], [5, 5, 5, 90, 90, 90], 0.1), [0, 2, 3, 5]);
  assert.deepEqual(thin([0, 1, 2, 3, 4, 5, 6], [1, 1, 1, NaN, 1, 1, 1], 0.1), [0, 2, 3, 4, 6]);
  assert.deepEqual(thin([0, 1, 2], [NaN, NaN, 4], 0.1), [0, 1, 2]);
});

test('nothing and one point', () => {
  assert.deepEqual(thin([], [], 0.1), []);
  assert.deepEqual(thin([4], [2], 0.1), [0]);
});

test('numbers on charts', () => {
  const narrow = '\u2009';
  const cases = [
    [null, '—'],
    [Infinity, '—'],
    [0, '0'],
    [-0, '0'],
    [12.34567, '12.35'],
    [-3, '−3'],
    [18400, `18${narrow}400`],
    [1234567.8, `1${narrow}234${narrow}568`],
    [2.5e9, `2${narrow}500 million`],
    [0.00012, '0.00012'],
    [1e-9, `<${narrow}0.000001`],
    [-1e-9, `>${narrow}−0.000001`],
  ];
  for (const [value, said] of cases) assert.equal(amount(value), said, String(value));
  for (const [value, said] of [
    [0, '0'],
    [1500, `1${narrow}500`],
    [0.25, '0.25'],
    [2.5, '2.5'],
    [-40, '−40'],
    [3e6, `3${narrow}million`.replace(narrow, ' ')],
  ])
    assert.equal(tick(value), said, String(value));
});

test('numbers where there is little room', () => {
  const narrow = '\u2009';
  for (const [value, said] of [
    [null, '—'],
    [0, '0'],
    [8.7e-6, `<${narrow}0.001`],
    [-8.7e-6, `>${narrow}−0.001`],
    [0.0123456, '0.01235'],
    [99.94, '99.94'],
    [12345.6, `12${narrow}346`],
    [-250.4, '−250'],
  ]) {
    assert.equal(brief(value), said, String(value));
    assert.ok(said.length <= 7 + (value < 0 ? 1 : 0));
  }
});

test('a curve read between its samples', () => {
  const times = [0, 1, 2, 2, 4],
    values = [0, 10, 20, 5, 9];
  assert.equal(valueAt(times, values, 0.5), 5);
  assert.equal(valueAt(times, values, 3), 7);
  assert.equal(valueAt(times, values, 4), 9);
  assert.equal(valueAt(times, values, 2), 5, 'at a jump the value after it');
  assert.equal(valueAt(times, values, -1), null);
  assert.equal(valueAt(times, values, 5), null);
  assert.equal(valueAt([0, 1], [3, null], 0.5), 3, 'beside a gap the known side');
  assert.equal(valueAt([], [], 0), null);
});

test('a dense net is woven so that no plate covers another, the same way each time', () => {
  for (let seed = 1; seed <= 8; seed++) {
    const next = numbers(seed),
      count = 24 + Math.floor(60 * next()),
      ids = Array.from({ length: count }, (_, k) => `c${k}`);
    const links = Array.from({ length: 3 * count }, () => [ids[Math.floor(count * next())], ids[Math.floor(count * next())]]);
    const places = arrangeByForces(ids, { width: 112, height: 72 }, [...links, ['c0', 'nowhere']]),
      all = [...places.values()];
    assert.deepEqual([...arrangeByForces(ids, { width: 112, height: 72 }, links).values()], all);
    for (const [k, [x, y]] of all.entries()) {
      assert.ok(x >= 0 && y >= 0);
      for (const [u, v] of all.slice(k + 1))
        assert.ok(Math.abs(x - u) > 112 || Math.abs(y - v) > 72, `seed ${seed}: plates at ${x}, ${y} and ${u}, ${v}`);
    }
    // About as large as its plates with their gaps need, and not a long strip.
    const [wide, high] = [0, 1].map(axis => Math.max(...all.map(place => place[axis])));
    assert.ok(wide * high < 12 * count * 176 * 122 && wide < 6 * high && high < 6 * wide);
  }
});
