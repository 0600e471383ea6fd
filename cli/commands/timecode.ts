import { parseArgs } from 'node:util';
import { parseRate } from '@relay/core/time/rate';
import { framesToTimecode, timecodeToFrames } from '@relay/core/time/timecode';
import type { Result } from '@relay/core/result';
import { Misuse } from './output.ts';

function orMisuse<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  throw new Misuse(`${result.problem.what}. ${result.problem.remedy}`);
}

/** `relay timecode TC --rate R --frames`, `relay timecode --from-frames N --rate R [--drop]`. */
export async function timecodeCommand(args: string[]): Promise<number> {
  // A count below zero is a value here, not an option.
  const joined = args.flatMap((arg, index) =>
    args[index - 1] === '--from-frames' ? [] : arg === '--from-frames' ? [`${arg}=${args[index + 1] ?? ''}`] : [arg],
  );
  const { values, positionals } = parseArgs({
    args: joined,
    allowPositionals: true,
    options: {
      rate: { type: 'string' },
      frames: { type: 'boolean' },
      'from-frames': { type: 'string' },
      drop: { type: 'boolean' },
      json: { type: 'boolean' },
    },
  });
  if (!values.rate) throw new Misuse('timecode needs --rate, such as --rate 23.976');
  const rate = orMisuse(parseRate(values.rate));
  let frames: number;
  let dropFrame: boolean;
  const given = values['from-frames'];
  if (given !== undefined) {
    if (positionals.length > 0) throw new Misuse('timecode takes a timecode or --from-frames, not both');
    if (!/^-?\d{1,15}$/.test(given))
      throw new Misuse(`--from-frames takes a whole number, not ${JSON.stringify(given)}`);
    frames = Number(given);
    dropFrame = values.drop ?? false;
  } else {
    const [text, ...more] = positionals;
    if (!text || more.length > 0) throw new Misuse('timecode needs one timecode, or --from-frames N');
    frames = orMisuse(timecodeToFrames(text, rate));
    dropFrame = /[;.]\d+$/.test(text.trim());
  }
  const label = orMisuse(framesToTimecode(frames, rate, dropFrame));
  if (values.json)
    process.stdout.write(`${JSON.stringify({ timecode: label.text, frames, rate, dropFrame: label.dropFrame })}\n`);
  else process.stdout.write(given !== undefined ? `${label.text}\n` : `${frames}\n`);
  return 0;
}
