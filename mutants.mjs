// Small faults, put into the sources one at a time, and whether a test notices: `npm run mutants -- core --count 40`.
// Which are drawn is told by the seed; `--from 12` goes on with the thirteenth of them. Faults that change nothing anybody
// could see are among them, so that no share is a hundred percent. The sources are changed where they lie, one file at a
// time, and put back; the tree must be clean. `--again LOG` asks those again that a former run's words name as unnoticed.
import { execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import ts from 'typescript';

const here = import.meta.dirname;
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    count: { type: 'string', default: '100' },
    seed: { type: 'string', default: '1' },
    from: { type: 'string', default: '0' },
    again: { type: 'string' },
  },
});
const floors = positionals.length > 0 ? positionals : ['core', 'work', 'server'];

const git = (...args) => execFileSync('git', args, { cwd: here, encoding: 'utf8', maxBuffer: 64_000_000 });
if (git('status', '--porcelain').trim() !== '') {
  console.error('mutants: commit or put away what was changed first: sources are changed and put back');
  process.exit(2);
}

/** Numbers from 0 to 1 that a seed tells (mulberry32, public domain). */
function drawn(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** What an operator becomes. */
const swapped = {
  '<': '<=',
  '<=': '<',
  '>': '>=',
  '>=': '>',
  '===': '!==',
  '!==': '===',
  '&&': '||',
  '||': '&&',
  '-': '+',
  '*': '/',
  '/': '*',
};

/** A statement that ends what goes on: a guard, where it is all that an `if` does. */
function isGuard(node) {
  if (!ts.isIfStatement(node) || node.elseStatement) return false;
  const only = ts.isBlock(node.thenStatement)
    ? node.thenStatement.statements.length === 1 && node.thenStatement.statements[0]
    : node.thenStatement;
  return Boolean(only) && (ts.isReturnStatement(only) || ts.isThrowStatement(only) || ts.isContinueStatement(only));
}

/** The faults that one file can be given: where, what is put there, and what that is called. */
function faultsOf(path) {
  const text = readFileSync(join(here, path), 'utf8');
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.ES2022, true);
  const faults = [];
  const add = (node, put, what) => {
    const start = node.getStart(source);
    const { line } = source.getLineAndCharacterOfPosition(start);
    faults.push({ path, start, end: node.getEnd(), put, what: `${what}, line ${line + 1}` });
  };
  const visit = (node) => {
    // Types and what is imported hold nothing that runs.
    if (ts.isTypeNode(node) || ts.isImportDeclaration(node) || ts.isInterfaceDeclaration(node)) return;
    if (ts.isBinaryExpression(node) && swapped[node.operatorToken.getText(source)]) {
      const operator = node.operatorToken.getText(source);
      add(node.operatorToken, swapped[operator], `${operator} becomes ${swapped[operator]}`);
    }
    if (isGuard(node)) add(node, ';', `a guard is gone: ${node.expression.getText(source).slice(0, 60)}`);
    if (ts.isExpressionStatement(node) && ts.isAwaitExpression(node.expression))
      add(node, ';', `not done: ${node.getText(source).slice(0, 60)}`);
    if (node.kind === ts.SyntaxKind.TrueKeyword) add(node, 'false', 'true becomes false');
    if (node.kind === ts.SyntaxKind.FalseKeyword) add(node, 'true', 'false becomes true');
    if (ts.isNumericLiteral(node)) add(node, `(${node.getText(source)} + 1)`, `${node.getText(source)} and one`);
    ts.forEachChild(node, visit);
  };
  visit(source);
  return faults;
}

const sources = git('ls-files', ...floors)
  .split('\n')
  .filter((path) => /\.tsx?$/.test(path) && !/\.test\.tsx?$|\.d\.ts$|\/migrations\/|\/entities\//.test(path));
const all = sources.flatMap(faultsOf);

/** Faults that a seed draws, by their places among all. */
function drawnBy(seed) {
  const random = drawn(seed);
  const wanted = Math.min(Number(values.count), all.length);
  const chosen = new Set();
  while (chosen.size < wanted) chosen.add(Math.floor(random() * all.length));
  return [...chosen];
}

/** Those that a former run named as unnoticed; two of one name on a line are both asked. */
function unnoticedIn(log) {
  const named = new Set(
    readFileSync(log, 'utf8')
      .split('\n')
      .map((line) => / UNNOTICED +(.*)$/.exec(line)?.[1]),
  );
  return all.flatMap(({ path, what }, index) => (named.has(`${path}: ${what}`) ? [index] : []));
}

const chosen = values.again ? unnoticedIn(values.again) : drawnBy(Number(values.seed));
const wanted = chosen.length;
console.log(
  `${all.length} faults in ${sources.length} files of ${floors.join(', ')}; ${wanted} ${values.again ? `unnoticed in ${values.again}` : `drawn with seed ${values.seed}`}`,
);

/** Whether a test of these projects notices what lies there now; a test that hangs does. */
async function noticedBy(path, projects) {
  const vitest = spawn(
    join(here, 'node_modules', '.bin', 'vitest'),
    ['related', '--run', '--bail', '1', '--passWithNoTests', ...projects.flatMap((name) => ['--project', name]), path],
    { cwd: here, stdio: 'ignore', timeout: 1_200_000 },
  );
  const [code] = await once(vitest, 'close');
  return code !== 0;
}

/** The tests that take no time are asked first, and those with FFmpeg and PostgreSQL only where these notice nothing. */
async function noticed(path) {
  if (await noticedBy(path, ['unit'])) return true;
  return !path.startsWith('core/') && !ended && (await noticedBy(path, ['whole', 'alone']));
}

// Ctrl-C ends the tests under way too; what came of them tells nothing. The source is put back before this ends.
let ended = false;
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    ended = true;
  });
const unnoticed = [];
let tried = 0;
for (const index of chosen.slice(Number(values.from))) {
  const { path, start, end, put, what } = all[index];
  const file = join(here, path);
  const text = readFileSync(file, 'utf8');
  writeFileSync(file, text.slice(0, start) + put + text.slice(end));
  try {
    const seen = await noticed(path);
    if (!ended) {
      tried += 1;
      if (!seen) unnoticed.push(`${path}: ${what}`);
      console.log(`${Number(values.from) + tried} of ${wanted}  ${seen ? 'noticed  ' : 'UNNOTICED'}  ${path}: ${what}`);
    }
  } finally {
    writeFileSync(file, text);
  }
  if (ended) break;
}
const share = ((100 * (tried - unnoticed.length)) / Math.max(1, tried)).toFixed(0);
console.log(`${share} % noticed: ${tried - unnoticed.length} of ${tried}`);
