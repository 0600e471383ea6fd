import { apply, compose, inverse, type Matrix3, type Triplet } from './matrix.ts';

/** Primaries and white as CIE 1931 xy. */
export interface Gamut {
  red: readonly [number, number];
  green: readonly [number, number];
  blue: readonly [number, number];
  white: readonly [number, number];
}

/** CIE D65 as ITU-R BT.709 and the makers state it. */
export const d65 = [0.3127, 0.329] as const;

function xyz([x, y]: readonly [number, number]): Triplet {
  return [x / y, 1, (1 - x - y) / y];
}

/** Linear RGB → CIE XYZ with Y = 1 at white: the normalised primary matrix of SMPTE RP 177. */
export function toXyz(gamut: Gamut): Matrix3 {
  const [r, g, b] = [xyz(gamut.red), xyz(gamut.green), xyz(gamut.blue)];
  const primaries: Matrix3 = [r[0], g[0], b[0], r[1], g[1], b[1], r[2], g[2], b[2]];
  const [sr, sg, sb] = apply(inverse(primaries), xyz(gamut.white));
  return [r[0] * sr, g[0] * sg, b[0] * sb, r[1] * sr, g[1] * sg, b[1] * sb, r[2] * sr, g[2] * sg, b[2] * sb];
}

/** Linear RGB of one gamut → linear RGB of another with the same white. */
export function between(from: Gamut, to: Gamut): Matrix3 {
  return compose(inverse(toXyz(to)), toXyz(from));
}
