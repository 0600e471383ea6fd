import type { Rational } from '../../time/rational.ts';
import type { RationalTime } from './json.ts';

/**
 * Times of a list are added up as whole ticks of a second of which frames at every rate in use take a whole number, the
 * thousand-and-first ones too: sums of hours of them are exact.
 */
export const ticksPerSecond = 705_600_000;

export function ticksOf({ value, rate }: RationalTime): number {
  const top = BigInt(value.num) * BigInt(rate.den) * BigInt(ticksPerSecond) * 2n;
  const den = BigInt(value.den) * BigInt(rate.num);
  return Number((top / den + (top < 0n ? -1n : 1n)) / 2n);
}

/** Frames of a rate that some ticks are, to the nearest; and whether they are that exactly. */
export function framesOfTicks(ticks: number, rate: Rational): { frames: number; whole: boolean } {
  const top = BigInt(Math.round(ticks)) * BigInt(rate.num);
  const den = BigInt(rate.den) * BigInt(ticksPerSecond);
  const floor = top >= 0n ? top / den : (top - den + 1n) / den;
  const rest = top - floor * den;
  return { frames: Number(floor) + (rest * 2n >= den ? 1 : 0), whole: rest === 0n };
}
