import { formatFraction, multiply, rational, toNumber, type Rational } from '../time/rational.ts';
import type { Retime, Span } from './cut.ts';

/** How fast a retime is: 1 where there is none, 0 for a picture that stands. */
export function speedOf(retime: Retime | null): Rational {
  if (retime === null) return rational(1);
  return retime.kind === 'freeze' ? rational(0) : retime.speed;
}

/** A speed as a retime; null for the source's own. */
export function retimeOf(speed: Rational): Retime | null {
  if (speed.num === 0) return { kind: 'freeze' };
  return speed.num === speed.den ? null : { kind: 'speed', speed };
}

/**
 * Frames that go by while `frames` frames of another clock do, each begun one counted: `ratio` is the source's for one
 * of those. Exact.
 */
export function framesWithin(frames: number, ratio: Rational): number {
  const top = BigInt(frames) * BigInt(Math.abs(ratio.num));
  const den = BigInt(ratio.den);
  return Number((top + den - 1n) / den);
}

/**
 * The frames of a source that an event of `length` frames shows, from where it was cut in: on from there, back from
 * there, or that one alone.
 */
export function framesShown(cutIn: number, length: number, retime: Retime | null, perFrame: Rational): Span {
  if (retime?.kind === 'freeze') return { from: cutIn, to: cutIn + (length > 0 ? 1 : 0) };
  const count = framesWithin(length, multiply(speedOf(retime), perFrame));
  return { from: cutIn, to: cutIn + count };
}

/** `50 %`, `backwards at 100 %`, `one frame, standing`. */
export function sayRetime(retime: Retime): string {
  if (retime.kind === 'freeze') return 'one frame, standing';
  const { speed } = retime;
  const share = Math.abs(toNumber(speed)) * 100;
  const said = Number.isInteger(share) ? `${share} %` : `${share.toFixed(2)} % (${formatFraction(absolute(speed))})`;
  return speed.num < 0 ? `backwards at ${said}` : `at ${said}`;
}

export function absolute(value: Rational): Rational {
  return { num: Math.abs(value.num), den: value.den };
}
