import { adaptation, type AdaptationMethod } from './adaptation.ts';
import { apply, compose, identity, inverse, type Matrix3, type Triplet } from './matrix.ts';

export type Chromaticity = readonly [x: number, y: number];

/** Primaries and white as CIE 1931 xy. */
export interface Gamut {
  /** As it stands in names of colour states: lower case, no hyphen. */
  id: string;
  name: string;
  red: Chromaticity;
  green: Chromaticity;
  blue: Chromaticity;
  white: Chromaticity;
  /** How its maker adapts it to another white; see `between`. */
  adaptation: AdaptationMethod;
  source: string;
}

/** CIE D65 as ITU-R BT.709 and the makers state it. */
export const d65 = [0.3127, 0.329] as const;
/** The white of ACES, about 6000 K (SMPTE ST 2065-1). */
export const acesWhite = [0.32168, 0.33767] as const;

export function xyzOf([x, y]: Chromaticity): Triplet {
  return [x / y, 1, (1 - x - y) / y];
}

/** Linear RGB → CIE XYZ with Y = 1 at white: the normalised primary matrix of SMPTE RP 177. */
export function toXyz(gamut: Gamut): Matrix3 {
  const [r, g, b] = [xyzOf(gamut.red), xyzOf(gamut.green), xyzOf(gamut.blue)];
  const primaries: Matrix3 = [r[0], g[0], b[0], r[1], g[1], b[1], r[2], g[2], b[2]];
  const [sr, sg, sb] = apply(inverse(primaries), xyzOf(gamut.white));
  return [r[0] * sr, g[0] * sg, b[0] * sb, r[1] * sr, g[1] * sg, b[1] * sb, r[2] * sr, g[2] * sg, b[2] * sb];
}

function sameWhite(a: Gamut, b: Gamut): boolean {
  return a.white[0] === b.white[0] && a.white[1] === b.white[1];
}

/**
 * Linear RGB of one gamut → linear RGB of another. Where the whites differ, white stays white: adapted the way the
 * gamut that is not ACES's own states it (makers publish CAT02 or Bradford matrices towards ACES; television uses
 * Bradford).
 */
export function between(from: Gamut, to: Gamut): Matrix3 {
  if (from.id === to.id) return identity;
  const into = toXyz(from);
  const back = inverse(toXyz(to));
  if (sameWhite(from, to)) return compose(back, into);
  const method = from.white === acesWhite ? to.adaptation : from.adaptation;
  return compose(back, compose(adaptation(xyzOf(from.white), xyzOf(to.white), method), into));
}
