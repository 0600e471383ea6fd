import type { Interpolation, Transform } from '../ops/op.ts';
import type { Lut3d } from './lut.ts';

/**
 * Three values through a cube. Outside its domain the nearest face holds: a cube says nothing of what lies beyond it,
 * and a guess would differ from program to program. What is not a number counts as the domain's beginning.
 * Tetrahedral: the cell is cut into six along its grey diagonal (Kasson et al., 1995), so neutrals stay between neutrals.
 */
// eslint-disable-next-line max-lines-per-function -- an inner loop for each kind of interpolation, with its numbers in locals: a call for each sample costs more than the sum
export function compile3d(lut: Lut3d, interpolation: Interpolation): Transform {
  const { size, values: v } = lut;
  const last = size - 1;
  const [minR, minG, minB] = lut.domainMin;
  const kr = last / (lut.domainMax[0] - minR);
  const kg = last / (lut.domainMax[1] - minG);
  const kb = last / (lut.domainMax[2] - minB);
  const hold = (x: number): number => (x > 0 ? (x < last ? x : last) : 0);
  const stepR = 3;
  const stepG = 3 * size;
  const stepB = 3 * size * size;
  const place = new Float64Array(3);
  const locate = (rgb: Float64Array): number => {
    const r = hold(((rgb[0] as number) - minR) * kr);
    const g = hold(((rgb[1] as number) - minG) * kg);
    const b = hold(((rgb[2] as number) - minB) * kb);
    const ri = r >= last ? last - 1 : r | 0;
    const gi = g >= last ? last - 1 : g | 0;
    const bi = b >= last ? last - 1 : b | 0;
    place[0] = r - ri;
    place[1] = g - gi;
    place[2] = b - bi;
    return ri * stepR + gi * stepG + bi * stepB;
  };
  if (interpolation === 'trilinear') {
    return (rgb) => {
      const at = locate(rgb);
      const r = place[0] as number;
      const g = place[1] as number;
      const b = place[2] as number;
      for (let c = 0; c < 3; c += 1) {
        const i = at + c;
        const c00 = (v[i] as number) * (1 - r) + (v[i + stepR] as number) * r;
        const c10 = (v[i + stepG] as number) * (1 - r) + (v[i + stepG + stepR] as number) * r;
        const c01 = (v[i + stepB] as number) * (1 - r) + (v[i + stepB + stepR] as number) * r;
        const c11 = (v[i + stepB + stepG] as number) * (1 - r) + (v[i + stepB + stepG + stepR] as number) * r;
        rgb[c] = (c00 * (1 - g) + c10 * g) * (1 - b) + (c01 * (1 - g) + c11 * g) * b;
      }
    };
  }
  return (rgb) => {
    const at = locate(rgb);
    const r = place[0] as number;
    const g = place[1] as number;
    const b = place[2] as number;
    // The two corners between black and white of the cell, and the shares of all four, largest part first.
    let first: number;
    let second: number;
    let high: number;
    let middle: number;
    let low: number;
    if (r > g) {
      if (g > b) {
        first = stepR;
        second = stepR + stepG;
        high = r;
        middle = g;
        low = b;
      } else if (r > b) {
        first = stepR;
        second = stepR + stepB;
        high = r;
        middle = b;
        low = g;
      } else {
        first = stepB;
        second = stepR + stepB;
        high = b;
        middle = r;
        low = g;
      }
    } else if (b > g) {
      first = stepB;
      second = stepG + stepB;
      high = b;
      middle = g;
      low = r;
    } else if (b > r) {
      first = stepG;
      second = stepG + stepB;
      high = g;
      middle = b;
      low = r;
    } else {
      first = stepG;
      second = stepR + stepG;
      high = g;
      middle = r;
      low = b;
    }
    const far = at + stepR + stepG + stepB;
    for (let c = 0; c < 3; c += 1) {
      rgb[c] =
        (1 - high) * (v[at + c] as number) +
        (high - middle) * (v[at + first + c] as number) +
        (middle - low) * (v[at + second + c] as number) +
        low * (v[far + c] as number);
    }
  };
}
