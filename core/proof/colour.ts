import { compile } from '../colour/ops/compile.ts';
import type { ColourOp } from '../colour/ops/op.ts';
import { fromCodes, toHeldCodes } from '../colour/ycbcr.ts';
import type { Comparison } from './proof.ts';

/** One frame, twice: the original's as it came to the LUT, and the output's as it was decoded. Both of the output's raster, 16 bits, legal range. */
export interface ColourSample {
  width: number;
  height: number;
  frame: number;
  /** Planes of Y', Cb, Cr, chroma as dense as luma. */
  before: Uint16Array;
  after: Uint16Array;
  /** What room the output's own samples have; legal codes where absent. */
  room?: 'legal' | 'full' | 'rgb';
  /** What lies over the output's picture, in samples of these planes, so that it is no colour of the chain. */
  covered?: (x: number, y: number, width: number, height: number) => boolean;
}

/** Means are taken over blocks this wide and high, so that noise, which encoders thin out, does not count as colour. */
const block = 8;

/**
 * Blocks of nearly one colour are taken together: what a chain gets wrong, it gets wrong for every block of a colour alike, while what an
 * encoder leaves of grain, or of an edge, goes either way. A block's colour is taken from its left half and its difference from its right:
 * by the same samples, grain would sort the blocks, and what it made of them be taken for colour. 16 steps of luma and 32 of chroma over all codes; none holds both sides of neutral.
 */
function colourKey(luma: number, blue: number, red: number): number {
  const step = (value: number, bits: number): number => Math.min(65_535, Math.max(0, value)) >> (16 - bits);
  return (step(luma, 4) << 10) | (step(blue, 5) << 5) | step(red, 5);
}
/** Blocks compared at most, evenly spread. */
const mostBlocks = 4096;

/**
 * Mean difference between what core makes of the original's frame and what is in the output, for each of Y', Cb, Cr, in
 * codes of `bitDepth`, over blocks of a colour together; not a number where everything is covered. `ops` are the chain itself, not baked; the matrices are those of the samples before and after.
 */
export function colourDifference(sample: ColourSample, ops: readonly ColourOp[], [matrixIn, matrixOut]: readonly [string, string], bitDepth: number): readonly [number, number, number] {
  const transform = compile([fromCodes(matrixIn), ...ops, ...toHeldCodes(matrixOut, sample.room)]);
  const { width, height, before, after } = sample;
  const across = Math.floor(width / block);
  const down = Math.floor(height / block);
  const stride = Math.max(1, Math.ceil((across * down) / mostBlocks));
  const plane = width * height;
  const unit = 2 ** bitDepth / 65_536;
  const work = new Float64Array(3);
  let blocks = 0;
  const byColour = new Map<number, [number, number, number]>();
  for (let n = 0; n < across * down; n += stride) {
    const left = (n % across) * block;
    const top = Math.floor(n / across) * block;
    if (sample.covered?.(left, top, block, block)) continue;
    blocks += 1;
    const means: [number, number, number] = [0, 0, 0];
    const wanted: [number, number, number] = [0, 0, 0];
    for (let y = top; y < top + block; y += 1) {
      for (let x = left; x < left + block; x += 1) {
        const i = y * width + x;
        for (let c = 0; c < 3; c += 1) work[c] = (before[c * plane + i] as number) / 65_535;
        transform(work);
        for (const c of [0, 1, 2] as const) {
          if (x < left + block / 2) wanted[c] += ((work[c] as number) * 65_535) / (block ** 2 / 2);
          else means[c] += ((work[c] as number) * 65_535 - (after[c * plane + i] as number)) / (block ** 2 / 2);
        }
      }
    }
    const key = colourKey(...wanted);
    const sums = byColour.get(key) ?? [0, 0, 0];
    byColour.set(key, [sums[0] + means[0], sums[1] + means[1], sums[2] + means[2]]);
  }
  const mean = (c: 0 | 1 | 2): number => ([...byColour.values()].reduce((sum, one) => sum + Math.abs(one[c]), 0) / blocks) * unit;
  return blocks === 0 ? [Number.NaN, Number.NaN, Number.NaN] : [mean(0), mean(1), mean(2)];
}

/** Half floats are no finer than this near white, nor are baked chains much: deeper samples are held to it. */
const finestDepth = 12;

/** The depth in whose codes an output is held against its chain. */
export function provedDepth({ bitDepth, encodedDepth }: { bitDepth: number; encodedDepth?: number }): number {
  return Math.min(finestDepth, encodedDepth ?? bitDepth);
}

/** The comparison that a proof holds: under one code value of the output's depth. */
export function colourComparison(difference: readonly [number, number, number], bitDepth: number, frame: number): Comparison {
  const worst = Math.max(...difference);
  if (Number.isNaN(worst)) return { name: 'colour by the chain', planned: 'mean error under one code', found: `frame ${frame + 1} is covered whole: not seen`, holds: true };
  const codes = 2 ** bitDepth - 1;
  return {
    name: 'colour by the chain', planned: `mean error under 1 of ${codes}`, found: `${worst.toFixed(2)} of ${codes} at frame ${frame + 1} (Y ${difference[0].toFixed(2)}, Cb ${difference[1].toFixed(2)}, Cr ${difference[2].toFixed(2)})`, holds: worst < 1,
  };
}
