import { ok, type Result } from '../result.ts';
import { nominalFramesPerSecond } from './rate.ts';
import type { Rational } from './rational.ts';
import { droppedPerMinute, timecodeToFrames, type Timecode } from './timecode.ts';

/**
 * The label at `to` that names the same moment of the day as `text` does where frames are counted at `from`: hours,
 * minutes and seconds stay, frames are scaled and rounded down (12 of 25 are 24 of 50). Drop-frame is kept where `to`
 * has it. Fails on labels that cannot exist at `from`.
 */
export function labelAt(text: string, from: Rational, to: Rational): Result<Timecode> {
  const there = timecodeToFrames(text, from);
  if (!there.ok) return there;
  const [, clock = '', mark = ':', frames = '0'] = /^(\d{2}:\d{2}:\d{2})([:;.])(\d{2,3})$/.exec(text.trim()) ?? [];
  const nominal = nominalFramesPerSecond(to);
  const dropFrame = mark !== ':' && droppedPerMinute(to) > 0;
  const scaled = Math.floor((Number(frames) * nominal) / nominalFramesPerSecond(from));
  return ok({
    text: `${clock}${dropFrame ? ';' : ':'}${String(scaled).padStart(nominal > 100 ? 3 : 2, '0')}`,
    dropFrame,
  });
}
