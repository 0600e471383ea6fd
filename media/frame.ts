import type { VideoDescription } from '@relay/core/clip/description';
import { toNumber } from '@relay/core/time/rational';
import { ffmpeg, inputArguments } from './process/ffmpeg.ts';
import { run } from './process/run.ts';
import { justBefore } from './process/seek.ts';

/** One frame's samples: planes of Y', Cb, Cr, 16 bits each in legal range, chroma as dense as luma. */
export interface Frame {
  width: number;
  height: number;
  planes: Buffer;
}

/**
 * The frame shown at `seconds`, its samples as the file holds them (no LUT, no change of matrix; full range brought to
 * legal), as stored unless wider than `widest`. Null when there is no picture there.
 */
export async function frameAt(
  path: string,
  video: VideoDescription,
  seconds: number,
  widest: number,
  signal: AbortSignal,
): Promise<Frame | null> {
  const rate = toNumber(video.rate);
  const from = justBefore(seconds * rate, rate);
  const { raster } = video;
  const width = Math.min(raster.width, widest);
  const height = Math.max(1, Math.round((raster.height * width) / raster.width));
  const scale = `scale=${width}:${height}:flags=bicubic+accurate_rnd:in_range=${video.colour.range === 'full' ? 'pc' : 'tv'}:out_range=tv:interl=${video.scan === 'progressive' ? 0 : 1}`;
  const shot = async (seek: readonly string[], filters: string): Promise<Frame | null> => {
    const chunks: Buffer[] = [];
    await run(
      ffmpeg,
      [
        '-v',
        'error',
        ...seek,
        '-noautorotate',
        ...inputArguments(path),
        '-map',
        '0:v:0',
        '-frames:v',
        '1',
        '-vf',
        filters,
        '-f',
        'rawvideo',
        '-pix_fmt',
        'yuv444p16le',
        'pipe:1',
      ],
      {
        signal,
        onData: (chunk) => {
          chunks.push(chunk);
        },
        maxStdoutBytes: 0,
      },
    );
    const planes = Buffer.concat(chunks);
    return planes.length === width * height * 6 ? { width, height, planes } : null;
  };
  // A stream with one whole picture at its start is sought beyond it: then it is decoded from there.
  return (
    (await shot(['-ss', from.toFixed(6)], scale)) ??
    (signal.aborted ? null : shot([], `setpts=PTS-STARTPTS,trim=start=${from.toFixed(6)},${scale}`))
  );
}
