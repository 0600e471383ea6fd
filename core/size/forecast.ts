import type { LegPlan, OutputPlan } from '../recipe/plan.ts';
import { toNumber } from '../time/rational.ts';
import { proResTargetBitsPerSecond } from './prores.ts';

/**
 * Bits that one shown pixel of an H.264 proxy is reckoned to take at most. The busiest of the demo's proxies takes
 * 0.093 (measured); noisier material takes several times as much, so there is a wide margin, chosen and not measured.
 * A later forecast samples the material instead.
 */
const h264BitsPerPixelAtMost = 0.5;

/** The most that an output will take, in bytes: what must be free before it starts. */
export function outputBytesAtMost(output: OutputPlan): number {
  const seconds = output.video.frames / toNumber(output.video.rate);
  const pixels = output.video.raster.width * output.video.raster.height;
  const videoBits = output.codec.id === 'prores'
    ? proResTargetBitsPerSecond(output.codec.profile, output.video.raster, output.video.rate) * seconds * 1.1
    : pixels * output.video.frames * h264BitsPerPixelAtMost;
  const soundBytes = output.sound.tracks.reduce((sum, t) => sum + t.channels * (t.bitDepth / 8) * output.sound.samples, 0);
  return Math.ceil(videoBits / 8 + soundBytes + 64_000);
}

export function legBytesAtMost(plan: LegPlan): number {
  return plan.outputs.reduce((sum, output) => sum + outputBytesAtMost(output), 0);
}
