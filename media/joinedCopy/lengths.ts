import type { JoinedCopyPlan } from '@relay/core/recipe/joinedCopy';
import { chapterSounds, type ChapterSound } from '@relay/core/sound/chapters';
import { divide, rational } from '@relay/core/time/rational';

/** Where the sound of each part lies in a reel, in samples at its rate: each is as long as its own pictures. */
export function partLengths({ parts, output: { video, sound } }: JoinedCopyPlan): ChapterSound[] {
  return chapterSounds(
    parts.map(({ path, frames }) => ({ path, sizeBytes: 0, frames, duration: divide(rational(frames), video.rate) })),
    sound.sampleRate,
  );
}
