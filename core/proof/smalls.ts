import type { BurnPlan } from '../burn/plan.ts';
import type { VideoPlan } from '../recipe/legPlan.ts';
import { shownBy } from '../time/frameMap.ts';

/** Pictures made small, by which an output is held against its original. */

/** Rows of samples that places are read from: of luma, or of another channel in its stead. */
export interface Plane {
  width: number;
  height: number;
  luma: ArrayLike<number>;
}

/** Three planes of a picture, 16 bits a sample. */
export type Planes = readonly [Uint16Array, Uint16Array, Uint16Array];

/** A picture made small: luma of 16 bits, legal range. */
export interface Small extends Plane {
  luma: Uint16Array;
  /** Y', Cb, Cr, or G', B', R', in codes as decoded, shifted up to 16 bits. Absent where only shapes matter. */
  planes?: Planes;
  /** The same of single samples where the others are means: what fine patterns and grain do to each. */
  points?: Planes;
}

/** Small pictures by frame number. */
export type Smalls = ReadonlyMap<number, Small>;

/** Points across and down at which two pictures are compared. */
export const grid = { width: 96, height: 54 };

/** Output frames that are looked at: spread over its length, off the very ends where it is long enough. */
export function sampledFrames(frames: number, count = 5): number[] {
  return [
    ...new Set(
      Array.from({ length: count }, (_, i) =>
        Math.min(frames - 1, Math.max(0, Math.round(((i + 0.5) * frames) / count - 0.5))),
      ),
    ),
  ];
}

/** Original frames to be seen beside those: what each shows, and the neighbours it must not be mistaken for. */
export function originalsWanted(video: VideoPlan, frames: number, samples: readonly number[]): number[] {
  const wanted = new Set<number>();
  for (const n of samples) {
    const { frame, other } = shownBy(video.map, n, frames);
    for (let m = frame - 1; m <= (other?.frame ?? frame) + 1; m += 1) if (m >= 0 && m < frames) wanted.add(m);
  }
  return [...wanted].sort((a, b) => a - b);
}

/** Sampled pictures of an output and of its original, and what was planned of them. */
export interface Sampled {
  video: VideoPlan;
  /** The original's raster, upright as decoders give it. */
  upright: { width: number; height: number };
  /** Frames of the original. */
  frames: number;
  outputs: Smalls;
  originals: Smalls;
  burn: BurnPlan | null;
}
