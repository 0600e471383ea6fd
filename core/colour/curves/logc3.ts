import type { Curve } from '../curve.ts';

/** Exposure indices for which the maker prints parameters. */
export const logc3Indices = [160, 200, 250, 320, 400, 500, 640, 800, 1000, 1280, 1600] as const;

export interface Logc3Parameters {
  cut: number;
  a: number;
  b: number;
  c: number;
  d: number;
  e: number;
  f: number;
}

/**
 * The parameters of LogC3 for scene light at an exposure index, from the maker's own generator of input transforms; the
 * printed table is this, rounded to six digits. Mid grey lies at code 400 of 1023 whatever the index.
 */
export function logc3Parameters(exposureIndex: number): Logc3Parameters {
  const greyCode = 400 / 1023;
  const blackCode = 95 / 1023;
  const breakAt = 1 / 9;
  const slope = 1 / (breakAt * Math.LN10);
  const offset = Math.log10(breakAt) - slope * breakAt;
  const c = ((Math.log2(exposureIndex / 400) * (0.89 - 1)) / 3 + 1) * ((500 / 1023) * 0.525);
  let d = greyCode;
  let b = 0;
  // The foot's place depends on the offset, and the offset on it: three rounds, as in the generator.
  for (let round = 0; round < 3; round += 1) {
    b = ((blackCode - d) / c - offset) / slope;
    d = greyCode - Math.log10(1 + b) * c;
  }
  const a = 1 / 0.18;
  return { cut: (breakAt - b) / a, a, b, c, d, e: slope * a * c, f: c * (slope * b + offset) + d };
}

function logc3At(exposureIndex: number): Curve {
  const { cut, a, b, c, d, e, f } = logc3Parameters(exposureIndex);
  return {
    id: exposureIndex === 800 ? 'logc3' : `logc3ei${exposureIndex}`,
    name: exposureIndex === 800 ? 'LogC3' : `LogC3 EI ${exposureIndex}`,
    light: 'scene',
    toLinear: (signal) => (signal > e * cut + f ? (10 ** ((signal - d) / c) - b) / a : (signal - f) / e),
    fromLinear: (light) => (light > cut ? c * Math.log10(a * light + b) + d : e * light + f),
    source: 'ALEXA Log C Curve, usage in VFX, ARRI 2017, scene exposure factors',
    confirmed: true,
  };
}

/** One curve for each exposure index; plain `logc3` is EI 800. */
export const logc3: readonly Curve[] = logc3Indices.map(logc3At);
