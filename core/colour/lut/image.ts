import { fromCodes } from '../ycbcr.ts';
import type { Lut3d } from './lut.ts';
import { applyCubeBySimd } from './simd.ts';

/**
 * Planes of Y', Cb, Cr (16 bits, legal range, equally dense) → R', G', B' signals, interleaved; every `step`th sample
 * of every `step`th row.
 */
export function signalsOf(planes: Uint16Array, width: number, height: number, matrix: string, step = 1): Float32Array {
  const [across, down] = [Math.ceil(width / step), Math.ceil(height / step)];
  const out = new Float32Array(across * down * 3);
  const { matrix: m, offset: o } = fromCodes(matrix);
  const k = 1 / 65_535;
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = m.map((x) => x * k) as unknown as typeof m;
  const size = width * height;
  let to = 0;
  for (let y = 0; y < height; y += step) {
    for (let x = 0; x < width; x += step, to += 3) {
      const i = y * width + x;
      const a = planes[i] as number;
      const b = planes[size + i] as number;
      const c = planes[2 * size + i] as number;
      out[to] = m0 * a + m1 * b + m2 * c + o[0];
      out[to + 1] = m3 * a + m4 * b + m5 * c + o[1];
      out[to + 2] = m6 * a + m7 * b + m8 * c + o[2];
    }
  }
  return out;
}

/**
 * A whole picture through a cube, tetrahedral; R, G, B interleaved. By vectors where this machine has them, else plainly:
 * the two agree within 1e-6 of a cube's greatest value.
 */
export function applyCube(
  cube: Lut3d,
  from: Float32Array,
  to: Float32Array = new Float32Array(from.length),
): Float32Array {
  return applyCubeBySimd(cube, from, to) ? to : applyCubePlainly(cube, from, to);
}

/** The same, the arithmetic of `compile3d` written out for millions of samples: what the vectors are held against. */
// eslint-disable-next-line max-lines-per-function -- one loop over all samples, with its numbers in locals: a call for each costs more than the sum
export function applyCubePlainly(
  { size, values: v, domainMin, domainMax }: Lut3d,
  from: Float32Array,
  to: Float32Array,
): Float32Array {
  const last = size - 1;
  const kr = last / (domainMax[0] - domainMin[0]);
  const kg = last / (domainMax[1] - domainMin[1]);
  const kb = last / (domainMax[2] - domainMin[2]);
  const [or, og, ob] = [-domainMin[0] * kr, -domainMin[1] * kg, -domainMin[2] * kb];
  const stepG = 3 * size;
  const stepB = stepG * size;
  const stepFar = 3 + stepG + stepB;
  const count = from.length;
  for (let i = 0; i < count; i += 3) {
    let r = (from[i] as number) * kr + or;
    let g = (from[i + 1] as number) * kg + og;
    let b = (from[i + 2] as number) * kb + ob;
    // Written so that what is not a number becomes 0.
    r = r > 0 ? (r < last ? r : last) : 0;
    g = g > 0 ? (g < last ? g : last) : 0;
    b = b > 0 ? (b < last ? b : last) : 0;
    const ri = r < last ? r | 0 : last - 1;
    const gi = g < last ? g | 0 : last - 1;
    const bi = b < last ? b | 0 : last - 1;
    r -= ri;
    g -= gi;
    b -= bi;
    const at = ri * 3 + gi * stepG + bi * stepB;
    let first: number;
    let second: number;
    let high: number;
    let middle: number;
    let low: number;
    if (r > g) {
      if (g > b) {
        first = at + 3;
        second = at + 3 + stepG;
        high = r;
        middle = g;
        low = b;
      } else if (r > b) {
        first = at + 3;
        second = at + 3 + stepB;
        high = r;
        middle = b;
        low = g;
      } else {
        first = at + stepB;
        second = at + 3 + stepB;
        high = b;
        middle = r;
        low = g;
      }
    } else if (b > g) {
      first = at + stepB;
      second = at + stepG + stepB;
      high = b;
      middle = g;
      low = r;
    } else if (b > r) {
      first = at + stepG;
      second = at + stepG + stepB;
      high = g;
      middle = b;
      low = r;
    } else {
      first = at + stepG;
      second = at + 3 + stepG;
      high = g;
      middle = r;
      low = b;
    }
    const far = at + stepFar;
    const a0 = 1 - high;
    const a1 = high - middle;
    const a2 = middle - low;
    to[i] = a0 * (v[at] as number) + a1 * (v[first] as number) + a2 * (v[second] as number) + low * (v[far] as number);
    to[i + 1] =
      a0 * (v[at + 1] as number) +
      a1 * (v[first + 1] as number) +
      a2 * (v[second + 1] as number) +
      low * (v[far + 1] as number);
    to[i + 2] =
      a0 * (v[at + 2] as number) +
      a1 * (v[first + 2] as number) +
      a2 * (v[second + 2] as number) +
      low * (v[far + 2] as number);
  }
  return to;
}
