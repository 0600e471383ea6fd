// Types and lint of all sources (or of those that are named), from one program of TypeScript's: what one of them finds
// out of a file, the other need not find out again. Says what is wrong; the code it ends with is 16 for types, 32 for lint
// and 48 for both: none that Node ends with by itself when this program breaks.
import { relative } from 'node:path';
import { ESLint } from 'eslint';
import ts from 'typescript';

const here = import.meta.dirname;

/** The program that tsconfig.json describes. */
function programHere() {
  const host = {
    ...ts.sys,
    onUnRecoverableConfigFileDiagnostic: (diagnostic) => {
      throw new Error(ts.flattenDiagnosticMessageText(diagnostic.messageText, '\n'));
    },
  };
  const { fileNames, options, projectReferences } = ts.getParsedCommandLineOfConfigFile(
    `${here}/tsconfig.json`,
    { noEmit: true },
    host,
  );
  return ts.createProgram({ rootNames: fileNames, options, projectReferences });
}

const program = programHere();
const problems = ts.getPreEmitDiagnostics(program);
if (problems.length > 0)
  console.log(
    ts.formatDiagnosticsWithColorAndContext(problems, {
      getCanonicalFileName: (name) => relative(here, name),
      getCurrentDirectory: () => here,
      getNewLine: () => '\n',
    }),
  );
console.log(`types: ${problems.length === 0 ? 'passed' : 'FAILED'}`);

const eslint = new ESLint({
  cwd: here,
  overrideConfig: { files: ['**/*.{ts,tsx}'], languageOptions: { parserOptions: { programs: [program] } } },
});
const results = await eslint.lintFiles(process.argv.length > 2 ? process.argv.slice(2) : ['.']);
const wrong = results.reduce((sum, { errorCount, warningCount }) => sum + errorCount + warningCount, 0);
const { format } = await eslint.loadFormatter('stylish');
const said = await format(results);
if (said) console.log(said);
console.log(`lint: ${wrong === 0 ? 'passed' : 'FAILED'}`);
process.exitCode = (problems.length === 0 ? 0 : 16) + (wrong === 0 ? 0 : 32);
