import type { StartTimecode } from '../clip/description.ts';
import type { Rational } from './rational.ts';
import { framesToTimecode, timecodeToFrames } from './timecode.ts';

/** The label of a frame, counted from the start timecode of what it is in; its number where there is none. */
export function frameLabel(frame: number, rate: Rational, timecode: StartTimecode | null): string {
  const start = timecode ? timecodeToFrames(timecode.start, rate) : null;
  const label = start?.ok ? framesToTimecode(start.value + frame, rate, timecode?.dropFrame) : null;
  return label?.ok ? label.value.text : `frame ${frame + 1}`;
}
