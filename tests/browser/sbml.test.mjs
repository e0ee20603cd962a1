// Models as SBML by the command line: what is written is valid by the standard's own library, and runs as the study does.
import { spawnSync } from 'node:child_process';
import assert from 'node:assert/strict';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { cleartide, rows, scratch } from './support/commandline.mjs';
import { root } from './support/server.mjs';

const folder = scratch();

/** What the standard's library calls errors. */
function errors(files) {
  const answer = spawnSync('/usr/bin/python3', [join(root, 'tests/browser/support/validate-sbml.py'), ...files], { encoding: 'utf8' });
  assert.equal(answer.status, 0, answer.stderr);
  return answer.stdout.trim();
}

const models = {
  doses:
    'G(0) = 0 mg; C(0) = 0; at 5: -> G : 200 mg; every 12 from 10 until 50: -> G : 100 over 2 after 1; G -> C at 0.8 per day; C -> at 0.2 per day',
  stages: 'E(0) = 100 people; I(0) = 0; D(0) = 0; E -> I after 8 days in 4 stages; I -> R 98%, D the rest after 5 days',
  tables: 'A(0) = 1; v = points 0 1, 10 3, 20 2 smooth then repeat 25; crowding(x) = points 0 1, 1 0.2; A -> : v(t) * crowding(A)',
  conditions: 'H(0) = 10; X(0) = 0; beta = 0.3 per day; -> H : beta * H; while H > 40: beta = 0.1; when H > 90 once: H -> X : 50, beta = 0',
  reactions:
    'reaction r: A + 2 B -> C + 3 D : 0.01 * A * B; reaction s: C -> (share) D + B : 0.05 * C; share = 0.5 + t / 200; A(0) = 9; B(0) = 14; expect: A >= 0',
  limits: 'S(0) = 9; Q(0) = 4; -> S : 0.5; S -> Q : 2 limited; S -> : 1 limited; Q -> : 1.5 + sin(t / 5) limited',
  past: 'A(0) = 1; q = smooth(A, 4, 2); A -> : 0.1 * delay(A, 3, 2) - 0.01 * q; r = normal(1, 0.2) every 7 days; B(0) = 0; -> B : r',
};

test('doses, stages, tables, conditions, reactions, limits and delays are valid SBML, which the file simulates as the study does', () => {
  const files = [];
  for (const [name, lines] of Object.entries(models)) {
    const [text, file] = [join(folder, `${name}.txt`), join(folder, `${name}.xml`)];
    writeFileSync(text, lines.replaceAll('; ', '\n'));
    assert.equal(cleartide('convert', text, file).status, 0, name);
    files.push(file);
    const [study, model] = [text, file].map(path => rows(cleartide('simulate', path, '--end', '60', '--every', '20').stdout));
    for (const symbol of study[0].filter(head => /^[A-Z]$/.test(head))) {
      const [a, b] = [study, model].map(table => Number(table[3][table[0].indexOf(symbol)]));
      // Both runs keep to a tolerance of 1e-8 a step; conditions are found in another way.
      if (model[0].includes(symbol)) assert.ok(Math.abs(a - b) <= 1e-5 * Math.max(1, Math.abs(a)), `${name}: ${symbol} is ${a} and ${b}`);
    }
  }
  assert.equal(errors(files), '');
});

test('SBML becomes a study file, lines and equations; broken files end in a sentence', () => {
  const [file, study] = [join(folder, 'stages.xml'), join(folder, 'stages.study.json')];
  assert.equal(cleartide('convert', file, study).status, 0);
  assert.equal(JSON.parse(readFileSync(study, 'utf8')).format, 'clear-tide-study');
  const text = join(folder, 'back.txt');
  assert.equal(cleartide('convert', file, text).status, 0);
  assert.match(readFileSync(text, 'utf8'), /->/);
  const broken = join(folder, 'broken.xml');
  writeFileSync(broken, readFileSync(file, 'utf8').slice(0, 900));
  const answer = cleartide('convert', broken, study);
  assert.equal(answer.status, 1);
  assert.match(answer.stderr, /broken at line/);
});

test('the library finds an error where there is one', () => {
  const file = join(folder, 'wrong.xml');
  writeFileSync(file, readFileSync(join(folder, 'stages.xml'), 'utf8').replace('compartment="system"', 'compartment="nowhere"'));
  assert.match(errors([file]), /nowhere/);
});

const model = content =>
  `<?xml version="1.0" encoding="UTF-8"?><sbml xmlns="http://www.sbml.org/sbml/level3/version2/core" level="3" version="2"><model id="m">${content}</model></sbml>`;
const math = content => `<math xmlns="http://www.w3.org/1998/Math/MathML">${content}</math>`;
const time = '<csymbol encoding="text" definitionURL="http://www.sbml.org/sbml/symbols/time">t</csymbol>';

test('a model in which nothing moves takes tolerances too', () => {
  const file = join(folder, 'still.xml');
  writeFileSync(
    file,
    model(
      `<listOfParameters><parameter id="p" constant="false"/></listOfParameters><listOfRules><assignmentRule variable="p">${math(time)}</assignmentRule></listOfRules>`,
    ),
  );
  const run = cleartide('simulate', file, '--end', '2', '--every', '1', '--atol', '1e-9', '--rtol', '1e-6');
  assert.equal(run.status, 0, run.stderr);
  assert.deepEqual(rows(run.stdout).at(-1), ['2', '2']);
});

test('a column that is no number is told', () => {
  const file = join(folder, 'none.xml');
  writeFileSync(
    file,
    model(
      `<listOfParameters><parameter id="k" constant="true"/><parameter id="p" constant="false"/></listOfParameters><listOfRules><assignmentRule variable="p">${math('<apply><times/><cn>2</cn><ci>k</ci></apply>')}</assignmentRule></listOfRules>`,
    ),
  );
  const run = cleartide('simulate', file, '--end', '1', '--every', '1');
  assert.equal(run.status, 0);
  assert.match(run.stderr, /p is no number at time 0/);
});

test('algebraic rules are solved along the run, or the run stops and says where', () => {
  const file = join(folder, 'rule.xml');
  const write = rule =>
    writeFileSync(
      file,
      model(
        `<listOfParameters><parameter id="a" value="1" constant="false"/><parameter id="x" value="2" constant="false"/></listOfParameters><listOfRules><rateRule variable="a">${math('<cn>1</cn>')}</rateRule><algebraicRule>${math(rule)}</algebraicRule></listOfRules>`,
      ),
    );
  // exp(x) = a with a = 1 + t.
  write('<apply><minus/><apply><exp/><ci>x</ci></apply><ci>a</ci></apply>');
  const run = cleartide('simulate', file, '--end', '99', '--every', '99', '--columns', 'x');
  assert.equal(run.status, 0, run.stderr);
  assert.ok(Math.abs(Number(rows(run.stdout)[2][1]) - Math.log(100)) < 1e-8, run.stdout);
  // x^2 = 5 - a: none after a = 5.
  write('<apply><minus/><apply><plus/><apply><power/><ci>x</ci><cn>2</cn></apply><ci>a</ci></apply><cn>5</cn></apply>');
  const stopped = cleartide('simulate', file, '--end', '10', '--every', '1');
  assert.equal(stopped.status, 1);
  assert.match(stopped.stderr, /stopped at time 4.*the algebraic rules for x have no solution there/);
  assert.equal(stopped.stdout, '');
});
