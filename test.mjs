// Everything that is checked: lint, types, and all tests. The last line counts them.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const here = import.meta.dirname;
const bin = (name) => join(here, 'node_modules', '.bin', name);
const report = join(here, '.relay', 'test-report.json');
mkdirSync(join(here, '.relay'), { recursive: true });
let passed = 0;
let failed = 0;

function check(name, program, args) {
  const ended = spawnSync(program, args, { cwd: here, stdio: 'inherit' });
  const good = ended.status === 0;
  if (good) passed += 1;
  else failed += 1;
  console.log(`${name}: ${good ? 'passed' : 'FAILED'}`);
}

const only = process.argv.slice(2);
if (only.length === 0) {
  check('lint', bin('eslint'), ['.', '--max-warnings', '0']);
  check('types', bin('tsc'), ['--noEmit', '-p', 'tsconfig.json']);
}
const tests = spawnSync(
  bin('vitest'),
  ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`, ...only],
  { cwd: here, stdio: 'inherit' },
);
try {
  const counts = JSON.parse(readFileSync(report, 'utf8'));
  passed += counts.numPassedTests;
  failed += counts.numFailedTests;
  // A file that could not even be loaded, or broke off in its set-up, has no failed test of its own.
  if (tests.status !== 0 && counts.numFailedTests === 0) failed += 1;
  if (counts.numPassedTests === 0) failed += 1;
} catch {
  console.log('The tests left no report');
  failed += 1;
}
console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;
