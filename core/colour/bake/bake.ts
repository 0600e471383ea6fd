import type { Lut3d } from '../lut/lut.ts';
import { unitMax, unitMin } from '../lut/lut.ts';
import { compile } from '../ops/compile.ts';
import type { ColourOp, Transform } from '../ops/op.ts';
import { measure, pictureColours, type BakeError } from './error.ts';
import { shapersFor, type Shaper } from './shaper.ts';
import type { ColourState } from '../states.ts';

export const bakeSizes = [17, 21, 25, 33, 41, 49, 57, 65] as const;

/** A chain as one cube, perhaps with a table before it. */
export interface Baked {
  cube: Lut3d;
  shaper: Shaper;
  ops: ColourOp[];
}

/** Fills a cube of `size` points an edge from a transform; what lies before it is the shaper's business. */
export function bakeCube(transform: Transform, size: number, shaper: Shaper): Lut3d {
  const values = new Float32Array(size ** 3 * 3);
  const work = new Float64Array(3);
  const grid = Float64Array.from({ length: size }, (_, i) => shaper.back(i / (size - 1)));
  let at = 0;
  for (let b = 0; b < size; b += 1) {
    for (let g = 0; g < size; g += 1) {
      for (let r = 0; r < size; r += 1, at += 3) {
        work[0] = grid[r] as number;
        work[1] = grid[g] as number;
        work[2] = grid[b] as number;
        transform(work);
        values[at] = work[0];
        values[at + 1] = work[1];
        values[at + 2] = work[2];
      }
    }
  }
  return { size, values, domainMin: unitMin, domainMax: unitMax };
}

function bakedWith(transform: Transform, size: number, shaper: Shaper): Baked {
  const cube = bakeCube(transform, size, shaper);
  return {
    cube,
    shaper,
    ops: [...shaper.ops, { op: 'lut3d', lut: cube, interpolation: 'tetrahedral', reverse: false }],
  };
}

/**
 * The shaper for steps: none, unless another at least halves the error of a cube alone, which can be used in more
 * places.
 */
export function shaperFor(ops: readonly ColourOp[], input: ColourState | null, output: ColourState | null): Shaper {
  const [first, ...others] = shapersFor(input?.curve.id === 'linear') as [Shaper, ...Shaper[]];
  if (others.length === 0) return first;
  const transform = compile(ops);
  const colours = pictureColours(input, output, 2048, 3);
  const errorOf = (shaper: Shaper): number =>
    measure(transform, compile(bakedWith(transform, 25, shaper).ops), colours, output).codes.p999;
  const own = errorOf(first);
  return own < 1 ? first : (others.find((other) => errorOf(other) < own / 2) ?? first);
}

/** Bakes steps to one cube of `size` points an edge; `input` tells whether a shaper is needed. */
export function bake(
  ops: readonly ColourOp[],
  size: number,
  input: ColourState | null,
  output: ColourState | null = null,
  shaper = shaperFor(ops, input, output),
): Baked {
  return bakedWith(compile(ops), size, shaper);
}

export interface Proposal {
  size: number;
  /**
   * Whether its error lies under one 10-bit code at the 99.9th percentile; if not even the largest does, that is
   * proposed.
   */
  enough: boolean;
  /** Every size that was tried, with its error. */
  tried: { size: number; error: BakeError }[];
}

/** The smallest size whose error stays under one 10-bit code value at the 99.9th percentile. */
export function proposeSize(
  ops: readonly ColourOp[],
  input: ColourState | null,
  output: ColourState | null,
  samples = 20_000,
  shaper = shaperFor(ops, input, output),
): Proposal {
  const transform = compile(ops);
  const colours = pictureColours(input, output, samples, 20_261_123);
  const tried: Proposal['tried'] = [];
  for (const size of bakeSizes) {
    const baked = bakedWith(transform, size, shaper);
    const error = measure(transform, compile(baked.ops), colours, output);
    tried.push({ size, error });
    if (error.codes.p999 < 1) return { size, enough: true, tried };
  }
  return { size: bakeSizes[bakeSizes.length - 1] as number, enough: false, tried };
}
