import type { ClipDescription } from '@relay/core/clip/description';
import type { CutOriginal } from '@relay/core/relink/target';
import { rational, toNumber, type Rational } from '@relay/core/time/rational';

/** A clip as cuts are matched against it; `reel` is the one that counts for it. */
export function cutOriginalOf(clip: ClipDescription, reel: string | null): CutOriginal {
  const { video, audio, timecode, timeReference } = clip;
  const reels = [reel, clip.reel].filter((one): one is string => one !== null && one !== '');
  const [track] = audio;
  return {
    path: clip.path,
    reels: [...new Set(reels)],
    timecode,
    rate: video?.rate ?? null,
    frames: video?.frames ?? 0,
    varies: video ? !video.rateConstant : false,
    ...(video || !track
      ? {}
      : {
          sound: {
            start: timeReference === undefined ? null : rational(timeReference, track.sampleRate),
            seconds: track.duration ?? rational(0),
          },
        }),
  };
}

/** The rates of files, the commonest first; those that vary have none. */
export function ratesOf(files: readonly { rate: Rational | null; varies?: boolean }[]): Rational[] {
  const counts = new Map<number, { rate: Rational; count: number }>();
  for (const { rate, varies } of files) {
    if (!rate || varies) continue;
    const one = counts.get(toNumber(rate)) ?? { rate, count: 0 };
    counts.set(toNumber(rate), { rate, count: one.count + 1 });
  }
  return [...counts.values()].sort((a, b) => b.count - a.count).map(({ rate }) => rate);
}
