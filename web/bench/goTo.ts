import type { ClipDescription } from '@relay/core/clip/description';
import { fail, ok, type Result } from '@relay/core/result';
import { framesToTimecode, timecodeToFrames } from '@relay/core/time/timecode';

/** What a place in a clip is called by: its pictures and where their timecode begins. */
export type Labelled = Pick<ClipDescription, 'video' | 'timecode'>;

/** The timecode of a frame, counted from 0; null of a clip that has none. */
export function labelOf({ video, timecode }: Labelled, frame: number): string | null {
  if (!video || !timecode) return null;
  const start = timecodeToFrames(timecode.start, video.rate);
  const label = start.ok ? framesToTimecode(start.value + frame, video.rate, timecode.dropFrame) : null;
  return label?.ok ? label.value.text : null;
}

/**
 * The frame, counted from 0, that somebody typed: a timecode with or without its colons, or a frame's number counted
 * from 1 (of a clip with timecode up to four digits, since five are one).
 */
export function frameTyped(typed: string, { video, timecode }: Labelled): Result<number> {
  const frames = video?.frames ?? 0;
  const outside = fail('that is not in this clip', `Type a frame from 1 to ${frames}, or a timecode of it`);
  if (/^\d+$/.test(typed) && (!timecode || typed.length < 5)) {
    const frame = Number(typed) - 1;
    return frame >= 0 && frame < frames ? ok(frame) : outside;
  }
  if (!video || !timecode) return outside;
  const spelt = /^\d{5,8}$/.test(typed) ? typed.padStart(8, '0').replace(/(\d\d)(?=\d)/g, '$1:') : typed;
  const at = timecodeToFrames(timecode.dropFrame ? spelt.replace(/:(\d\d)$/, ';$1') : spelt, video.rate);
  if (!at.ok) return at;
  const start = timecodeToFrames(timecode.start, video.rate);
  if (!start.ok) return start;
  const frame = at.value - start.value;
  return frame >= 0 && frame < frames ? ok(frame) : outside;
}
