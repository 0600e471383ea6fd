import { fail, ok, type Result } from '../../result.ts';
import type { ColourOp } from '../ops/op.ts';
import { largest1d, largest3d } from './lut.ts';
import { largestText, LineProblem, numberIn, type LutFile } from './read.ts';

type Three = [number, number, number];

interface Head {
  title: string | null;
  size1d: number | null;
  size3d: number | null;
  domainMin: Three | null;
  domainMax: Three | null;
  range1d: [number, number] | null;
  range3d: [number, number] | null;
}

const keywords: Readonly<Record<string, number>> = {
  LUT_1D_SIZE: 1,
  LUT_3D_SIZE: 1,
  DOMAIN_MIN: 3,
  DOMAIN_MAX: 3,
  LUT_1D_INPUT_RANGE: 2,
  LUT_3D_INPUT_RANGE: 2,
};

function readKeyword(head: Head, words: readonly string[], line: number): void {
  const [keyword = '', ...rest] = words;
  const wanted = keywords[keyword] as number;
  if (rest.length !== wanted)
    throw new LineProblem(
      line,
      `${keyword} takes ${wanted === 1 ? 'one number' : `${wanted} numbers`}, ${rest.length} stand there`,
      'Look at that line, or export the LUT again',
    );
  const numbers = rest.map((token) => numberIn(token, line));
  const twice = (value: unknown): void => {
    if (value !== null) throw new LineProblem(line, `${keyword} stands there twice`, 'Take one of them out');
  };
  const size = (most: number): number => {
    const [n = 0] = numbers;
    if (!Number.isInteger(n) || n < 2)
      throw new LineProblem(line, `${keyword} is ${rest[0] ?? ''}`, 'A size is a whole number from 2');
    if (n > most)
      throw new LineProblem(
        line,
        `${keyword} is ${n}, more than the ${most} that are read`,
        'Make it again with fewer points',
      );
    return n;
  };
  switch (keyword) {
    case 'LUT_1D_SIZE':
      twice(head.size1d);
      head.size1d = size(largest1d);
      return;
    case 'LUT_3D_SIZE':
      twice(head.size3d);
      head.size3d = size(largest3d);
      return;
    case 'DOMAIN_MIN':
      twice(head.domainMin);
      head.domainMin = numbers as Three;
      return;
    case 'DOMAIN_MAX':
      twice(head.domainMax);
      head.domainMax = numbers as Three;
      return;
    case 'LUT_1D_INPUT_RANGE':
      twice(head.range1d);
      head.range1d = numbers as [number, number];
      return;
    default:
      twice(head.range3d);
      head.range3d = numbers as [number, number];
  }
}

function domainOf(head: Head, range: [number, number] | null, name: string): { domainMin: Three; domainMax: Three } {
  const domainMin: Three = range ? [range[0], range[0], range[0]] : (head.domainMin ?? [0, 0, 0]);
  const domainMax: Three = range ? [range[1], range[1], range[1]] : (head.domainMax ?? [1, 1, 1]);
  for (const c of [0, 1, 2] as const) {
    if (!(domainMax[c] > domainMin[c]))
      throw new LineProblem(
        1,
        `the ${name} domain ends at ${domainMax[c]}, not above its beginning ${domainMin[c]}`,
        'Correct DOMAIN_MIN and DOMAIN_MAX, or export the LUT again',
      );
  }
  return { domainMin, domainMax };
}

/**
 * Reads a .cube file (Cube LUT Specification 1.0): one table for each channel, a cube, or both, the table before the
 * cube, as several programs write it. Lines may end in LF, CR LF or CR, and a byte order mark may lead.
 */
export function readCube(text: string): Result<LutFile> {
  if (text.length > largestText) return fail('the file is too large for a LUT', 'Make it again with fewer points');
  try {
    return ok(parse(text));
  } catch (error) {
    if (error instanceof LineProblem) return { ok: false, problem: error.problem };
    throw error;
  }
}

/** What is gathered of a file, line by line. */
class Reading {
  readonly head: Head = {
    title: null,
    size1d: null,
    size3d: null,
    domainMin: null,
    domainMax: null,
    range1d: null,
    range3d: null,
  };
  readonly notes: string[] = [];
  readonly warnings: string[] = [];
  /** Every row's three values, once its first is there. */
  values: Float32Array | null = null;
  private rows = 0;
  private wantedRows = 0;

  take(content: string, line: number): void {
    if (content === '') return;
    if (content.startsWith('#')) {
      if (this.notes.length < 200) this.notes.push(content.slice(1).trim());
      return;
    }
    if (content.includes('\0'))
      throw new LineProblem(
        line,
        'there are bytes in it that no text has',
        'This is no .cube file; look for the one it was exported to',
      );
    const words = content.split(/\s+/);
    const [first = ''] = words;
    if (/^[A-Za-z_]/.test(first) && !/^(nan|inf)/i.test(first)) this.takeKeyword(content, words, line);
    else this.takeRow(words, line);
  }

  private takeKeyword(content: string, words: readonly string[], line: number): void {
    const { head, warnings } = this;
    const [first = ''] = words;
    if (this.values)
      throw new LineProblem(
        line,
        `${first.slice(0, 40)} stands among the values`,
        'Keywords stand before the values: take it out, or export the LUT again',
      );
    if (first === 'TITLE') {
      if (head.title !== null) throw new LineProblem(line, 'TITLE stands there twice', 'Take one of them out');
      head.title = content
        .slice(5)
        .trim()
        .replace(/^"(.*)"$/, '$1');
    } else if (first in keywords) readKeyword(head, words, line);
    else if (warnings.length < 20)
      warnings.push(`line ${line}: ${first.slice(0, 60)} is not known and was passed over`);
  }

  private takeRow(words: readonly string[], line: number): void {
    const values = (this.values ??= this.begin(line));
    const [first = ''] = words;
    if (words.length !== 3) {
      if (/^[+-]?\d+,\d+$/.test(first)) numberIn(first, line);
      throw new LineProblem(
        line,
        `${words.length === 1 ? 'one value stands' : `${words.length} values stand`} where three belong`,
        'Look at that line, or export the LUT again',
      );
    }
    if (this.rows >= this.wantedRows)
      throw new LineProblem(
        line,
        `there are more than the ${this.wantedRows} rows that its size asks for`,
        'Correct the size, or export the LUT again',
      );
    const [r, g, b] = words as [string, string, string];
    values[this.rows * 3] = numberIn(r, line);
    values[this.rows * 3 + 1] = numberIn(g, line);
    values[this.rows * 3 + 2] = numberIn(b, line);
    this.rows += 1;
  }

  /** Room for as many rows as the head says that there are. */
  private begin(line: number): Float32Array {
    const { size1d, size3d } = this.head;
    if (size1d === null && size3d === null)
      throw new LineProblem(
        line,
        'values begin before LUT_1D_SIZE or LUT_3D_SIZE said how many',
        'State the size before them, or export the LUT again',
      );
    this.wantedRows = (size1d ?? 0) + (size3d ?? 0) ** 3;
    return new Float32Array(this.wantedRows * 3);
  }

  /** All values, once the last line was taken. */
  end(lines: number): Float32Array {
    if (!this.values)
      throw new LineProblem(
        lines,
        'there are no values in it',
        'This is no .cube file, or an empty one; export the LUT again',
      );
    if (this.rows < this.wantedRows)
      throw new LineProblem(
        lines,
        `the file ends after ${this.rows} of ${this.wantedRows} rows`,
        'It was cut short, or its size is wrong: copy or export it again',
      );
    return this.values;
  }
}

/** The operations that a file's values are: its table, its cube, or the one and then the other. */
function opsOf(head: Head, values: Float32Array): ColourOp[] {
  const { size1d, size3d, range1d, range3d } = head;
  const both = size1d !== null && size3d !== null;
  const ops: ColourOp[] = [];
  if (size1d !== null) {
    const domain = domainOf(head, range1d, both ? "table's" : "file's");
    const lut = { size: size1d, values: values.subarray(0, size1d * 3), halfDomain: false, ...domain };
    ops.push({ op: 'lut1d', reverse: false, lut });
  }
  if (size3d !== null) {
    // Where a table comes first, the cube takes what the table gives; the file's domain is the table's.
    const domain =
      both && !range3d
        ? { domainMin: [0, 0, 0] as Three, domainMax: [1, 1, 1] as Three }
        : domainOf(head, range3d, "file's");
    const lut = { size: size3d, values: values.subarray((size1d ?? 0) * 3), ...domain };
    ops.push({ op: 'lut3d', reverse: false, interpolation: 'tetrahedral', lut });
  }
  return ops;
}

function parse(text: string): LutFile {
  const reading = new Reading();
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/);
  lines.forEach((raw, index) => reading.take(raw.trim(), index + 1));
  const values = reading.end(lines.length);
  const { head, notes, warnings } = reading;
  return { format: 'cube', title: head.title, notes, warnings, ops: opsOf(head, values) };
}
