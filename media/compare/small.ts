import { fittedWithin, type Raster } from '@relay/core/shape/raster';
import { scalerMatrix, type Sampled } from '../leg/filters.ts';
import { oneFrame } from './oneFrame.ts';
import type { Side } from './side.ts';

/** Brings samples to a size to be looked at, whatever they were: luma and chroma of a matrix, in legal or full range. */
export function toLookAt(
  { samplesIn: { matrix, range, from } }: Sampled,
  { width, height }: Raster,
  out: { matrix: 'bt709' | 'bt601'; range: 'tv' | 'pc'; how: 'fast_bilinear' | 'bicubic' },
): string {
  const full = from?.rgb === true || range === 'full';
  return `scale=${width}:${height}:flags=${out.how}:in_range=${full ? 'pc' : 'tv'}:out_range=${out.range}:in_color_matrix=${scalerMatrix[matrix] ?? 'bt709'}:out_color_matrix=${out.matrix}`;
}

/** Pictures that many are seen of at once are no larger. */
const smallWithin: Raster = { width: 640, height: 640 };

/** A side's picture at an output's frame as JPEG, at its true shape; null where there is none. */
export async function smallPicture(side: Side, frame: number, signal: AbortSignal): Promise<Buffer | null> {
  const { raster } = fittedWithin(side.light, { num: 1, den: 1 }, smallWithin, { widthStep: 2, heightStep: 2 });
  // JPEG's matrix and range (ITU-T T.871).
  const looked = toLookAt(side.samples, raster, { matrix: 'bt601', range: 'pc', how: 'bicubic' });
  return oneFrame(
    side,
    frame,
    {
      filters: [looked, 'format=yuvj420p', 'setsar=1'],
      written: ['-c:v', 'mjpeg', '-q:v', '3', '-f', 'image2pipe'],
      isWhole: (bytes) => bytes > 0,
    },
    signal,
  );
}
