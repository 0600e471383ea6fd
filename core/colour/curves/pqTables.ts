import { pqFromNits, pqToNits } from './pq.ts';

/**
 * PQ for millions of values: read between the points of tables by cubics (Lagrange's, through four points), within
 * 1e-9 of the formula's signal, and of its light within one part in a thousand million.
 */

const steps = 8192;
/** A little more than the code holds: colours outside a gamut go beyond. */
const highest = 1.1;
const perStep = steps / highest;

/** Values in even steps from one before 0 to two beyond the highest. */
function tableOf(f: (x: number) => number): Float64Array {
  return Float64Array.from({ length: steps + 4 }, (_, i) => f(Math.max(0, (i - 1) / perStep)));
}

/** The cubic through the four points around a place of a table. */
function between(table: Float64Array, place: number): number {
  const i = place | 0;
  const x = place - i;
  const a = table[i] as number;
  const b = table[i + 1] as number;
  const c = table[i + 2] as number;
  const d = table[i + 3] as number;
  const y = x - 1;
  const z = x + 1;
  const w = x - 2;
  return (-x * y * w * a) / 6 + (z * y * w * b) / 2 - (z * x * w * c) / 2 + (z * x * y * d) / 6;
}

let lights: Float64Array | null = null;
let signals: Float64Array | null = null;

/** Where the tables begin: below, the curve bends more than a cubic follows. */
const [leastSignal, leastRoot] = [0.06, 0.03];

/** Signal → cd/m², as {@link pqToNits}. */
export function nitsOf(signal: number): number {
  if (!(signal > leastSignal && signal < highest)) return pqToNits(signal);
  lights ??= tableOf(pqToNits);
  return between(lights, signal * perStep);
}

/** cd/m² → signal, as {@link pqFromNits}. */
export function signalOf(nits: number): number {
  // The fourth root of the light runs nearly evenly with its signal.
  const root = Math.sqrt(Math.sqrt(nits * 1e-4));
  if (!(root > leastRoot && root < highest)) return pqFromNits(nits);
  signals ??= tableOf((x) => pqFromNits(x ** 4 * 1e4));
  return between(signals, root * perStep);
}
