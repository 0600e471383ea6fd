import type { BurnSample } from '@relay/core/proof/burn';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { toNumber } from '@relay/core/time/rational';
import type { RawFrame } from './rawFrame.ts';

/** The frame whose burn-in is looked at: half a second in, or the last of a shorter output. */
function frameOf({ video }: OutputPlan): number {
  return Math.max(0, Math.min(video.frames - 1, Math.round(toNumber(video.rate) / 2)));
}

/** Luma of that frame. */
export function burnFrame(output: OutputPlan): RawFrame {
  const { video } = output;
  const frame = frameOf(output);
  return {
    filters: `trim=start_frame=${frame}:end_frame=${frame + 1},scale=in_range=${video.colour.range === 'full' ? 'pc' : 'tv'}:out_range=tv,format=yuv444p16le,extractplanes=y`,
    format: 'gray16le',
    bytes: video.raster.width * video.raster.height * 2,
  };
}

export function burnSample(output: OutputPlan, luma: Uint16Array | undefined): BurnSample | null {
  return luma ? { frame: frameOf(output), luma } : null;
}
