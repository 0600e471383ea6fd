import { absolute, framesShown, retimeOf, speedOf } from '../retime.ts';
import { nominalFramesPerSecond } from '../../time/rate.ts';
import { parseRational, rational, toNumber, type Rational } from '../../time/rational.ts';
import type { CutEvent } from '../cut.ts';

/** A line of motion says frames a second with one decimal: half of the last one either way is the same. */
const rounding = 0.06;

export interface Motion {
  speed: Rational;
  /** What the labels say against it; null where they agree. */
  doubt: string | null;
}

/**
 * The speed that a line of motion (`M2`) means for an event: its frames a second over the rate's. Where the event's
 * labels agree with it to a frame it is exact; where its one decimal could be a rounding of what the labels say, it is
 * theirs (47.9 of 23.976 is twice).
 */
export function motionOf({ record, source }: CutEvent, written: string, rate: Rational): Motion {
  const parsed = parseRational(written.replace(/^\+/, ''));
  const value = parsed.ok ? parsed.value : rational(1);
  const nominal = nominalFramesPerSecond(rate);
  const said = rational(value.num, value.den * nominal);
  const length = record.to - record.from;
  const { frames } = source;
  if (said.num === 0 || !frames || length === 0) return { speed: said, doubt: null };
  const span = Math.abs(frames.to - frames.from);
  if (Math.abs(span - Math.abs(toNumber(said)) * length) <= 1) return { speed: said, doubt: null };
  const perSecond = Math.abs(toNumber(value));
  const near = [nominal, toNumber(rate)].some(
    (one) => Math.abs(span - (perSecond / one) * length) <= 1 + (rounding / one) * length,
  );
  if (span > 0 && near) return { speed: rational(span * Math.sign(said.num), length), doubt: null };
  return {
    speed: said,
    doubt: `The speed of ${written} frames a second and the labels, ${span} frames in ${length}, do not agree: the speed is taken`,
  };
}

/** Whether a line of motion says only what is known of an event: its speed, rounded. */
export function saysAgain({ retime }: CutEvent, written: string, rate: Rational): boolean {
  const perSecond = toNumber(speedOf(retime)) * nominalFramesPerSecond(rate);
  return retime !== null && Math.abs(perSecond - Number(written)) <= rounding;
}

/** Gives an event its speed; its source is as long as what is then shown. Returns what should be remarked on. */
export function withMotion(event: CutEvent, { speed, doubt }: Motion): string | null {
  event.retime = retimeOf(speed);
  const { frames } = event.source;
  if (!frames || event.retime === null) return doubt;
  const length = event.record.to - event.record.from;
  const shown = framesShown(0, length, event.retime, rational(1));
  // Backwards, the last frame of the labels comes first, whichever way round they stand.
  const [low, high] = [Math.min(frames.from, frames.to), Math.max(frames.from, frames.to)];
  const from = speed.num < 0 && absolute(speed).num !== 0 ? high - shown.to : low;
  event.source.frames = { from, to: from + shown.to };
  return doubt;
}

/** Gives an event the exact speed of which its line of motion was a rounding; false where it was of none such. */
export function sharpened(event: CutEvent, speed: Rational): boolean {
  const { retime, source, record } = event;
  if (retime?.kind !== 'speed' || !source.frames) return false;
  const apart = Math.abs(toNumber(retime.speed) - toNumber(speed)) * nominalFramesPerSecond(source.rate);
  if (apart > 2 * rounding) return false;
  event.retime = retimeOf(speed);
  const count = framesShown(0, record.to - record.from, event.retime, rational(1)).to;
  const { from, to } = source.frames;
  source.frames = speed.num < 0 ? { from: to - count, to } : { from, to: from + count };
  return true;
}
