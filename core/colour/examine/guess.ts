import type { SignalRange } from '../range.ts';
import { curves } from '../curves.ts';
import { lumaOf, type LutFacts } from './facts.ts';

const legalBlack = 64 / 1023;
const legalWhite = 940 / 1023;

/** Neutral luma at an input, between the samples. */
export function neutralAt(facts: LutFacts, input: number): number {
  const [from, to] = facts.domain;
  const last = facts.inputs.length - 1;
  const at = Math.min(last, Math.max(0, ((input - from) / (to - from)) * last));
  const i = Math.min(last - 1, Math.floor(at));
  const luma = (n: number): number =>
    lumaOf(facts.neutral[n * 3] as number, facts.neutral[n * 3 + 1] as number, facts.neutral[n * 3 + 2] as number);
  return luma(i) + (luma(i + 1) - luma(i)) * (at - i);
}

/**
 * The range on each side that a LUT looks made for. A guess: it rests on where black and white lie, and what is flat
 * outside.
 */
export function guessRange(facts: LutFacts): { rangeIn: SignalRange; rangeOut: SignalRange } {
  const near = (value: number, wanted: number, tolerance: number): boolean =>
    Math.abs(value - wanted) < tolerance / 1023;
  const [bottom, top] = [neutralAt(facts, 0), neutralAt(facts, 1)];
  // Slopes just outside of legal codes and just inside: held back outside, though a cube's cells blur the corner.
  const slope = (from: number, to: number): number =>
    (neutralAt(facts, to / 1023) - neutralAt(facts, from / 1023)) / ((to - from) / 1023);
  const abrupt = (outside: number, inside: number, further: number): boolean =>
    inside > 0.1 && outside < 0.3 * inside && inside > 0.5 * further;
  const flatBelow = abrupt(slope(0, 64), slope(64, 128), slope(128, 192));
  const flatAbove = abrupt(slope(940, 1023), slope(857, 940), slope(774, 857));
  const outLegal =
    near(bottom, legalBlack, 8) && (near(top, legalWhite, 12) || (top > 900 / 1023 && top < 1000 / 1023));
  return { rangeIn: flatBelow && flatAbove ? 'legal' : 'full', rangeOut: outLegal ? 'legal' : 'full' };
}

export interface LogGuess {
  curve: string;
  name: string;
  /** How far the LUT's tone lies from a plausible one for this curve; smaller is likelier. */
  distance: number;
}

/** Stops about mid grey at which a plausible tone is asked for. */
const stops = [-4, -3, -2, -1, 0, 1, 2] as const;

/**
 * Which camera's log a LUT towards a display was likely made for. For each curve the LUT's tone is drawn over stops:
 * the right one puts mid grey where displays have it, black where there is no light, and rises by an even contrast.
 */
export function guessLog(facts: LutFacts): LogGuess[] {
  const { rangeIn, rangeOut } = guessRange(facts);
  const shown = (signal: number): number => {
    const given = neutralAt(facts, rangeIn === 'legal' ? legalBlack + signal * (legalWhite - legalBlack) : signal);
    return Math.max(0, rangeOut === 'legal' ? (given - legalBlack) / (legalWhite - legalBlack) : given);
  };
  return curves
    .filter(
      (curve) =>
        curve.light === 'scene' &&
        !['linear', 'bt709', 'bt2020', 'hlg', 'acescc'].includes(curve.id) &&
        !curve.id.startsWith('logc3ei'),
    )
    .map((curve) => {
      const grey = shown(curve.fromLinear(0.18));
      const black = shown(curve.fromLinear(0));
      // Light on a display of gamma 2.4, by stops; an even contrast is a straight line.
      const tone = stops.map((stop) => Math.log2(shown(curve.fromLinear(0.18 * 2 ** stop)) ** 2.4 + 1e-4));
      const middle = tone.slice(2);
      const slope = ((middle.at(-1) as number) - (middle[0] as number)) / (middle.length - 1);
      const bend =
        Math.hypot(...middle.map((value, i) => value - ((middle[0] as number) + slope * i))) /
        Math.max(0.2, Math.abs(slope));
      return {
        curve: curve.id,
        name: curve.name,
        distance: Math.abs(grey - 0.41) * 6 + Math.abs(black - 0.005) * 8 + Math.abs(slope - 1.1) * 0.6 + bend * 0.25,
      };
    })
    .sort((a, b) => a.distance - b.distance);
}
