import { nitsOf, signalOf } from './curves/pqTables.ts';
import { inverse, type Matrix3 } from './matrix.ts';

/** ITU-R BT.2100-2, table 7: BT.2020 light → cone light, and coded cone light → I, CT, CP. */
export const lmsFrom2020: Matrix3 = [
  1688 / 4096,
  2146 / 4096,
  262 / 4096,
  683 / 4096,
  2951 / 4096,
  462 / 4096,
  99 / 4096,
  309 / 4096,
  3688 / 4096,
];
const ictcpFromLms: Matrix3 = [
  0.5,
  0.5,
  0,
  6610 / 4096,
  -13613 / 4096,
  7003 / 4096,
  17933 / 4096,
  -17390 / 4096,
  -543 / 4096,
];
const lmsFromIctcp = inverse(ictcpFromLms);
const from2020Lms = inverse(lmsFrom2020);

/** Light below nothing, which colours outside the spectrum have, is coded as its mirror image. */
function coded(nits: number): number {
  return nits < 0 ? -signalOf(-nits) + 2 * signalOf(0) : signalOf(nits);
}
function uncoded(signal: number): number {
  return signal < 0 ? -nitsOf(-signal) : nitsOf(signal);
}

/** BT.2020 light in cd/m² → I, CT, CP of BT.2100, in place. */
export function toIctcp(rgb: Float64Array): void {
  // By number: taking a typed array apart makes an iterator each time.
  const r = rgb[0] as number;
  const g = rgb[1] as number;
  const b = rgb[2] as number;
  const m = lmsFrom2020;
  const l = coded(m[0] * r + m[1] * g + m[2] * b);
  const c = coded(m[3] * r + m[4] * g + m[5] * b);
  const s = coded(m[6] * r + m[7] * g + m[8] * b);
  const k = ictcpFromLms;
  rgb[0] = k[0] * l + k[1] * c;
  rgb[1] = k[3] * l + k[4] * c + k[5] * s;
  rgb[2] = k[6] * l + k[7] * c + k[8] * s;
}

/** I, CT, CP → BT.2020 light in cd/m², in place. */
export function fromIctcp(itp: Float64Array): void {
  const i = itp[0] as number;
  const t = itp[1] as number;
  const p = itp[2] as number;
  const k = lmsFromIctcp;
  const l = uncoded(k[0] * i + k[1] * t + k[2] * p);
  const c = uncoded(k[3] * i + k[4] * t + k[5] * p);
  const s = uncoded(k[6] * i + k[7] * t + k[8] * p);
  const m = from2020Lms;
  itp[0] = m[0] * l + m[1] * c + m[2] * s;
  itp[1] = m[3] * l + m[4] * c + m[5] * s;
  itp[2] = m[6] * l + m[7] * c + m[8] * s;
}

/** ITU-R BT.2124: ΔE ITP between two colours given as I, CT, CP; about 1 is the least that is seen. */
export function deltaEItp(a: ArrayLike<number>, b: ArrayLike<number>): number {
  const i = (a[0] as number) - (b[0] as number);
  const t = 0.5 * ((a[1] as number) - (b[1] as number));
  const p = (a[2] as number) - (b[2] as number);
  return 720 * Math.hypot(i, t, p);
}

/**
 * The share of ΔE ITP that is hue: with T = CT / 2 and P = CP, twice the root of both chromas times the half angle's
 * sine.
 */
export function deltaHItp(a: ArrayLike<number>, b: ArrayLike<number>): number {
  const [at, ap, bt, bp] = [(a[1] as number) / 2, a[2] as number, (b[1] as number) / 2, b[2] as number];
  const angle = Math.atan2(at * bp - ap * bt, at * bt + ap * bp);
  return 720 * 2 * Math.sqrt(Math.hypot(at, ap) * Math.hypot(bt, bp)) * Math.abs(Math.sin(angle / 2));
}
