// The command line, run as a script would.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after } from 'node:test';
import { root } from './server.mjs';

/** A folder of the test file, gone after it. */
export function scratch() {
  const folder = mkdtempSync(join(tmpdir(), 'clear-tide-'));
  after(() => rmSync(folder, { recursive: true }));
  return folder;
}

export const study = join(root, 'demo/marram-fever.study.json');
export const cleartide = (...words) => spawnSync(join(root, 'cleartide'), words, { encoding: 'utf8', timeout: 600_000 });
export const rows = text =>
  text
    .trim()
    .split('\n')
    .map(row => row.split(','));
