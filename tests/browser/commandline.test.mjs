// The command line as a script would use it: numbers on standard output, words on standard error, exit codes.
import { spawnSync } from 'node:child_process';
import assert from 'node:assert/strict';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { root } from './support/server.mjs';

const folder = mkdtempSync(join(tmpdir(), 'clear-tide-'));
after(() => rmSync(folder, { recursive: true }));

const study = join(root, 'demo/marram-fever.study.json');
const cleartide = (...words) => spawnSync(join(root, 'cleartide'), words, { encoding: 'utf8' });
const rows = text => text.trim().split('\n').map(row => row.split(','));

test('a run goes to a file with all its digits', () => {
  const out = join(folder, 'out.csv');
  const { status, stdout } = cleartide('simulate', study, '--end', '50', '--every', '5', '--out', out);
  assert.equal(status, 0);
  assert.equal(stdout, '');
  const table = rows(readFileSync(out, 'utf8'));
  assert.equal(table.length, 1 + 11);
  const total = table[11].slice(1).map(Number).reduce((sum, amount) => sum + amount, 0);
  assert.ok(Math.abs(total - 18400) < 1e-7);
});

test('both methods agree, and a value can be set for one run', () => {
  const last = (...more) => rows(cleartide('simulate', study, '--end', '100', '--every', '100', ...more).stdout)[2].map(Number);
  const [adaptive, fixed] = [last(), last('--method', 'rk4', '--step', '0.05')];
  // Fourth order at a twentieth of a day leaves about eight digits.
  adaptive.forEach((amount, k) => assert.ok(Math.abs(amount - fixed[k]) <= 1e-6 * Math.abs(amount) + 1e-6, `${amount} and ${fixed[k]}`));
  // The stiff method controls its steps at 1e-8 too; what is left of Euler's and the midpoint's errors follows from their order and step.
  for (const [more, share] of [[['--method', 'stiff'], 1e-6], [['--method', 'adaptive'], 1e-6], [['--method', 'midpoint', '--step', '0.02'], 1e-4], [['--method', 'euler', '--step', '0.01'], 5e-2]]) {
    last(...more).forEach((amount, k) => assert.ok(Math.abs(amount - adaptive[k]) <= share * Math.abs(adaptive[k]) + 1e-6, `${more[1]}: ${amount} and ${adaptive[k]}`));
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
