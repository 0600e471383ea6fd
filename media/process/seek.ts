import type { ClipDescription } from '@relay/core/clip/description';
import type { ClipPart } from '@relay/core/clip/partPlace';
import { toNumber } from '@relay/core/time/rational';

/**
 * Where to seek so that decoding begins with frame `frame`, in seconds from the first one: a little before it, so that
 * no rounding leaves it out, and yet nearer to it than to the one before. Half a frame would be rounded either way where
 * a file's clock ticks once a frame: at 96 a second the frame before the seventh came, 6.5 frames being 0.067708 s.
 */
export function justBefore(frame: number, framesPerSecond: number): number {
  return Math.max(0, frame - 0.4) / framesPerSecond;
}

/** Codecs whose pictures know nothing of each other, by FFmpeg's names: decoding may begin with any. */
const apart = new Set(['prores', 'dnxhd', 'cfhd', 'mjpeg', 'jpeg2000', 'v210', 'rawvideo', 'dvvideo', 'ffv1']);

/**
 * Seconds before a part from which its pictures are decoded, and thrown away: those that are shown first may need the
 * whole picture before the last, and a transport stream, which has no index, is entered somewhere.
 */
function runUp({ video, wrapperId }: ClipDescription): number {
  if (wrapperId.startsWith('mpeg')) return 12;
  return apart.has(video?.codecId ?? '') ? 0.2 : 2;
}

/** Seconds of sound that are decoded before a part: transforms overlap. */
const soundRunUp = 0.5;

/**
 * Arguments before an input that let it begin at `begin` seconds and end after `long`: it is entered `early` seconds
 * before, and what comes too early is decoded and dropped. FFmpeg drops what is before zero once it was sought; the times
 * are moved so that zero is where the part begins, and not where it was entered.
 */
function entered(begin: number, early: number, long: number | null): string[] {
  const before = Math.min(Math.max(0, begin), early);
  return [
    ...(begin > 0 ? ['-ss', (begin - before).toFixed(6), '-itsoffset', (-before).toFixed(6)] : []),
    ...(long === null ? [] : ['-t', Math.max(0, long).toFixed(6)]),
  ];
}

type Part = ClipDescription & { part: ClipPart };

/** Arguments before the input of a part's pictures, which begin `later` seconds after its first. */
export function enterPictures(clip: Part, later = 0): string[] {
  const { video, part } = clip;
  if (!video) return [];
  const fastest = toNumber(video.rateVaries?.fastest ?? video.rate);
  const first = toNumber(part.at) + later;
  // Between two pictures, and so that a clock that ticks once a frame rounds to the right one, as in `justBefore`. The first
  // of all needs no seeking.
  const begin = first > 0 ? toNumber(video.start) + first - 0.4 / fastest : 0;
  return entered(begin, runUp(clip), part.goesOn ? toNumber(video.duration) - later - 0.4 / fastest : null);
}

/** Arguments before the input of a part's sound: to the sample, and a second longer than its pictures. */
export function enterSound({ video, part }: Part): string[] {
  if (!video) return [];
  return entered(
    toNumber(video.start) + toNumber(part.at),
    soundRunUp,
    part.goesOn ? toNumber(video.duration) + 1 : null,
  );
}

export function isPart(clip: ClipDescription): clip is Part {
  return clip.part !== undefined;
}
