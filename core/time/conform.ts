import type { StartTimecode } from '../clip/description.ts';
import { fail, ok, type Result } from '../result.ts';
import { filmFrames, type FrameMap } from './frameMap.ts';
import { formatRate, nominalFramesPerSecond } from './rate.ts';
import { compare, divide, multiply, rational, scaleToInteger, toNumber, type Rational } from './rational.ts';
import { framesPerDay, framesToTimecode, timecodeToFrames } from './timecode.ts';

/** How the start timecode comes over to another rate. */
export type TimecodeChoice =
  /** Hours, minutes and seconds stay; the frame number too if it exists there, else in proportion. */
  | 'as labelled'
  /** The frame's number since midnight stays (relabelled), or its time of day (otherwise), written at the new rate. */
  | 'recounted';

export type RelabelSound = 'stretched' | 'pitch kept' | 'dropped';

/** What is to become of a clip's time. */
export type Conform =
  /** Every frame kept, played at another rate. */
  | { kind: 'relabel'; rate: Rational; timecode: TimecodeChoice; sound: RelabelSound }
  /** Another rate, duration kept: frames dropped or repeated, or mixed. */
  | { kind: 'resample'; rate: Rational; how: 'hold' | 'blend'; timecode: TimecodeChoice }
  /** 2:3 pulldown taken out of 29.97: 23.976 whole frames. `phase` is the first frame's place in AA BB BC CD DD. */
  | { kind: 'pulldown-out'; phase: number; timecode: TimecodeChoice }
  /** 2:3 pulldown put into 23.976: 29.97 in fields. */
  | { kind: 'pulldown-in'; timecode: TimecodeChoice }
  /** A varying rate made constant at this one. */
  | { kind: 'constant'; rate: Rational };

/** What a clip's time is before it is conformed. */
export interface TimeFacts {
  rate: Rational;
  rateConstant: boolean;
  frames: number;
  /** Seconds, exact. */
  duration: Rational;
}

/** A conform worked out for one clip. */
export interface ConformPlan {
  rate: Rational;
  frames: number;
  map: FrameMap;
  /** How much longer sound lasts: the output's duration over the original's. 1 where duration is kept. */
  stretch: Rational;
  /**
   * Seconds by which the output is longer than the original: the whole of it for relabelled clips, the rounding of the
   * last frame otherwise.
   */
  driftSeconds: number;
}

const one: Rational = { num: 1, den: 1 };
const ntsc30 = rational(30000, 1001);
const film = rational(24000, 1001);

/** The rates that a clip can be conformed to: above zero, and no more than 240. */
export function rateProblem(rate: Rational): string | null {
  return rate.num <= 0 || toNumber(rate) > 240 ? `${formatRate(rate)} is no rate to conform to` : null;
}

/** Works out a conform. Fails where it cannot be: pulldown of another rate, relabelling of a rate that varies. */
export function planConform(time: TimeFacts, conform: Conform): Result<ConformPlan> {
  const wrong = 'rate' in conform ? rateProblem(conform.rate) : null;
  if (wrong) return fail(wrong, 'Choose a rate from 1 to 240');
  const drift = (rate: Rational, frames: number): number => frames / toNumber(rate) - toNumber(time.duration);
  if (conform.kind === 'constant' || (!time.rateConstant && conform.kind === 'resample')) {
    const frames = Math.max(1, scaleToInteger(conform.rate.num, divide(time.duration, rational(conform.rate.den))));
    return ok({
      rate: conform.rate,
      frames,
      map: time.rateConstant ? { kind: 'hold', ratio: divide(conform.rate, time.rate) } : { kind: 'times', places: [] },
      stretch: one,
      driftSeconds: drift(conform.rate, frames),
    });
  }
  if (!time.rateConstant) return fail('a varying rate has no frames to relabel evenly', 'Make its rate constant first');
  switch (conform.kind) {
    case 'relabel':
      return ok({
        rate: conform.rate,
        frames: time.frames,
        map: { kind: 'every' },
        stretch: divide(time.rate, conform.rate),
        driftSeconds: drift(conform.rate, time.frames),
      });
    case 'resample': {
      const ratio = divide(conform.rate, time.rate);
      if (compare(ratio, one) === 0)
        return ok({ rate: time.rate, frames: time.frames, map: { kind: 'every' }, stretch: one, driftSeconds: 0 });
      const frames = Math.max(1, scaleToInteger(time.frames, ratio));
      return ok({
        rate: conform.rate,
        frames,
        map: { kind: conform.how, ratio },
        stretch: one,
        driftSeconds: drift(conform.rate, frames),
      });
    }
    case 'pulldown-out': {
      if (compare(time.rate, ntsc30) !== 0)
        return fail(`2:3 pulldown is in pictures of 29.97, not of ${formatRate(time.rate)}`, 'Choose another conform');
      if (!Number.isInteger(conform.phase) || conform.phase < 0 || conform.phase > 4)
        return fail('the pattern has five places', 'Say which one the first frame has: 0 to 4');
      const frames = filmFrames(time.frames, conform.phase);
      if (frames < 1) return fail('too short to hold a whole film frame', 'Leave its pulldown in');
      return ok({
        rate: film,
        frames,
        map: { kind: 'pulldown-out', phase: conform.phase },
        stretch: one,
        driftSeconds: drift(film, frames),
      });
    }
    case 'pulldown-in': {
      if (compare(time.rate, film) !== 0)
        return fail(
          `2:3 pulldown is put into 23.976, not into ${formatRate(time.rate)}`,
          'Relabel it as 23.976 first, or resample it',
        );
      const frames = Math.max(1, Math.floor((time.frames * 5) / 4));
      return ok({
        rate: ntsc30,
        frames,
        map: { kind: 'pulldown-in' },
        stretch: one,
        driftSeconds: drift(ntsc30, frames),
      });
    }
  }
}

/**
 * The start timecode at another rate. Null where there is none that could be written; past midnight it goes on from
 * zero, which `wraps` says. Drop-frame stays only where the new rate has it.
 */
export function conformTimecode(
  start: StartTimecode,
  from: Rational,
  to: Rational,
  choice: TimecodeChoice,
  relabelled: boolean,
): (StartTimecode & { wraps: boolean }) | null {
  const count = timecodeToFrames(start.start, from);
  if (!count.ok) return null;
  const dropFrame = start.dropFrame && framesPerDay(to, true) !== framesPerDay(to, false);
  const written = (frames: number): (StartTimecode & { wraps: boolean }) | null => {
    const label = framesToTimecode(frames, to, dropFrame);
    return label.ok ? { start: label.value.text, dropFrame, wraps: frames >= framesPerDay(to, dropFrame) } : null;
  };
  if (choice === 'recounted') {
    return written(relabelled ? count.value : scaleToInteger(count.value, divide(to, from)));
  }
  const fields = /^(\d{2}:\d{2}:\d{2})[:;.](\d+)$/.exec(start.start);
  if (!fields) return null;
  const [before, after] = [nominalFramesPerSecond(from), nominalFramesPerSecond(to)];
  const number = Number(fields[2]);
  const frame = relabelled
    ? number < after
      ? number
      : Math.floor((number * after) / before)
    : Math.floor((number * after) / before);
  const text = `${fields[1]}${dropFrame ? ';' : ':'}${String(frame).padStart(after > 100 ? 3 : 2, '0')}`;
  if (timecodeToFrames(text, to).ok) return { start: text, dropFrame, wraps: false };
  // A number that drop-frame leaves out: the next that exists.
  const next = timecodeToFrames(text.replace(/;\d+$/, `;${String(after / 15).padStart(2, '0')}`), to);
  return next.ok ? written(next.value) : null;
}

/**
 * Whole numbers for a sample-exact stretch at 48 kHz: samples are taken to be at `taken`, brought to `brought`, and
 * called 48,000 again.
 */
export function stretchRates(stretch: Rational): { taken: number; brought: number } {
  const times = Math.max(1, Math.round(48_000 / stretch.den));
  return { taken: stretch.den * times, brought: stretch.num * times };
}

/** How much slower or faster a relabelled clip plays: 2.5 is two and a half times slower. */
export function slowness(from: Rational, to: Rational): number {
  return toNumber(multiply(from, { num: to.den, den: to.num }));
}
