import type { ColourOp } from '../ops/op.ts';
import { fail, type Problem, type Result } from '../../result.ts';

/** What a LUT or CLF file holds: its steps in order, and what it says of itself. */
export interface LutFile {
  format: 'cube' | 'clf' | 'cdl';
  title: string | null;
  /** Comments and descriptions, in order. */
  notes: string[];
  /** What was passed over because nothing here depends on it. */
  warnings: string[];
  ops: ColourOp[];
}

/** Text longer than this is no LUT: the largest cube taken is 129 points along each edge. */
export const largestText = 160_000_000;

/** A problem in a line of a file. */
export function atLine<T = never>(line: number, what: string, remedy: string): Result<T> {
  return fail(`line ${line}: ${what}`, remedy);
}

/** Thrown inside a parser, and caught at its face. */
export class LineProblem extends Error {
  readonly problem: Problem;
  constructor(line: number, what: string, remedy: string) {
    super(what);
    this.problem = { what: `line ${line}: ${what}`, remedy };
  }
}

const decimal = /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?$/;

/** Numbers of a LUT are finite and fit single precision. */
export function numberIn(token: string, line: number): number {
  const value = Number(token);
  if (decimal.test(token) && Math.abs(value) <= 3.4e38) return value;
  if (/^[+-]?(nan|inf|infinity|1\.#\w+)$/i.test(token))
    throw new LineProblem(
      line,
      `${token} is not a number that a picture can have`,
      'Export the LUT again from where it was made',
    );
  if (/^[+-]?\d+,\d+$/.test(token))
    throw new LineProblem(line, `${token} is written with a comma`, 'Write decimals with a point');
  if (decimal.test(token))
    throw new LineProblem(line, `${token} is too large`, 'Export the LUT again from where it was made');
  throw new LineProblem(
    line,
    `${JSON.stringify(token.slice(0, 40))} is no number`,
    'Look at that line, or export the LUT again',
  );
}
