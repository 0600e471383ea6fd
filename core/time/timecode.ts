import { fail, ok, type Result } from '../result.ts';
import type { Rational } from './rational.ts';
import { formatRate, nominalFramesPerSecond } from './rate.ts';

/**
 * SMPTE ST 12-1 timecode (ST 12-3 above 30 frames a second, counted in whole frames). A label, not a time:
 * its meaning comes from the rate beside it.
 */
export interface Timecode {
  /** `HH:MM:SS:FF`, with `;` before the frames when drop-frame. */
  text: string;
  dropFrame: boolean;
}

/**
 * Frame numbers left out at each minute but the tenths: 2 at 29.97, 4 at 59.94, 8 at 119.88; 0 where drop-frame does
 * not exist.
 */
export function droppedPerMinute(rate: Rational): number {
  const nominal = nominalFramesPerSecond(rate);
  return rate.den === 1001 && nominal % 30 === 0 ? (nominal / 30) * 2 : 0;
}

/** Frames in a full day of labels: 24 h, less those that drop-frame leaves out. */
export function framesPerDay(rate: Rational, dropFrame: boolean): number {
  const nominal = nominalFramesPerSecond(rate);
  return nominal * 86_400 - (dropFrame ? droppedPerMinute(rate) * 1296 : 0);
}

/**
 * Frames since midnight of the label `text` at `rate`. `;` or `.` before the frames means drop-frame.
 * Fails on labels that cannot exist: fields out of range, dropped numbers, drop-frame at a rate without it.
 */
export function timecodeToFrames(text: string, rate: Rational): Result<number> {
  const fields = /^(\d{2}):(\d{2}):(\d{2})([:;.])(\d{2,3})$/.exec(text.trim());
  if (!fields)
    return fail(`${JSON.stringify(text)} is not a timecode`, 'Write it as HH:MM:SS:FF, or HH:MM:SS;FF for drop-frame');
  const [hours, minutes, seconds, frames] = [fields[1], fields[2], fields[3], fields[5]].map(Number) as [
    number,
    number,
    number,
    number,
  ];
  const dropFrame = fields[4] !== ':';
  const nominal = nominalFramesPerSecond(rate);
  // Three digits are for rates of more than a hundred frames a second.
  if (fields[5]?.length === 3 && nominal <= 100)
    return fail(`${JSON.stringify(text)} is not a timecode at ${formatRate(rate)}`, 'Write frames with two digits');
  if (hours > 23 || minutes > 59 || seconds > 59 || frames >= nominal) {
    return fail(
      `${text} does not exist at ${formatRate(rate)}`,
      `Hours go to 23, minutes and seconds to 59, frames to ${nominal - 1}`,
    );
  }
  const count = ((hours * 60 + minutes) * 60 + seconds) * nominal + frames;
  if (!dropFrame) return ok(count);
  const dropped = droppedPerMinute(rate);
  if (dropped === 0) return fail(`${formatRate(rate)} has no drop-frame timecode`, 'Write it with : before the frames');
  if (minutes % 10 !== 0 && seconds === 0 && frames < dropped) {
    return fail(
      `${text} is one of the numbers that drop-frame leaves out`,
      `The minute begins at ;${String(dropped).padStart(2, '0')}`,
    );
  }
  const totalMinutes = hours * 60 + minutes;
  return ok(count - dropped * (totalMinutes - Math.floor(totalMinutes / 10)));
}

/** The label of the frame `frames` after midnight; wraps at 24 h, and backwards below zero. */
export function framesToTimecode(frames: number, rate: Rational, dropFrame = false): Result<Timecode> {
  if (!Number.isSafeInteger(frames)) return fail(`${frames} is not a whole number of frames`, 'Give a whole number');
  const dropped = dropFrame ? droppedPerMinute(rate) : 0;
  if (dropFrame && dropped === 0) return fail(`${formatRate(rate)} has no drop-frame timecode`, 'Leave drop-frame off');
  const nominal = nominalFramesPerSecond(rate);
  const day = framesPerDay(rate, dropFrame);
  let label = ((frames % day) + day) % day;
  if (dropFrame) {
    const perTenMinutes = nominal * 600 - dropped * 9;
    const perMinute = nominal * 60 - dropped;
    const tens = Math.floor(label / perTenMinutes);
    const rest = label % perTenMinutes;
    // The first minute of ten drops nothing, so its length is `perMinute + dropped`.
    label += dropped * (9 * tens + (rest < nominal * 60 ? 0 : Math.floor((rest - nominal * 60) / perMinute) + 1));
  }
  const two = (value: number): string => String(value).padStart(2, '0');
  const seconds = Math.floor(label / nominal);
  const clock = `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;
  return ok({
    text: `${clock}${dropFrame ? ';' : ':'}${String(label % nominal).padStart(nominal > 100 ? 3 : 2, '0')}`,
    dropFrame,
  });
}

/** A length in frames written as a clock at its rate, hours always shown: `00:00:04:12`. */
export function formatLength(frames: number, rate: Rational): string {
  const label = framesToTimecode(frames, rate);
  return label.ok ? label.value.text : String(frames);
}
