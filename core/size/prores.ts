import type { Raster } from '../shape/raster.ts';
import { toNumber, type Rational } from '../time/rational.ts';

/** ProRes profiles by their published names (SMPTE RDD 36). */
export type ProResProfile = 'proxy' | 'lt' | '422' | 'hq' | '4444' | '4444xq';

/**
 * Target rates in Mb/s for 1920×1080 at 29.97, from the published white-paper table that goes with SMPTE RDD 36
 * (from memory; the ratios between profiles agree with the quantiser budgets in FFmpeg's encoder).
 */
export const proResTargetMegabits: Readonly<Record<ProResProfile, number>> = {
  proxy: 45,
  lt: 102,
  '422': 147,
  hq: 220,
  '4444': 330,
  '4444xq': 500,
};

/**
 * Small rasters are given more bits a block of 16×16: up to so many blocks, so many times those of HD. From FFmpeg's
 * budgets for HQ (1566, 1216, 1070 and 950 bits). Measured on white noise under its own rate control, with heads: HQ
 * 1566, 1220, 1074 and 955 at 720×486, 960×540, 1280×720 and 1920×1080, Proxy 308, 248, 226 and 200. The table's rows
 * for 720×486 (HQ 63 Mb/s at 29.97) and 1280×720 (HQ 220 at 59.94), both from memory, come out within 2 %.
 */
const smallRasters = [
  { blocks: 1620, factor: 1566 / 950 },
  { blocks: 2700, factor: 1216 / 950 },
  { blocks: 6075, factor: 1070 / 950 },
] as const;

/** The target rate of a profile in bits a second: proportional to the frame rate and, from HD on, to samples. */
export function proResTargetBitsPerSecond(profile: ProResProfile, raster: Raster, rate: Rational): number {
  const blocks = Math.ceil(raster.width / 16) * Math.ceil(raster.height / 16);
  const factor = smallRasters.find((row) => blocks <= row.blocks)?.factor ?? 1;
  return (proResTargetMegabits[profile] * 1e6 * factor * blocks * toNumber(rate)) / (120 * 68 * (30000 / 1001));
}

/**
 * How far above the target pictures full of grain may go: the budget that FFmpeg's own rate control gives a frame (950
 * bits a block for HQ at HD, where the target comes to 900).
 */
export const proResCeiling = (950 * 120 * 68 * (30000 / 1001)) / (proResTargetMegabits.hq * 1e6);

/** What one frame may take, in bytes, for the stream to stay at the profile's target rate. */
export function proResTargetFrameBytes(profile: ProResProfile, raster: Raster): number {
  return proResTargetBitsPerSecond(profile, raster, { num: 1, den: 1 }) / 8;
}
