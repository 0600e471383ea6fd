import { apply, compose, inverse, type Matrix3, type Triplet } from './matrix.ts';
import type { ColourOp } from './ops/op.ts';

/** Luma weights of red and blue by the names of ITU-T H.273 (BT.709-6, BT.601-7, SMPTE 240M, BT.2020-2). */
const weights: Readonly<Record<string, readonly [number, number]>> = {
  bt709: [0.2126, 0.0722],
  smpte170m: [0.299, 0.114],
  bt470bg: [0.299, 0.114],
  fcc: [0.3, 0.11],
  smpte240m: [0.212, 0.087],
  bt2020nc: [0.2627, 0.0593],
  bt2020c: [0.2627, 0.0593],
};

interface Affine {
  matrix: Matrix3;
  offset: Triplet;
}

/** R'G'B' from luma (0–1) and colour differences (±0.5). */
function rgbOf(name: string): Matrix3 {
  const [kr, kb] = weights[name] ?? [0.2126, 0.0722];
  const kg = 1 - kr - kb;
  const [r, b] = [2 * (1 - kr), 2 * (1 - kb)];
  return [1, 0, r, 1, (-kb * b) / kg, (-kr * r) / kg, 1, b, 0];
}

/** Affine steps, the first first, as one. */
function joined(...steps: Affine[]): Affine {
  return steps.reduce((a, b) => {
    const [x, y, z] = apply(b.matrix, a.offset);
    return { matrix: compose(b.matrix, a.matrix), offset: [x + b.offset[0], y + b.offset[1], z + b.offset[2]] };
  });
}

function undone({ matrix, offset }: Affine): Affine {
  const back = inverse(matrix);
  const [x, y, z] = apply(back, offset);
  return { matrix: back, offset: [-x, -y, -z] };
}

/**
 * 16-bit codes as shares of 65,535 → luma and differences, in legal range (BT.2100-2, table 9, for n = 16) or over all
 * codes.
 */
const fromLegal: Affine = {
  matrix: [65_535 / 56_064, 0, 0, 0, 65_535 / 57_344, 0, 0, 0, 65_535 / 57_344],
  offset: [-4096 / 56_064, -32_768 / 57_344, -32_768 / 57_344],
};
const fromFull: Affine = { matrix: [1, 0, 0, 0, 1, 0, 0, 0, 1], offset: [0, -32_768 / 65_535, -32_768 / 65_535] };
const toRgb = (name: string): Affine => ({ matrix: rgbOf(name), offset: [0, 0, 0] });

/** Y'CbCr in 16-bit legal codes, as shares of 65,535 → R'G'B' signals, black 0 and white 1; nothing is held back. */
export function fromCodes(matrix: string): ColourOp & { op: 'matrix' } {
  return { op: 'matrix', ...joined(fromLegal, toRgb(matrix)) };
}

/** R'G'B' that the codes of a file are handed to FFmpeg's LUT filter as, from signals: see `forLutFilter`. */
function toFilter(matrix: string): Affine {
  return undone(joined(undone(joined(fromFull, toRgb(matrix))), fromLegal, toRgb(matrix)));
}

/**
 * Signals → the codes that an output can hold of them: what its R'G'B' or its codes have no room for is cut off. `room`
 * is what its own samples have: legal codes reach below black and above white, full-range luma and chroma end with
 * them, and so does R'G'B' in each channel.
 */
export function toHeldCodes(matrix: string, room: 'legal' | 'full' | 'rgb' = 'legal'): ColourOp[] {
  const way = toFilter(matrix);
  const back = joined(undone(way), undone(joined(fromLegal, toRgb(matrix))));
  const held: ColourOp = { op: 'range', scale: 1, offset: 0, min: 0, max: 1 };
  const shares = joined(fromLegal, { matrix: [1, 0, 0, 0, 1, 0, 0, 0, 1], offset: [0, 0.5, 0.5] });
  return [
    ...(room === 'rgb' ? [held] : []),
    { op: 'matrix', ...way },
    held,
    { op: 'matrix', ...back },
    held,
    ...(room === 'full'
      ? [{ op: 'matrix', ...shares } as const, held, { op: 'matrix', ...undone(shares) } as const]
      : []),
  ];
}

/**
 * Steps on signals, as steps on what FFmpeg's LUT filter sees. It holds whole numbers from black to white only, so
 * legal codes are handed to it as if they were full range: nothing below black or above white is lost on the way, and
 * what that does to the numbers is undone here, before the chain and after.
 */
export function forLutFilter(ops: readonly ColourOp[], matrixIn: string, matrixOut: string): ColourOp[] {
  return [...forFloatLutFilter(ops, matrixIn), { op: 'matrix', ...toFilter(matrixOut) }];
}

/** The same where what comes out stays floats of R'G'B': signals as they are, light above white and all. */
export function forFloatLutFilter(ops: readonly ColourOp[], matrixIn: string): ColourOp[] {
  return [{ op: 'matrix', ...undone(toFilter(matrixIn)) }, ...ops];
}
