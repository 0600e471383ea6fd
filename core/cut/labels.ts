import { ok, type Result } from '../result.ts';
import type { Rational } from '../time/rational.ts';
import { framesPerDay, timecodeToFrames } from '../time/timecode.ts';
import type { Span } from './cut.ts';

/**
 * Frames from midnight of a label whose drop-frame is known beside it: lists that say it in a line of its own write `:`
 * all the same. Fails as `timecodeToFrames` does.
 */
export function labelFrames(label: string, rate: Rational, dropFrame: boolean): Result<number> {
  const at = label.search(/[:;.]\d+$/);
  return timecodeToFrames(`${label.slice(0, at)}${dropFrame ? ';' : ':'}${label.slice(at + 1)}`, rate);
}

/**
 * Two labels as a span; one that runs over midnight goes on behind it, as long as it is no longer than two hours: longer
 * ones were swapped.
 */
export function spanOf(from: Result<number>, to: Result<number>, rate: Rational, dropFrame: boolean): Result<Span> {
  if (!from.ok) return from;
  if (!to.ok) return to;
  const day = framesPerDay(rate, dropFrame);
  const over = to.value < from.value && to.value + day - from.value <= day / 12;
  return ok({ from: from.value, to: over ? to.value + day : to.value });
}
