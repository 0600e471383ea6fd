import type { ClipDescription } from '../clip/description.ts';
import { fail, ok, type Result } from '../result.ts';
import { rational, toNumber } from '../time/rational.ts';
import { hasPicture } from './codecs.ts';
import type { VideoPlan } from './legPlan.ts';
import type { Recipe } from './recipe.ts';

/** Samples a second of every output's sound. */
const sampleRate = 48_000;

/** Why a recipe makes nothing of a recorder's file; null where it does, or where the clip has pictures. */
export function soundKeptOut(clip: Pick<ClipDescription, 'video'>, recipe: Recipe): string | null {
  return clip.video || recipe.deliverables.some((deliverable) => !hasPicture(deliverable))
    ? null
    : `sound alone, and ${recipe.name} has no deliverable of sound alone`;
}

/**
 * The time of a clip without pictures: its samples count as its frames, so that everything that counts frames counts to
 * the sample.
 */
export function timeOfSound(clip: ClipDescription): Result<VideoPlan> {
  const longest = Math.max(0, ...clip.audio.map(({ duration }) => (duration ? toNumber(duration) : 0)));
  const frames = Math.round(longest * sampleRate);
  if (frames < 1)
    return fail('it does not say how long its sound lasts', 'Copy it from the card again, or leave it out of the run');
  const one = rational(1);
  return ok({
    raster: { width: 0, height: 0 },
    aspectError: 0,
    pixelAspect: one,
    rate: rational(sampleRate),
    frames,
    scan: 'progressive',
    colour: { primaries: null, transfer: null, matrix: null, range: null },
    samplesIn: { matrix: 'bt709', range: 'legal' },
    steps: [],
    map: { kind: 'every' },
    stretch: one,
    driftSeconds: 0,
  });
}

/** Samples at 48 kHz from midnight to a recorder's first, where its file says; undefined elsewhere. */
export function soundReference({ video, timeReference, audio }: ClipDescription): number | undefined {
  const own = audio[0]?.sampleRate;
  return video || timeReference === undefined || !own ? undefined : Math.round((timeReference * sampleRate) / own);
}
