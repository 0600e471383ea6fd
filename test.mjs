// Everything that is checked: layout, lint and types, and beside them all tests. The last line counts them.
import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const here = import.meta.dirname;
const bin = (name) => join(here, 'node_modules', '.bin', name);
const report = join(here, '.relay', 'test-report.json');
mkdirSync(join(here, '.relay'), { recursive: true });
let passed = 0;
let failed = 0;

/** Runs a program to its end; what it says is shown as it comes, or kept together until then. */
function run(program, args, together) {
  return new Promise((resolve) => {
    const child = spawn(program, args, { cwd: here, stdio: together ? ['ignore', 'pipe', 'pipe'] : 'inherit' });
    let said = '';
    child.stdout?.on('data', (chunk) => (said += chunk));
    child.stderr?.on('data', (chunk) => (said += chunk));
    child.on('error', (error) => resolve({ good: false, code: null, said: `${said}${error.message}\n` }));
    child.on('close', (code) => resolve({ good: code === 0, code, said }));
  });
}

/** The checks that read the sources, one after the other: all that they say comes when they have ended. */
async function readSources() {
  const layout = await run(bin('prettier'), ['--check', '--log-level', 'warn', '.'], true);
  console.log(`${layout.said}layout: ${layout.good ? 'passed' : 'FAILED'}`);
  const { code, said } = await run(process.execPath, [join(here, 'checkSources.mjs')], true);
  console.log(said);
  // Types or lint alone failed where the program says so; where it broke, neither was seen to pass.
  for (const good of [layout.good, code === 0 || code === 32, code === 0 || code === 16]) {
    if (good) passed += 1;
    else failed += 1;
  }
}

const only = process.argv.slice(2);
const reading = only.length === 0 ? readSources() : Promise.resolve();
const tests = await run(
  bin('vitest'),
  ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`, ...only],
  false,
);
await reading;
try {
  const counts = JSON.parse(readFileSync(report, 'utf8'));
  passed += counts.numPassedTests;
  failed += counts.numFailedTests;
  // A file that could not even be loaded, or broke off in its set-up, has no failed test of its own.
  if (!tests.good && counts.numFailedTests === 0) failed += 1;
  if (counts.numPassedTests === 0) failed += 1;
} catch {
  console.log('The tests left no report');
  failed += 1;
}
console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;
