import type { ClipAnswer } from '@relay/contract/clips';
import { toNumber } from '@relay/core/time/rational';
import { formatLength, framesToTimecode, timecodeToFrames } from '@relay/core/time/timecode';

type Described = Pick<ClipAnswer, 'description'>;

/** Seconds that a clip plays: its pictures', or its longest sound's where it has none. */
export function secondsOf({ description: { video, audio } }: Described): number {
  return video
    ? toNumber(video.duration)
    : Math.max(0, ...audio.map((track) => (track.duration ? toNumber(track.duration) : 0)));
}

/** Seconds from one picture to the next; of sound alone a twenty-fifth. */
export function frameSeconds({ description: { video } }: Described): number {
  return video ? 1 / toNumber(video.rate) : 0.04;
}

/** The channels of a clip, counted over its tracks. */
export function channelsOf({ description: { audio } }: Described): number {
  return audio.reduce((sum, track) => sum + track.channels, 0);
}

/** The picture that is seen at a second, counted from 0. */
export function pictureAt(clip: Described, seconds: number): number {
  const { video } = clip.description;
  return Math.min(video ? video.frames - 1 : Infinity, Math.max(0, Math.round(seconds / frameSeconds(clip))));
}

/** A second as it is called: timecode, else the length up to it; of sound alone seconds. */
export function placeName(clip: Described, seconds: number): string {
  const { video, timecode } = clip.description;
  if (!video) return `${seconds.toFixed(1)} s`;
  const number = pictureAt(clip, seconds);
  const start = timecode ? timecodeToFrames(timecode.start, video.rate) : null;
  const label = start?.ok ? framesToTimecode(start.value + number, video.rate, timecode?.dropFrame) : null;
  return label?.ok ? label.value.text : formatLength(number, video.rate);
}

/** Where the file after the one that plays at a second begins, just behind its edge. */
export function nextChapter({ description: { chapters } }: Described, seconds: number): number {
  let end = 0;
  for (const chapter of chapters) {
    end += toNumber(chapter.duration);
    if (end > seconds + 0.25) break;
  }
  return end + 0.001;
}
