import type { ClipDescription } from '@relay/core/clip/description';
import { toNumber } from '@relay/core/time/rational';

/** Which of a clip's files holds the picture at `seconds`, and the seconds into it. */
export function fileAt(clip: ClipDescription, seconds: number): { file: number; rest: number } {
  let [file, rest] = [0, seconds];
  while (
    file < clip.chapters.length - 1 &&
    rest >= toNumber(clip.chapters[file]?.duration ?? { num: 0, den: 1 }) - 1e-6
  ) {
    rest -= toNumber(clip.chapters[file]?.duration ?? { num: 0, den: 1 });
    file += 1;
  }
  return { file, rest };
}
