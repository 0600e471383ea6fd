import { parseRate } from '@relay/core/time/rate';
import { framesToTimecode, timecodeToFrames } from '@relay/core/time/timecode';
import type { Result } from '@relay/core/result';
import { Misuse } from './output.ts';

function orMisuse<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  throw new Misuse(`${result.problem.what}. ${result.problem.remedy}`);
}

export interface TimecodeOptions {
  rate: string;
  frames?: boolean;
  fromFrames?: string;
  drop?: boolean;
  json?: boolean;
}

/** `relay timecode TC --rate R --frames`, `relay timecode --from-frames N --rate R [--drop]`. */
export function timecodeCommand(text: string | undefined, values: TimecodeOptions): number {
  const rate = orMisuse(parseRate(values.rate));
  let frames: number;
  let dropFrame: boolean;
  const given = values.fromFrames;
  if (given !== undefined) {
    if (text !== undefined) throw new Misuse('timecode takes a timecode or --from-frames, not both');
    if (!/^-?\d{1,15}$/.test(given))
      throw new Misuse(`--from-frames takes a whole number, not ${JSON.stringify(given)}`);
    frames = Number(given);
    dropFrame = values.drop ?? false;
  } else {
    if (text === undefined) throw new Misuse('timecode needs one timecode, or --from-frames N');
    frames = orMisuse(timecodeToFrames(text, rate));
    dropFrame = /[;.]\d+$/.test(text.trim());
  }
  const label = orMisuse(framesToTimecode(frames, rate, dropFrame));
  if (values.json)
    process.stdout.write(`${JSON.stringify({ timecode: label.text, frames, rate, dropFrame: label.dropFrame })}\n`);
  else process.stdout.write(given !== undefined ? `${label.text}\n` : `${frames}\n`);
  return 0;
}
