import { invert, multiply, rational, toNumber } from '../time/rational.ts';
import { timecodeToFrames } from '../time/timecode.ts';
import type { OutputPlan } from './legPlan.ts';

/**
 * Samples from midnight to an output's first, as a Broadcast Wave file's *TimeReference* counts them (EBU Tech 3285,
 * bext chunk); null without timecode. A recorder's file has its own.
 */
export function timeReference({ timecode, video, sound }: OutputPlan): number | null {
  if (sound.timeReference !== undefined) return sound.timeReference;
  const frames = timecode ? timecodeToFrames(timecode.start, video.rate) : null;
  return frames?.ok
    ? Math.round(toNumber(multiply(rational(frames.value * sound.sampleRate), invert(video.rate))))
    : null;
}
