import { rm, stat } from 'node:fs/promises';
import type { ClipDescription } from '@relay/core/clip/description';
import { fittedWithin, turned } from '@relay/core/shape/raster';
import { invert, toNumber } from '@relay/core/time/rational';
import { ffmpeg, inputArguments } from './process/ffmpeg.ts';
import { run } from './process/run.ts';

/** One picture of a clip as JPEG at `target`, at its true shape inside `box`, from `share` (0 to 1) of its length. */
export async function makePoster(
  clip: ClipDescription,
  source: string,
  target: string,
  share = 0.4,
  box = { width: 640, height: 640 },
): Promise<boolean> {
  const { video } = clip;
  if (!video) return false;
  const upright = turned(video.raster, video.quarterTurns);
  const aspect = video.quarterTurns % 2 === 0 ? video.pixelAspect : invert(video.pixelAspect);
  const { raster } = fittedWithin(upright, aspect, box, { widthStep: 2, heightStep: 2 });
  const shot = async (seconds: number): Promise<boolean> => {
    const ended = await run(
      ffmpeg,
      [
        '-v',
        'error',
        '-y',
        '-ss',
        seconds.toFixed(3),
        ...inputArguments(source),
        '-map',
        '0:v:0',
        '-frames:v',
        '1',
        '-vf',
        `${video.scan === 'progressive' ? '' : 'bwdif=mode=send_frame:deint=all,'}scale=${raster.width}:${raster.height}:out_range=pc:out_color_matrix=bt601,format=yuvj420p`,
        '-c:v',
        'mjpeg',
        '-q:v',
        '3',
        '-f',
        'image2',
        '-update',
        '1',
        `file:${target}`,
      ],
      { timeoutMs: 60_000 },
    );
    // FFmpeg ends well also when no picture came; then there is no file.
    return (
      ended.code === 0 &&
      (await stat(target).then(
        (facts) => facts.size > 0,
        () => false,
      ))
    );
  };
  await rm(target, { force: true });
  // A file cut short may have nothing left in its middle; its first picture is there.
  return (await shot(toNumber(video.duration) * share)) || shot(0);
}
