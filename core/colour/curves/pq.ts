import { mirrored, type Curve } from '../curve.ts';

const m1 = 2610 / 16384;
const m2 = (2523 / 4096) * 128;
const c1 = 3424 / 4096;
const c2 = (2413 / 4096) * 32;
const c3 = (2392 / 4096) * 32;

/** Signal 0–1 → cd/m², up to 10,000. */
export function pqToNits(signal: number): number {
  const v = Math.max(0, signal) ** (1 / m2);
  return 10_000 * (Math.max(0, v - c1) / (c2 - c3 * v)) ** (1 / m1);
}

/** cd/m² → signal. */
export function pqFromNits(nits: number): number {
  const y = (Math.max(0, nits) / 10_000) ** m1;
  return ((c1 + c2 * y) / (1 + c3 * y)) ** m2;
}

/** PQ; 1 of its light is 100 cd/m². */
export const pq: Curve = {
  id: 'pq',
  name: 'PQ',
  light: 'display',
  toLinear: mirrored((signal) => pqToNits(signal) / 100),
  fromLinear: mirrored((light) => pqFromNits(light * 100)),
  source: 'ITU-R BT.2100-2, table 4 (SMPTE ST 2084)',
  confirmed: true,
};
