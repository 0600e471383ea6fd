import { fittedWithin } from '@relay/core/shape/raster';
import type { Frame } from '../frame.ts';
import { evenly, toLegalFilters } from '../leg/filters.ts';
import { oneFrame } from './oneFrame.ts';
import type { Side } from './side.ts';

/**
 * A side's picture at an output's frame in full depth: Y'CbCr of 16 bits in legal range by the side's own matrix, every
 * sample kept unless it is wider than `widest`. Null where there is none.
 */
export async function pairStill(side: Side, frame: number, widest: number, signal: AbortSignal): Promise<Frame | null> {
  const { width, height } = fittedWithin(
    side.raster,
    { num: 1, den: 1 },
    { width: Math.min(widest, side.raster.width), height: side.raster.height },
    { widthStep: 1, heightStep: 1 },
  ).raster;
  const planes = await oneFrame(
    side,
    frame,
    {
      filters: [...toLegalFilters(side.samples), evenly(side.samples, 'yuv444p16le', '', `${width}:${height}:`)],
      written: ['-f', 'rawvideo', '-pix_fmt', 'yuv444p16le'],
      isWhole: (bytes) => bytes === width * height * 6,
    },
    signal,
  );
  return planes && { width, height, planes };
}
