// Adds the counts of all test reports in a folder; exits with 1 when anything failed, was skipped or is missing.
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const [folder, broken] = process.argv.slice(2);
let passed = 0, failed = Number(broken);
for (const file of readdirSync(folder)) {
  const text = readFileSync(join(folder, file), 'utf8');
  if (file.endsWith('.json')) {
    const { summary } = JSON.parse(text).results;
    passed += summary.passed;
    failed += summary.failed + summary.skipped + (summary.other ?? 0) + (summary.tests === 0 ? 1 : 0);
  } else if (file.endsWith('.tap')) {
    const count = name => Number(new RegExp(`^# ${name} (\\d+)$`, 'm').exec(text)?.[1] ?? 0);
    passed += count('pass');
    failed += count('fail') + count('cancelled') + count('skipped') + (count('tests') === 0 ? 1 : 0);
  }
}
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 && passed > 0 ? 0 : 1);
