// The list of all strings by page, from which the wording of the screens is read at once.
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { test } from 'node:test';

const words = (...pages) => execFileSync('node', [join(import.meta.dirname, '../../build/words.mjs'), ...pages], { encoding: 'utf8' });

test('the strings of a page stand together: of its markup, the parts it includes, and the words that these call', () => {
  const fit = words('Fit');
  assert.match(fit, /^# Studies\/Fit$/m);
  assert.match(fit, /A fit needs data\./, 'its markup');
  assert.match(fit, /Tick two or three values on the right/, 'a part that it includes');
  assert.match(fit, /Intervals by \{profile\}/, 'words that it calls');
  assert.doesNotMatch(fit, /# Studies\/Data/, 'no other page');
});

test('all pages and scripts are in the list', () => {
  const all = words();
  for (const page of ['Index', 'Settings', 'Studies/Build', 'Studies/Explore', 'Studies/Data', 'Studies/Scenarios', 'Studies/Projections'])
    assert.match(all, new RegExp(`^# ${page}$`, 'm'));
  assert.match(all, /^# What scripts say$/m);
});
