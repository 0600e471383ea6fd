import type { VideoDescription } from '@relay/core/clip/description';
import { displayAspect } from '@relay/core/shape/raster';
import { toNumber } from '@relay/core/time/rational';
import { ffmpeg } from './process/ffmpeg.ts';
import { run } from './process/run.ts';

/** A PNG that states a curve is shown by browsers as if it had another: code values go out without tags. */
export const untagged = 'setparams=color_primaries=unknown:color_trc=unknown';

/**
 * The picture shown at `seconds` as PNG, every sample kept but pixels made square by widening: the clip's own code
 * values, no colour conversion but the matrix. `input` opens the file. Null when there is no picture there.
 */
export async function pictureAt(
  input: readonly string[],
  video: VideoDescription,
  seconds: number,
  signal: AbortSignal,
): Promise<Buffer | null> {
  // Half a frame early, so that rounding never lands on the next picture.
  const from = Math.max(0, seconds - 0.5 / toNumber(video.rate));
  const width = Math.round(video.raster.height * toNumber(displayAspect(video.raster, video.pixelAspect)));
  const chunks: Buffer[] = [];
  await run(
    ffmpeg,
    [
      '-v',
      'error',
      '-ss',
      from.toFixed(6),
      ...input,
      '-map',
      '0:v:0',
      '-frames:v',
      '1',
      '-vf',
      `scale=${width}:${video.raster.height}:flags=bicubic+accurate_rnd+full_chroma_int:interl=0,format=rgb24,${untagged}`,
      '-c:v',
      'png',
      '-compression_level',
      '1',
      '-f',
      'image2pipe',
      'pipe:1',
    ],
    {
      signal,
      onData: (chunk) => {
        chunks.push(chunk);
      },
    },
  );
  return chunks.length > 0 ? Buffer.concat(chunks) : null;
}
