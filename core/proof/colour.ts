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
  /** What lies over the output's picture, in samples of these planes, so that it is no colour of the chain. */
  covered?: (x: number, y: number, width: number, height: number) => boolean;
}

/** Means are taken over blocks this wide and high, so that noise, which encoders thin out, does not count as colour. */
const block = 8;
/** Blocks compared at most, evenly spread. */
const mostBlocks = 4096;

/**
 * Mean difference between what core makes of the original's frame and what is in the output, for each of Y', Cb, Cr, in
 * codes of `bitDepth`; not a number where everything is covered. `ops` are the chain itself, not baked; the matrices are those of the samples before and after.
 */
export function colourDifference(sample: ColourSample, ops: readonly ColourOp[], [matrixIn, matrixOut]: readonly [string, string], bitDepth: number): readonly [number, number, number] {
  const transform = compile([fromCodes(matrixIn), ...ops, ...toHeldCodes(matrixOut)]);
  const { width, height, before, after } = sample;
  const across = Math.floor(width / block);
  const down = Math.floor(height / block);
  const stride = Math.max(1, Math.ceil((across * down) / mostBlocks));
  const plane = width * height;
  const unit = 2 ** bitDepth / 65_536;
  const sums: [number, number, number] = [0, 0, 0];
  const work = new Float64Array(3);
  let blocks = 0;
  for (let n = 0; n < across * down; n += stride) {
    const left = (n % across) * block;
    const top = Math.floor(n / across) * block;
    if (sample.covered?.(left, top, block, block)) continue;
    blocks += 1;
    const means: [number, number, number] = [0, 0, 0];
    for (let y = top; y < top + block; y += 1) {
      for (let x = left; x < left + block; x += 1) {
        const i = y * width + x;
        for (let c = 0; c < 3; c += 1) work[c] = (before[c * plane + i] as number) / 65_535;
        transform(work);
        for (const c of [0, 1, 2] as const) means[c] += (work[c] as number) * 65_535 - (after[c * plane + i] as number);
      }
    }
    for (const c of [0, 1, 2] as const) sums[c] += (Math.abs(means[c]) / block ** 2) * unit;
  }
  return blocks === 0 ? [Number.NaN, Number.NaN, Number.NaN] : [sums[0] / blocks, sums[1] / blocks, sums[2] / blocks];
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
