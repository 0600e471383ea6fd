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

function parse(text: string): LutFile {
  const head: Head = {
    title: null,
    size1d: null,
    size3d: null,
    domainMin: null,
    domainMax: null,
    range1d: null,
    range3d: null,
  };
  const notes: string[] = [];
  const warnings: string[] = [];
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/);
  let values: Float32Array | null = null;
  let rows = 0;
  let wantedRows = 0;
  for (const [index, raw] of lines.entries()) {
    const line = index + 1;
    const content = raw.trim();
    if (content === '') continue;
    if (content.startsWith('#')) {
      if (notes.length < 200) notes.push(content.slice(1).trim());
      continue;
    }
    if (content.includes('\0'))
      throw new LineProblem(
        line,
        'there are bytes in it that no text has',
        'This is no .cube file; look for the one it was exported to',
      );
    const words = content.split(/\s+/);
    const [first = ''] = words;
    if (/^[A-Za-z_]/.test(first) && !/^(nan|inf)/i.test(first)) {
      if (values)
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
      else if (rows === 0 && warnings.length < 20)
        warnings.push(`line ${line}: ${first.slice(0, 60)} is not known and was passed over`);
      continue;
    }
    if (!values) {
      if (head.size1d === null && head.size3d === null)
        throw new LineProblem(
          line,
          'values begin before LUT_1D_SIZE or LUT_3D_SIZE said how many',
          'State the size before them, or export the LUT again',
        );
      wantedRows = (head.size1d ?? 0) + (head.size3d ?? 0) ** 3;
      values = new Float32Array(wantedRows * 3);
    }
    if (words.length !== 3) {
      if (/^[+-]?\d+,\d+$/.test(first)) numberIn(first, line);
      throw new LineProblem(
        line,
        `${words.length === 1 ? 'one value stands' : `${words.length} values stand`} where three belong`,
        'Look at that line, or export the LUT again',
      );
    }
    if (rows >= wantedRows)
      throw new LineProblem(
        line,
        `there are more than the ${wantedRows} rows that its size asks for`,
        'Correct the size, or export the LUT again',
      );
    values[rows * 3] = numberIn(words[0] as string, line);
    values[rows * 3 + 1] = numberIn(words[1] as string, line);
    values[rows * 3 + 2] = numberIn(words[2] as string, line);
    rows += 1;
  }
  if (!values)
    throw new LineProblem(
      lines.length,
      'there are no values in it',
      'This is no .cube file, or an empty one; export the LUT again',
    );
  if (rows < wantedRows)
    throw new LineProblem(
      lines.length,
      `the file ends after ${rows} of ${wantedRows} rows`,
      'It was cut short, or its size is wrong: copy or export it again',
    );
  const ops: ColourOp[] = [];
  const both = head.size1d !== null && head.size3d !== null;
  if (head.size1d !== null) {
    ops.push({
      op: 'lut1d',
      reverse: false,
      lut: {
        size: head.size1d,
        values: values.subarray(0, head.size1d * 3),
        halfDomain: false,
        ...domainOf(head, head.range1d, both ? "table's" : "file's"),
      },
    });
  }
  if (head.size3d !== null) {
    // Where a table comes first, the cube takes what the table gives; the file's domain is the table's.
    const domain =
      both && !head.range3d
        ? { domainMin: [0, 0, 0] as Three, domainMax: [1, 1, 1] as Three }
        : domainOf(head, head.range3d, "file's");
    ops.push({
      op: 'lut3d',
      reverse: false,
      interpolation: 'tetrahedral',
      lut: { size: head.size3d, values: values.subarray((head.size1d ?? 0) * 3), ...domain },
    });
  }
  return { format: 'cube', title: head.title, notes, warnings, ops };
}
