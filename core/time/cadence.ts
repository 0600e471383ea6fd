import { divide, rational, scaleToInteger, toNumber, type Rational } from './rational.ts';
import { nearestStandardRate, snapRate } from './rate.ts';

/** How regularly pictures follow each other, found from their time stamps. */
export interface Cadence {
  /** The rate: exact when constant, the average over the clip when not. */
  rate: Rational;
  constant: boolean;
  /** The slowest and fastest pair of neighbours, in frames a second; equal to the rate when constant. */
  slowest: Rational;
  fastest: Rational;
}

/**
 * The cadence of pictures shown at `ticks` (in units of `timeBase` seconds, any order). A clip is constant when every
 * picture lies within a tenth of a frame, or one tick of a clock coarser than that, of its place on an even grid:
 * rounding to 1/600 s or 1/1000 s passes, a phone's wandering rate does not. Where a wrapper states a rate and the
 * times are even at it, that is the rate: of a few pictures, rounded times fit several.
 */
export function findCadence(
  ticks: readonly number[],
  timeBase: Rational,
  stated: Rational | null = null,
): Cadence | null {
  const times = [...ticks].sort((a, b) => a - b);
  if (stated && times.length > 1 && even(times, stated, timeBase))
    return { rate: stated, constant: true, slowest: stated, fastest: stated };
  const whole = cadenceOf(times, timeBase);
  if (!whole || whole.constant || times.length <= 3 * tornPictures) return whole;
  // A file cut short lacks pictures that would have been shown between its last ones.
  for (let torn = 1; torn <= tornPictures; torn += 1) {
    const begun = cadenceOf(times.slice(0, -torn), timeBase);
    if (begun?.constant) return begun;
  }
  return whole;
}

/** How many of the last pictures may be out of step because what belongs between them is missing. */
const tornPictures = 4;

function cadenceOf(times: readonly number[], timeBase: Rational): Cadence | null {
  const [first, last] = [times[0], times.at(-1)];
  if (first === undefined || last === undefined || times.length < 2 || last === first) return null;
  const average = divide(rational(times.length - 1, last - first), timeBase);
  // A coarse clock's rounding at both ends weighs more the shorter a clip is; 1e-3 would reach from 59.94 to 60.
  const rate = snapRate(average, Math.min(9e-4, Math.max(4e-4, 1 / (last - first))));
  const constant = even(times, rate, timeBase);
  if (constant) return { rate, constant, slowest: rate, fastest: rate };
  const gaps = times
    .slice(1)
    .map((time, index) => time - (times[index] ?? 0))
    .filter((gap) => gap > 0);
  const gapRate = (gap: number): Rational => divide(rational(1, gap), timeBase);
  // Whole-clip extremes, without a spread call: clips have hundreds of thousands of frames.
  const widest = gaps.reduce((a, b) => Math.max(a, b), 1);
  const narrowest = gaps.reduce((a, b) => Math.min(a, b), widest);
  return { rate: average, constant, slowest: gapRate(widest), fastest: gapRate(narrowest) };
}

/** Whether every picture lies where an even grid of a rate has it, as near as the clock can say. */
function even(times: readonly number[], rate: Rational, timeBase: Rational): boolean {
  const first = times[0] ?? 0;
  const ticksPerFrame = 1 / (toNumber(rate) * toNumber(timeBase));
  const tolerance = Math.max(0.1, 1.01 / ticksPerFrame);
  return times.every((time, index) => Math.abs((time - first) / ticksPerFrame - index) <= tolerance);
}

/** What a varying rate becomes: the nearest standard rate, and the frames that keep the duration. */
export function steadied(average: Rational, seconds: Rational): { rate: Rational; frames: number } {
  const rate = nearestStandardRate(average);
  return { rate, frames: Math.max(1, scaleToInteger(rate.num, divide(seconds, rational(rate.den)))) };
}
