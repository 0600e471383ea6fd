import { compile } from '../colour/ops/compile.ts';
import type { ColourOp } from '../colour/ops/op.ts';
import { fromCodes } from '../colour/ycbcr.ts';
import type { ColourSample } from './colour.ts';
import type { Comparison } from './proof.ts';

/** What counts as light above white: beyond what whole numbers of legal range still hold (1.09). */
const above = 1.2;
/** Pixels looked at, at most. */
const mostPixels = 200_000;
/**
 * How far mean light may be off, in parts of itself: half floats are within 0.1 %, a cube of 65 points within 0.5 % of
 * a log curve's light; the rest is room for scaling. Chosen.
 */
const most = 0.02;

/**
 * Holds the light above white of an output of floats against its chain: codes of whole numbers say nothing of it.
 * `before` are the original's samples as they came to the LUT, `light` the output's R', G', B'. Null where the chain
 * gives none.
 */
export function lightComparison(
  { width, height, frame, before }: Pick<ColourSample, 'width' | 'height' | 'frame' | 'before'>,
  light: readonly [Float32Array, Float32Array, Float32Array],
  ops: readonly ColourOp[],
  matrix: string,
): Comparison | null {
  const transform = compile([fromCodes(matrix), ...ops]);
  const plane = width * height;
  const stride = Math.max(1, Math.floor(plane / mostPixels));
  const work = new Float64Array(3);
  let [wanted, found, count] = [0, 0, 0];
  for (let i = 0; i < plane; i += stride) {
    for (let c = 0; c < 3; c += 1) work[c] = (before[c * plane + i] as number) / 65_535;
    transform(work);
    light.forEach((values, c) => {
      const value = work[c] as number;
      if (value < above) return;
      wanted += value;
      found += values[i] as number;
      count += 1;
    });
  }
  if (count === 0) return null;
  const off = found / wanted - 1;
  return {
    name: 'light above white',
    planned: `within ${most * 100} % of the chain's`,
    found: `${(off * 100).toFixed(2)} % at frame ${frame + 1}, where it is ${(wanted / count).toFixed(2)} times white in the mean`,
    holds: Math.abs(off) <= most,
  };
}
