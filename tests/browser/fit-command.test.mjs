// Fits by the command line: worked examples of the documentation, estimates, profiles and refusals.
import assert from 'node:assert/strict';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { cleartide, rows, scratch, study } from './support/commandline.mjs';
import { root } from './support/server.mjs';

const folder = scratch();

test('the worked examples of fitting files are fitted, with all of the fit as JSON', () => {
  const examples = [...readFileSync(join(root, 'docs/fitting-files.md'), 'utf8').matchAll(/```json\n(.*?)```/gs)].map(([, text]) => text);
  const fitted = examples.map((text, k) => {
    const [file, out] = [join(folder, `example${k}.study.json`), join(folder, `example${k}.json`)];
    writeFileSync(file, text);
    const { status, stderr } = cleartide('fit', file, '--starts', '5', '--out', out);
    assert.equal(status, 0, stderr);
    return JSON.parse(readFileSync(out, 'utf8'));
  });
  const [curve, counts, subjects] = fitted;
  const of = (fit, name) => fit.estimates.find(({ value }) => value === name);
  // Weights fall by a fifth a day, and 214 reports of six weeks are two parts: how many are reported, and how fast.
  assert.ok(Math.abs(of(curve, 'k').estimate - 0.2) < 0.01 && curve.logPrior < 2, JSON.stringify(curve.estimates));
  assert.ok(
    Math.abs(counts.rows.reduce((sum, row) => sum + row.expected, 0) - 214) < 1e-3,
    'a Poisson fit with a free factor keeps the total',
  );
  assert.equal(
    counts.optima.reduce((sum, one) => sum + one.starts, 0),
    5,
  );
  // Drawn with 0.2 an hour and 0.6 L/kg, 8 % errors in 36 levels: each is known to about three parts in a hundred.
  assert.ok(Math.abs(of(subjects, 'k').estimate - 0.2) < 0.02 && Math.abs(of(subjects, 'Vkg').estimate - 0.6) < 0.06);
  const own = JSON.parse(examples[2]);
  own.study.fit.parameters[1].own = true;
  writeFileSync(join(folder, 'own.study.json'), JSON.stringify(own));
  assert.equal(cleartide('fit', join(folder, 'own.study.json'), '--starts', '2', '--out', join(folder, 'own.json')).status, 0);
  const each = JSON.parse(readFileSync(join(folder, 'own.json'), 'utf8'));
  assert.deepEqual([each.subjects.length, each.subjects[0].subject, each.estimates.length], [12, 'Asta', 1]);
  assert.ok(each.subjects.every(({ values, standardErrors }) => Math.abs(values.Vkg - 0.6) < 0.3 && standardErrors.Vkg > 0));
  assert.ok(of(counts, 'k').profile.length > 8 && of(counts, 'k').profile.some(([, fall]) => fall === 0));
  const refused = cleartide('fit', join(folder, 'example1.study.json'), '--prior', 'k=normal(9, 0.1)');
  assert.equal(refused.status, 1);
  assert.match(refused.stderr, /prior of k: it has nothing between the bounds/);
});

test('a fit gives its estimates with their intervals, and refuses in words', () => {
  const out = join(folder, 'estimates.csv');
  const { status, stdout, stderr } = cleartide('fit', study, '--estimate', 'beta=0.05..1', '--out', out);
  assert.equal(status, 0, stderr);
  assert.equal(stdout, '');
  assert.match(stderr, /Log-likelihood .*, AIC .*, from \d+ starts/);
  const [heads, beta] = rows(readFileSync(out, 'utf8'));
  assert.deepEqual(heads, ['value', 'estimate', 'standard_error', 'low_95', 'high_95', 'knowledge', 'words']);
  const [estimate, error, low, high] = beta.slice(1, 5).map(Number);
  assert.ok(low < estimate && estimate < high && error > 0 && high - low < 10 * error, beta.join());
  for (const [words, sentence] of [
    [['fit', study, '--estimate', 'bata=0.05..1'], /no value “bata”/],
    [['fit', study, '--estimate', 'beta'], /name=lower\.\.upper/],
    [['fit', study, '--estimate', 'beta=1..0.5'], /cross/],
    [['fit', study, '--estimate', 'beta=0.05..1', '--tie', 'illness=2/betta'], /follows from betta, which is no value/],
    [['fit', study, '--estimate', 'beta=0.05..1', '--tie', 'illness'], /--tie is written name=formula/],
    [['fit', join(root, 'demo/round-the-estuary.study.json'), '--estimate', 'beta=0.05..1'], /no data to fit/],
  ]) {
    const refused = cleartide(...words);
    assert.equal(refused.status, 1);
    assert.match(refused.stderr, sentence);
  }
});

test('a fit is asked for by its name, and points of an input and the start day can be estimated', () => {
  const named = JSON.parse(readFileSync(study, 'utf8'));
  named.study.fits = [
    { name: 'Contacts alone', setup: { law: 'poisson', parameters: [{ address: 'beta', lower: 0.05, upper: 1 }], starts: 3 } },
    { name: 'With the day', setup: { law: 'poisson', parameters: [{ address: 't.start', lower: -20, upper: 0 }], starts: 3 } },
  ];
  const file = join(folder, 'named.study.json');
  writeFileSync(file, JSON.stringify(named));
  const values = name => {
    const made = cleartide('fit', file, '--fit', name);
    assert.equal(made.status, 0, made.stderr);
    return rows(made.stdout)
      .slice(1)
      .map(([value]) => value);
  };
  assert.deepEqual(values('Contacts alone'), ['beta']);
  assert.deepEqual(values('With the day'), ['t.start']);
  const wrong = cleartide('fit', file, '--fit', 'With the night');
  assert.equal(wrong.status, 1);
  assert.match(wrong.stderr, /no fit “With the night” in this study\. Its fits are “Contacts alone”, “With the day”/);
  const none = cleartide('fit', study, '--fit', 'With the day');
  assert.match(none.stderr, /No fit of this study has a name/);
});

test('a fit writes its profiles, follows ties, and finds the same from other starts', () => {
  const fit = (...words) => {
    const made = cleartide('fit', study, '--estimate', 'beta=0.05..1', '--starts', '4', ...words);
    assert.equal(made.status, 0, made.stderr);
    return rows(made.stdout);
  };
  const [, beta] = fit(),
    [, low, high] = beta.slice(1, 5).map(Number).slice(1),
    profile = fit('--profile');
  assert.deepEqual(profile[0], ['name', 'value', 'fall']);
  const points = profile.slice(1).map(([, value, fall]) => [Number(value), Number(fall)]);
  assert.ok(points.some(([value, fall]) => Math.abs(value - Number(beta[1])) < 1e-9 && fall === 0));
  // Where an interval ends, the log-likelihood has fallen by half of the 95 % quantile of chi-squared.
  const at = end => points.reduce((best, point) => (Math.abs(point[0] - end) < Math.abs(best[0] - end) ? point : best))[1];
  for (const end of [low, high]) assert.ok(Math.abs(at(end) - 1.9207) < 0.05, `${end} ${at(end)}`);
  const seeded = fit('--seed', '7')[1];
  assert.ok(Math.abs(Number(seeded[1]) - Number(beta[1])) < 1e-6 * Number(beta[1]));
  const tied = fit('--tie', 'illness=2/beta')[1];
  assert.ok(Math.abs(Number(tied[1]) - Number(beta[1])) > 1e-3);
});

test('a problem of the open format is written from a study, fitted as it is, and refused in words', () => {
  const lines = join(folder, 'reeds.txt'),
    made = join(folder, 'reeds.study.json');
  writeFileSync(lines, 'A(0) = 100\nk = 0.4 per day\nA -> at k\n');
  assert.equal(cleartide('convert', lines, made).status, 0);
  const file = JSON.parse(readFileSync(made, 'utf8'));
  const rows = [1, 2, 4, 7].map(t => ({ start: t, end: t, value: 100 * Math.exp(-0.25 * t), error: 2 }));
  Object.assign(file.study, {
    observations: [{ id: 'o99', dataSet: 'd', label: 'Reeds', flowId: '', reporting: '1', seen: 'standing', formula: 'A' }],
    fit: { law: 'poisson', parameters: [{ address: 'k', lower: 0.01, upper: 4 }] },
  });
  file.dataSets = [{ id: 'd', name: 'reeds', rows }];
  writeFileSync(made, JSON.stringify(file));
  const written = cleartide('convert', made, join(folder, 'reeds.yaml'));
  assert.equal(written.status, 0, written.stderr);
  assert.match(readFileSync(join(folder, 'reeds-measurements.tsv'), 'utf8'), /^observableId\tsimulationConditionId/);
  const fitted = cleartide('fit', join(folder, 'reeds.yaml'));
  assert.equal(fitted.status, 0, fitted.stderr);
  const [name, estimate] = fitted.stdout.trim().split('\n')[1].split(',');
  assert.equal(name, 'k');
  assert.ok(Math.abs(Number(estimate) - 0.25) < 1e-6, estimate);
  writeFileSync(join(folder, 'broken.yaml'), 'format_version: 1\nparameter_file: none.tsv\nproblems: []\n');
  const refused = cleartide('fit', join(folder, 'broken.yaml'));
  assert.equal(refused.status, 1);
  assert.match(refused.stderr, /names no parameter_file and no problems/);
});
