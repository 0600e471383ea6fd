import type { Raster } from '../shape/raster.ts';
import { toNumber, type Rational } from '../time/rational.ts';

/** ProRes profiles by their published names (SMPTE RDD 36). */
export type ProResProfile = 'proxy' | 'lt' | '422' | 'hq' | '4444' | '4444xq';

/**
 * Target rates in Mb/s for 1920×1080 at 29.97, from the published white-paper table that goes with SMPTE RDD 36
 * (from memory; the ratios between profiles agree with the quantiser budgets in FFmpeg's encoder).
 */
export const proResTargetMegabits: Readonly<Record<ProResProfile, number>> = {
  proxy: 45, lt: 102, '422': 147, hq: 220, '4444': 330, '4444xq': 500,
};

/** The target rate of a profile in bits a second: proportional to samples and to the frame rate. */
export function proResTargetBitsPerSecond(profile: ProResProfile, raster: Raster, rate: Rational): number {
  const blocks = Math.ceil(raster.width / 16) * Math.ceil(raster.height / 16);
  return (proResTargetMegabits[profile] * 1e6 * blocks * toNumber(rate)) / (120 * 68 * (30000 / 1001));
}

/** What one frame may take, in bytes, for the stream to stay at the profile's target rate. */
export function proResTargetFrameBytes(profile: ProResProfile, raster: Raster): number {
  return proResTargetBitsPerSecond(profile, raster, { num: 1, den: 1 }) / 8;
}
