import type { ClipDescription } from '../clip/description.ts';
import { ok, type Result } from '../result.ts';
import { planRate, type PlannedRate } from '../size/target.ts';
import { toNumber } from '../time/rational.ts';
import type { SoundPlan, VideoPlan } from './legPlan.ts';
import type { Deliverable } from './recipe.ts';

/** Bytes that an output's sound takes: exact for PCM, as asked for AAC. */
export function soundBytes({ samples, tracks, coding }: SoundPlan): number {
  const channels = tracks.reduce((sum, track) => sum + track.channels, 0);
  return coding
    ? Math.ceil((channels * coding.bitsPerSecond * samples) / 48_000 / 8)
    : tracks.reduce((sum, track) => sum + track.channels * (track.bitDepth / 8) * samples, 0);
}

/** The rate that a deliverable asks for, reckoned out for one clip; null where it asks for a quality. */
export function planOutputRate(
  clip: ClipDescription,
  { codec }: Deliverable,
  video: VideoPlan,
  sound: SoundPlan,
): Result<PlannedRate | null> {
  if ((codec.id !== 'h264' && codec.id !== 'hevc') || !codec.rate) return ok(null);
  return planRate(
    codec.rate,
    {
      seconds: video.frames / toNumber(video.rate),
      frames: video.frames,
      samplesPerFrame: video.raster.width * video.raster.height,
      soundBytes: soundBytes(sound),
      soundTracks: sound.tracks.length,
    },
    clip.sizeBytes,
  );
}
