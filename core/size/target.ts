import { fail, ok, type Result } from '../result.ts';

/** A rate asked for instead of a quality. `size` and `share` are of the whole file: picture, sound and wrapper. */
export type RateWish =
  | { kind: 'average'; bitsPerSecond: number; passes: 1 | 2 }
  | { kind: 'size'; bytes: number }
  /** Of the original's size, in percent. */
  | { kind: 'share'; percent: number };

/** A rate as the encoder is told it. */
export interface PlannedRate {
  bitsPerSecond: number;
  passes: 1 | 2;
  /** Bytes that the whole file must not pass; null where only a rate was asked for. */
  wholeBytes: number | null;
}

/** What a file holds beside its pictures. */
export interface Beside {
  seconds: number;
  frames: number;
  samplesPerFrame: number;
  soundBytes: number;
  soundTracks: number;
}

/**
 * What a wrapper takes: tables of times, sizes and places for each picture and each stretch of sound, and its head.
 * Measured on MOV: 9 bytes a picture in stored order and 280 bytes a second for a track of PCM. By the format,
 * reordered pictures take 8 more each, and AAC four for each of its 47 packets a second.
 */
export function wrapperBytes({
  seconds,
  frames,
  soundTracks,
}: Pick<Beside, 'seconds' | 'frames' | 'soundTracks'>): number {
  return Math.ceil(6_000 + frames * 24 + soundTracks * (2_000 + seconds * 480));
}

/**
 * Bits for each sample of the picture below which H.264 and HEVC do not go, whatever rate is asked for: at their
 * coarsest quantiser. Measured at 960×540 with x264's coarsest (51): 0.0028 to 0.0046 on the demo's clips, the
 * grainiest the most. White noise, which no camera makes, takes 0.14.
 */
export const leastBitsPerSample = 0.006;

/** The lowest rate that can be promised for a picture, in bits a second. */
export function floorBitsPerSecond({
  seconds,
  frames,
  samplesPerFrame,
}: Pick<Beside, 'seconds' | 'frames' | 'samplesPerFrame'>): number {
  return (leastBitsPerSample * samplesPerFrame * frames) / Math.max(seconds, 1e-9);
}

/** Encoders miss a rate by a little in two passes: this much of a whole size is not given away. */
const kept = 0.985;

/**
 * The rate for the pictures of a file that a wish allows. Fails, with the size that can be reached, where the wish lies
 * below the floor.
 */
export function planRate(wish: RateWish, beside: Beside, originalBytes: number): Result<PlannedRate> {
  const floor = floorBitsPerSecond(beside);
  if (wish.kind === 'average') {
    return wish.bitsPerSecond >= floor
      ? ok({ bitsPerSecond: Math.round(wish.bitsPerSecond), passes: wish.passes, wholeBytes: null })
      : fail(
          `${megabits(wish.bitsPerSecond)} is less than its pictures can be made with`,
          `Ask for ${megabits(floor)} at least, or take a smaller raster`,
        );
  }
  const whole = wish.kind === 'size' ? wish.bytes : (originalBytes * wish.percent) / 100;
  const besides = beside.soundBytes + wrapperBytes(beside);
  const left = ((whole * kept - besides) * 8) / Math.max(beside.seconds, 1e-9);
  if (left >= floor) return ok({ bitsPerSecond: Math.floor(left), passes: 2, wholeBytes: Math.floor(whole) });
  const least = Math.ceil(((floor * beside.seconds) / 8 + besides) / kept);
  return fail(
    `${megabytes(whole)} cannot be reached: sound and wrapper take ${megabytes(besides)}, and pictures at least ${megabytes((floor * beside.seconds) / 8)}`,
    `Ask for ${megabytes(least)} at least, take a smaller raster, or fewer or lighter sound tracks`,
  );
}

function megabytes(bytes: number): string {
  return bytes >= 1e9
    ? `${(bytes / 1e9).toFixed(2)} GB`
    : bytes >= 1e6
      ? `${(bytes / 1e6).toFixed(1)} MB`
      : `${Math.ceil(bytes / 1000)} kB`;
}

function megabits(bitsPerSecond: number): string {
  return bitsPerSecond >= 1e6 ? `${(bitsPerSecond / 1e6).toFixed(2)} Mb/s` : `${Math.ceil(bitsPerSecond / 1000)} kb/s`;
}
