import type { Chapter } from '../clip/description.ts';
import { toNumber } from '../time/rational.ts';

/** Where a chapter's sound lies in the whole clip's. */
export interface ChapterSound {
  /** Its first sample since the clip's beginning. */
  first: number;
  samples: number;
  /** Seconds from the beginning of its file to its first picture: sound before it is not part of the clip. */
  pictureStart: number;
}

/**
 * A chapter's sound is as long as its own pictures, to the sample: what a codec puts before and after it (priming,
 * padding) would add up from file to file. Ends are rounded from the beginning of the clip, so that rounding does not
 * add up either.
 */
export function chapterSounds(chapters: readonly Chapter[], sampleRate: number): ChapterSound[] {
  let [end, first] = [0, 0];
  return chapters.map(({ duration, start }) => {
    end += toNumber(duration);
    const samples = Math.round(end * sampleRate) - first;
    first += samples;
    return { first: first - samples, samples, pictureStart: start ? toNumber(start) : 0 };
  });
}
