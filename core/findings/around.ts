import { collisionKey } from '../naming/paths.ts';
import type { Rational } from '../time/rational.ts';
import { framesPerDay, timecodeToFrames } from '../time/timecode.ts';

/** As much of a clip as its neighbours need to know. */
export interface Neighbour {
  path: string;
  stem: string;
  reel: string | null;
  /** The stretch of timecode that it covers; null without one. */
  start: { start: string; dropFrame: boolean } | null;
  frames: number;
  rate: Rational | null;
}

/** So many others are named at most; ten thousand clips of one name are one finding, not a hundred million. */
const named = 20;

/** What stands around each clip, in the order given: others called the same, others on its reel that share timecode. */
export function neighboursOf(clips: readonly Neighbour[]): { sameName: string[]; overlapping: string[] }[] {
  const names = new Map<string, number[]>();
  const reels = new Map<string, { index: number; from: number; to: number }[]>();
  clips.forEach((clip, index) => {
    const name = collisionKey(clip.stem);
    names.set(name, [...(names.get(name) ?? []), index]);
    const span = spanOf(clip);
    if (clip.reel && span) {
      const reel = collisionKey(clip.reel);
      const list = reels.get(reel) ?? [];
      list.push({ index, ...span });
      reels.set(reel, list);
    }
  });
  const overlapping = new Map<number, string[]>();
  const share = (a: number, b: number): void => {
    const list = overlapping.get(a) ?? [];
    if (list.length < named) overlapping.set(a, [...list, (clips[b] as Neighbour).path]);
  };
  for (const spans of reels.values()) {
    spans.sort((a, b) => a.from - b.from);
    spans.forEach((span, place) => {
      for (
        let next = place + 1;
        next < spans.length && next - place <= named && (spans[next]?.from ?? Infinity) < span.to;
        next += 1
      ) {
        const other = (spans[next] as { index: number }).index;
        share(span.index, other);
        share(other, span.index);
      }
    });
  }
  return clips.map((clip, index) => ({
    sameName: (names.get(collisionKey(clip.stem)) ?? [])
      .slice(0, named + 1)
      .filter((other) => other !== index)
      .slice(0, named)
      .map((other) => (clips[other] as Neighbour).path),
    overlapping: overlapping.get(index) ?? [],
  }));
}

/** Seconds since midnight that a clip's timecode covers, so that cameras at other rates compare. Past midnight it goes on counting. */
function spanOf(clip: Neighbour): { from: number; to: number } | null {
  if (!clip.start || !clip.rate) return null;
  const first = timecodeToFrames(clip.start.start, clip.rate);
  if (!first.ok) return null;
  const day = framesPerDay(clip.rate, clip.start.dropFrame);
  return { from: (first.value / day) * 86_400, to: ((first.value + clip.frames) / day) * 86_400 };
}
