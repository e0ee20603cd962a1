// The command line as a script would use it: numbers on standard output, words on standard error, exit codes.
import assert from 'node:assert/strict';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { cleartide, rows, scratch, study } from './support/commandline.mjs';
import { root } from './support/server.mjs';

const folder = scratch();

test('a run goes to a file with all its digits', () => {
  const out = join(folder, 'out.csv');
  const { status, stdout } = cleartide('simulate', study, '--end', '50', '--every', '5', '--out', out);
  assert.equal(status, 0);
  assert.equal(stdout, '');
  const table = rows(readFileSync(out, 'utf8'));
  assert.equal(table.length, 1 + 11);
  const total = table[11]
    .slice(1)
    .map(Number)
    .reduce((sum, amount) => sum + amount, 0);
  assert.ok(Math.abs(total - 18400) < 1e-7);
});

test('both methods agree, and a value can be set for one run', () => {
  const last = (...more) => rows(cleartide('simulate', study, '--end', '100', '--every', '100', ...more).stdout)[2].map(Number);
  const [adaptive, fixed] = [last(), last('--method', 'rk4', '--step', '0.05')];
  // Fourth order at a twentieth of a day leaves about eight digits.
  adaptive.forEach((amount, k) => assert.ok(Math.abs(amount - fixed[k]) <= 1e-6 * Math.abs(amount) + 1e-6, `${amount} and ${fixed[k]}`));
  // The stiff method controls its steps at 1e-8 too; what is left of Euler's and the midpoint's errors follows from their order and step.
  for (const [more, share] of [
    [['--method', 'stiff'], 1e-6],
    [['--method', 'adaptive'], 1e-6],
    [['--method', 'midpoint', '--step', '0.02'], 1e-4],
    [['--method', 'euler', '--step', '0.01'], 5e-2],
  ]) {
    last(...more).forEach((amount, k) =>
      assert.ok(Math.abs(amount - adaptive[k]) <= share * Math.abs(adaptive[k]) + 1e-6, `${more[1]}: ${amount} and ${adaptive[k]}`),
    );
  }
  assert.ok(last('--set', 'beta=0')[2] < 1e-6, 'without contacts nobody is exposed');
  assert.deepEqual(last('--set', 'illness=1 week'), last('--set', 'illness=7'));
});

test('bad input ends with 1 and a sentence, wrong usage with 2', () => {
  const broken = join(folder, 'broken.study.json');
  writeFileSync(broken, '{"format": "clear-tide-study", "version": 1, "study": {');
  for (const [words, status, sentence] of [
    [['simulate', join(folder, 'none.study.json')], 1, /There is no file/],
    [['simulate', broken], 1, /broken at line/],
    [['simulate', study, '--set', 'bata=1'], 1, /Did you mean beta\?/],
    [['simulate', study, '--set', 'beta'], 1, /name=value/],
    [['simulate', study, '--set', 'beta=x+1'], 1, /plain number/],
    [['simulate', study, '--every', '0'], 1, /must be positive/],
    [['simulate', study, '--end', '-5'], 1, /after the start/],
    [['simulate', study, '--every', '1e-9'], 1, /output times/],
    [['simulate'], 2, /FILE|Required/],
    [['simulate', study, '--method', 'magic'], 2, /magic/],
    [['dance'], 2, /dance/],
  ]) {
    const answer = cleartide(...words);
    assert.equal(answer.status, status, `${words.join(' ')}: ${answer.stderr}`);
    assert.match(answer.stderr, sentence);
    assert.equal(answer.stdout, '', words.join(' '));
  }
});

test('columns may be quantities, flows and what flows have come to', () => {
  const run = cleartide('simulate', study, '--end', '60', '--every', '30', '--columns', 'S,N,S -> E,total(S -> E)');
  assert.equal(run.status, 0, run.stderr);
  const [head, start, , end] = rows(run.stdout);
  assert.deepEqual(head, ['time', 'S', 'N', 'S -> E', 'total(S -> E)']);
  assert.equal(Number(start[4]), 0);
  // What has flowed out of S is what S has lost: continuous output is good to some 1e-7 of it.
  assert.ok(Math.abs(Number(end[4]) - (Number(start[1]) - Number(end[1]))) < 1e-3);
  const wrong = cleartide('simulate', study, '--columns', 'S,betta');
  assert.equal(wrong.status, 1);
  assert.match(wrong.stderr, /no compartment, flow or quantity “betta”/);
  assert.match(cleartide('simulate', study, '--columns', 'total(S)').stderr, /sums up a flow/);
});

test('a model may be a text of lines, goes in discrete steps, and takes a tolerance for one compartment', () => {
  const lines = join(folder, 'reactions.txt');
  writeFileSync(lines, 'A -> B at 0.04 per day\nB -> C : 3e7 * B ^ 2\nB -> A : 1e4 * B * C\nA(0) = 1\n');
  const run = cleartide(
    'simulate',
    lines,
    '--end',
    '40',
    '--every',
    '40',
    '--method',
    'stiff',
    '--rtol',
    '1e-6',
    '--atol',
    '1e-8',
    '--atol',
    'B=1e-14',
  );
  assert.equal(run.status, 0, run.stderr);
  // Robertson's reactions at t = 40, as published to seven digits: 0.7158271 and 9.185535e-6 (Hairer and Wanner, II, IV.10).
  const [, y1, y2] = rows(run.stdout)[2].map(Number);
  assert.ok(Math.abs(y1 - 0.7158271) < 1e-5 && Math.abs(y2 - 9.185535e-6) < 1e-10, `${y1} ${y2}`);
  assert.match(cleartide('simulate', lines, '--atol', 'b=1').stderr, /no compartment “b”/);
  assert.match(cleartide('simulate', lines, '--atol', 'none').stderr, /number above zero/);
  const steps = join(folder, 'steps.txt');
  writeFileSync(steps, 'A -> B at 0.5\nA(0) = 64\n');
  assert.equal(rows(cleartide('simulate', steps, '--end', '6', '--every', '6', '--method', 'discrete', '--step', '1').stdout)[2][1], '1');
  writeFileSync(steps, 'A -> B at 0.5\nA(0) == 64\n');
  const broken = cleartide('simulate', steps);
  assert.equal(broken.status, 1);
  assert.match(broken.stderr, /^Line 2: /);
});

test('check lists what Build would say, and fails for what cannot be run', () => {
  const good = cleartide('check', study);
  assert.equal(good.status, 0, good.stdout);
  assert.match(good.stdout, /The model runs\./);
  const lines = join(folder, 'unfinished.txt');
  writeFileSync(lines, 'A -> B : drift * A\nA(0) = 3\n');
  const bad = cleartide('check', lines);
  assert.equal(bad.status, 1);
  assert.match(bad.stdout, /unfinished: A → B: drift is not defined/);
  writeFileSync(lines, '-> A : A ^ 2\nA(0) = 1\n');
  assert.match(cleartide('check', lines).stdout, /failure: The run stopped at day 1/);
});

test('convert goes from a study to lines and back, and to equations', () => {
  const [lines, again, equations] = ['model.txt', 'again.study.json', 'model.tex'].map(name => join(folder, name));
  const told = cleartide('convert', study, lines);
  assert.equal(told.status, 0, told.stderr);
  assert.match(told.stderr, /Lines do not hold .*scenarios/);
  assert.equal(cleartide('convert', lines, again).status, 0);
  const last = file => rows(cleartide('simulate', file, '--end', '50', '--every', '50').stdout)[2];
  assert.deepEqual(last(again), last(study));
  assert.equal(cleartide('convert', study, equations).status, 0);
  assert.match(readFileSync(equations, 'utf8'), /\\frac\{d S\}\{dt\}/);
  const wrong = cleartide('convert', study, join(folder, 'model.xyz'));
  assert.equal(wrong.status, 1);
  assert.match(wrong.stderr, /stands for no form/);
});

test('SBML runs like a study file, its columns by id', () => {
  const file = join(folder, 'decay.xml');
  writeFileSync(
    file,
    `<?xml version="1.0"?><sbml xmlns="http://www.sbml.org/sbml/level3/version2/core" level="3" version="2"><model id="m">
    <listOfCompartments><compartment id="C" size="2" spatialDimensions="3" constant="true"/></listOfCompartments>
    <listOfSpecies><species id="A" compartment="C" initialConcentration="3" hasOnlySubstanceUnits="false" boundaryCondition="false" constant="false"/></listOfSpecies>
    <listOfParameters><parameter id="k" value="0.5" constant="true"/></listOfParameters>
    <listOfReactions><reaction id="r" reversible="false"><listOfReactants><speciesReference species="A" stoichiometry="1" constant="true"/></listOfReactants>
    <kineticLaw><math xmlns="http://www.w3.org/1998/Math/MathML"><apply><times/><ci>k</ci><ci>C</ci><ci>A</ci></apply></math></kineticLaw></reaction></listOfReactions></model></sbml>`,
  );
  const end = (...more) => rows(cleartide('simulate', file, '--end', '2', '--every', '2', ...more).stdout);
  const [head, , last] = end();
  assert.deepEqual(head, ['time', 'A']);
  assert.ok(Math.abs(Number(last[1]) - 3 * Math.exp(-1)) < 1e-7);
  assert.ok(Math.abs(Number(end('--amounts')[2][1]) - 6 * Math.exp(-1)) < 1e-7);
  assert.ok(Math.abs(Number(end('--set', 'k=1', '--columns', 'r,A')[2][2]) - 3 * Math.exp(-2)) < 1e-7);
  const unended = cleartide('simulate', file);
  assert.equal(unended.status, 1);
  assert.match(unended.stderr, /say where the run ends/);
  assert.match(cleartide('check', file).stdout, /The model runs/);
  assert.equal(cleartide('convert', file, join(folder, 'x.study.json')).status, 0);
  writeFileSync(file, '<sbml><model>');
  assert.equal(cleartide('check', file).status, 1);
  assert.match(cleartide('simulate', file, '--end', '1').stderr, /broken at line 1/);
});

test('an ensemble by chance has the mean and spread of its law, from lines and from SBML', () => {
  const file = join(folder, 'leave.txt');
  writeFileSync(file, 'A(0) = 50; B(0) = 0; A -> B at 0.3');
  const [heads, ...table] = rows(
    cleartide(
      'ensemble',
      file,
      '--replicates',
      '2000',
      '--seed',
      '3',
      '--method',
      'exact',
      '--end',
      '4',
      '--every',
      '2',
      '--columns',
      'A,total(A -> B)',
    ).stdout,
  );
  assert.deepEqual(heads, ['time', 'variable', 'mean', 'sd', 'p05', 'p25', 'p50', 'p75', 'p95']);
  assert.deepEqual(
    table.map(row => row.slice(0, 2).join(' ')),
    ['0 A', '0 total(A -> B)', '2 A', '2 total(A -> B)', '4 A', '4 total(A -> B)'],
  );
  // Binomial of 50 and e^-1.2; five standard errors.
  const stays = Math.exp(-1.2),
    [, , mean, sd] = table[4].map(Number);
  assert.ok(Math.abs(mean - 50 * stays) < 5 * Math.sqrt((50 * stays * (1 - stays)) / 2000), String(mean));
  assert.ok(Math.abs(sd ** 2 - 50 * stays * (1 - stays)) < 5 * 50 * stays * (1 - stays) * Math.sqrt(2.2 / 2000), String(sd));
  assert.ok(Math.abs(mean + Number(table[5][2]) - 50) < 1e-9, 'what left is what is no longer there');
  const sbml = join(folder, 'leave.xml');
  assert.equal(cleartide('convert', file, sbml).status, 0);
  const other = rows(cleartide('ensemble', sbml, '--replicates', '500', '--end', '4', '--every', '4', '--amounts').stdout);
  assert.ok(Math.abs(Number(other.find(row => row[0] === '4' && row[1] === 'A')[2]) - 50 * stays) < 1.2);
  const runs = rows(cleartide('ensemble', file, '--runs', '2', '--end', '1').stdout);
  assert.deepEqual(
    runs.map(row => row.slice(0, 2).join(' ')),
    ['replicate time', '0 0', '0 1', '1 0', '1 1'],
  );
  // A chain binomial of a constant rate has the same law at any step; leaping follows the mean of very many.
  const chain = rows(cleartide('ensemble', file, '--method', 'chain', '--step', '2', '--end', '4', '--every', '4').stdout);
  assert.ok(Math.abs(Number(chain.find(row => row[0] === '4' && row[1] === 'A')[2]) - 50 * stays) < 0.6);
  const leap = cleartide('ensemble', file, '--replicates', '100', '--set', 'A.start=1e8', '--end', '4', '--every', '4');
  assert.match(leap.stderr, /Leaping: the exact method would take about/);
  assert.ok(Math.abs(Number(rows(leap.stdout).find(row => row[0] === '4' && row[1] === 'A')[2]) / (1e8 * stays) - 1) < 1e-3);
  for (const [words, sentence] of [
    [['--replicates', '0'], /1 to 1,000,000/],
    [['--runs', '2000'], /--runs lies between/],
    [['--method', 'chain', '--step', '0'], /step is a time above zero/],
    [['--method', 'exact', '--set', 'A.start=1e12'], /larger units/],
  ]) {
    const refused = cleartide('ensemble', file, '--end', '4', ...words);
    assert.equal(refused.status, 1);
    assert.match(refused.stderr, sentence);
  }
});

test('statements and numbers over whole runs are a row each, with the share or the mean and its interval', () => {
  const file = join(folder, 'decay.txt');
  writeFileSync(file, 'A(0) = 60; A -> B at 0.1 per day');
  const asked = ['--end', '5', '--every', '1', '--replicates', '2000', '--outcome', 'end(A) > 36', '--outcome', 'total(flow(A, B))'];
  const made = cleartide('ensemble', file, ...asked);
  const [head, says, number] = rows(made.stdout);
  assert.deepEqual(
    [head.slice(0, 6), says[0], number[0].replaceAll('"', '')],
    [['outcome', 'runs', 'without', 'mean', 'low', 'high'], 'end(A) > 36', 'total(flow(A'],
  );
  // Binomial of 60 with exp(-0.5): 37 or more of them are left in 49.2 % of all runs; four standard errors of 2,000.
  assert.ok(Math.abs(Number(says[3]) - 0.49238) < 0.045, says.join());
  assert.ok(Number(says[4]) < Number(says[3]) && Number(says[3]) < Number(says[5]));
  // 60 (1 - exp(-0.5)) = 23.608 have gone, with a standard deviation of 3.78.
  assert.ok(Math.abs(Number(number[4]) - 23.608) < 0.34, number.join());
  const wrong = cleartide('ensemble', file, '--end', '5', '--every', '1', '--outcome', 'A > 36');
  assert.equal(wrong.status, 1);
  assert.match(wrong.stderr, /“A” changes along a run/);
});

test('an ensemble goes over subjects, each with values of its own, the same ones that simulate runs', () => {
  const file = join(folder, 'leave.study.json');
  writeFileSync(
    file,
    JSON.stringify({
      format: 'clear-tide-study',
      version: 1,
      study: {
        title: 'Reeds',
        end: 4,
        compartments: [{ id: 'c1', symbol: 'A', label: 'A', start: '1000', x: 0, y: 0 }],
        flows: [{ id: 'f1', label: '', from: 'c1', to: null, kind: 'perHead', rate: 'k' }],
        definitions: [{ id: 'v1', symbol: 'k', label: 'k', text: '0.3 per day' }],
        subjects: { count: 400, varying: [{ address: 'k', law: 'logNormal', spread: 0.5 }], correlations: [] },
        nextId: 9,
      },
    }),
  );
  const words = ['--subjects', '400', '--seed', '7', '--every', '4'];
  const plain = rows(cleartide('simulate', file, ...words).stdout)
    .filter(row => row[1] === '4')
    .map(row => Number(row[2]));
  assert.equal(plain.length, 400);
  const made = rows(cleartide('ensemble', file, '--replicates', '400', ...words).stdout).find(row => row[0] === '4' && row[1] === 'A');
  const expected = plain.reduce((sum, one) => sum + one, 0) / 400,
    between = plain.reduce((sum, one) => sum + (one - expected) ** 2, 0) / 399;
  // Of each subject what is left is binomial about its own mean: the mean of all is off by five standard errors at most.
  assert.ok(Math.abs(Number(made[2]) - expected) < 5 * Math.sqrt((1000 * 0.25) / 400), `${made[2]} and ${expected}`);
  assert.ok(Math.abs(Number(made[3]) / Math.sqrt(between + 1000 * 0.2) - 1) < 0.1, `${made[3]} and ${Math.sqrt(between)}`);
  assert.match(cleartide('ensemble', study, '--subjects', '3').stderr, /does not say how subjects differ/);
  assert.match(cleartide('ensemble', file, '--subjects', '0').stderr, /--subjects is a number from 1/);
});

test('a projection gives bands and outcomes of baseline and scenarios, with the sources that are asked for', () => {
  const outcomes = join(folder, 'outcomes.csv');
  const made = cleartide('project', study, '--replicates', '100', '--seed', '2', '--outcomes', outcomes);
  assert.equal(made.status, 0, made.stderr);
  assert.match(made.stderr, /Reported cases, 100 replicates from day 49 on\. In the bands: chance, fit, observation\./);
  const [heads, ...table] = rows(made.stdout);
  assert.deepEqual(heads, ['scenario', 'interval_start', 'interval_end', 'p5', 'p25', 'median', 'p75', 'p95', 'share_above_level']);
  assert.deepEqual([...new Set(table.map(row => row[0]))], ['Baseline', 'Ferry pause']);
  for (const row of table) {
    const bands = row.slice(3, 8).map(Number);
    assert.ok(
      bands.every((value, k) => k === 0 || value >= bands[k - 1]),
      row.join(),
    );
  }
  assert.equal(rows(readFileSync(outcomes, 'utf8')).length, 7);
  assert.equal(cleartide('project', study, '--replicates', '100', '--seed', '2').stdout, made.stdout, 'the same seed gives the same bands');
  const width = text =>
    Math.max(
      ...rows(text)
        .slice(1)
        .map(row => Number(row[7]) - Number(row[3])),
    );
  const chance = cleartide('project', study, '--replicates', '100', '--seed', '2', '--sources', 'chance', '--scenario', 'Ferry pause');
  assert.match(chance.stderr, /In the bands: chance\./);
  assert.ok(width(chance.stdout) < width(made.stdout), 'chance alone is narrower');
  // Without chance a run has nothing left open, and each method says itself.
  const none = cleartide('project', study, '--sources', '', '--replicates', '50');
  assert.match(none.stderr, /Reported cases, 1 replicates from day 49 on\. In the bands: nothing\./);
  for (const method of ['exact', 'leap', 'chain']) {
    const by = cleartide('project', study, '--replicates', '40', '--method', method, '--level', '100', '--sources', 'chance');
    assert.equal(by.status, 0, by.stderr);
    const above = rows(by.stdout)
      .slice(1)
      .map(row => Number(row[8]));
    assert.ok(Math.max(...above) > 0.9 && above.every(share => share >= 0 && share <= 1), above.join());
  }
  const parts = join(folder, 'shares.csv');
  assert.equal(cleartide('project', study, '--replicates', '20', '--shares', parts).status, 0);
  const [names, ...shares] = rows(readFileSync(parts, 'utf8'));
  assert.deepEqual(names, ['interval_start', 'interval_end', 'source', 'share', 'standard_error']);
  assert.deepEqual([...new Set(shares.map(row => row[2]))], ['chance', 'fit', 'observation']);
  assert.ok(shares.every(row => Number(row[3]) > -0.3 && Number(row[3]) < 1.1));
  // From an earlier now it knows what had come in by then, and is held against the rest.
  const early = cleartide('project', study, '--replicates', '100', '--as-of', '28');
  assert.match(early.stderr, /from day 28 on.*\n.*Of 3 rows that came in since, \d lie in the middle half and \d in the middle 90 %/s);
  assert.match(cleartide('project', study, '--as-of', '3').stderr, /no counts had come in by 3/);
  const followed = cleartide('project', study, '--replicates', '20', '--of', 'H');
  assert.match(followed.stderr, /H, .*20 replicates/);
  for (const [words, sentence] of [
    [['--scenario', 'Nobody'], /no scenario “Nobody” in the study\. It has “Ferry pause”/],
    [['--sources', 'luck'], /“luck” is none of them/],
    [['--of', 'Z'], /no compartment, flow or quantity “Z”/],
    [['--replicates', '0'], /Ask for 1 to 1,000,000/],
  ]) {
    const refused = cleartide('project', study, ...words);
    assert.equal(refused.status, 1);
    assert.match(refused.stderr, sentence);
  }
});

test('subjects are run and their exposures written, the same ones by number, and those of a table without a model', () => {
  const brennalo = join(root, 'demo/brennalo.study.json');
  const runs = cleartide('simulate', brennalo, '--subjects', '3', '--every', '12', '--columns', 'conc,C');
  assert.equal(runs.status, 0, runs.stderr);
  const table = rows(runs.stdout);
  assert.deepEqual(table[0], ['subject', 'time', 'conc', 'C']);
  assert.equal(table.length, 1 + 3 * 5);
  const exposure = (...words) => {
    const made = cleartide('exposure', brennalo, ...words);
    assert.equal(made.status, 0, made.stderr);
    return rows(made.stdout);
  };
  const [head, ...few] = exposure('--subjects', '3');
  assert.deepEqual(head.slice(0, 6), ['plan', 'subject', 'CL70', 'V70', 'ka', 'weight']);
  assert.deepEqual(
    few.map(row => row[0]),
    ['Model', 'Model', 'Model', 'By weight', 'By weight', 'By weight'],
  );
  // The trough is the level at the end of the run, before what would come next; and a subject is itself among more of them.
  const trough = head.indexOf('trough');
  for (let k = 0; k < 3; k++) assert.ok(Math.abs(few[k][trough] / table[5 * (k + 1)][2] - 1) < 1e-6, `${few[k][trough]}`);
  // Its own values are the same to the bit; a run in step with others is the same to the tolerance.
  const among = exposure('--subjects', '40')[3];
  assert.deepEqual(among.slice(0, 6), few[2].slice(0, 6));
  for (let k = 6; k < among.length; k++) assert.ok(Math.abs(among[k] - few[2][k]) <= 1e-6 * Math.abs(few[2][k]), `${head[k]}`);
  assert.notDeepEqual(exposure('--subjects', '3', '--seed', '5')[1], few[0]);
  const observed = cleartide('exposure', join(root, 'demo/brennalo-as-sent.csv'));
  assert.equal(observed.status, 0);
  assert.match(observed.stderr, /row 159 is left out: the time is missing/);
  assert.equal(rows(observed.stdout).length, 13);
  for (const [words, sentence] of [
    [['simulate', study, '--subjects', '3'], /does not say how subjects differ/],
    [['simulate', brennalo, '--subjects', '-1'], /from 1 to/],
    [['exposure', brennalo, '--of', 'nowhere'], /no compartment or quantity “nowhere”/],
    [['exposure', join(root, 'demo/brennalo.csv'), '--points', '2'], /3 or more/],
  ]) {
    const refused = cleartide(...words);
    assert.equal(refused.status, 1);
    assert.match(refused.stderr, sentence);
  }
});
