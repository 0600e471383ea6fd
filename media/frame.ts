import type { VideoDescription } from '@relay/core/clip/description';
import { toNumber } from '@relay/core/time/rational';
import { spawn } from 'node:child_process';
import { ffmpeg, inputArguments } from './process/ffmpeg.ts';

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
export async function frameAt(path: string, video: VideoDescription, seconds: number, widest: number, signal: AbortSignal): Promise<Frame | null> {
  const from = Math.max(0, seconds - 0.5 / toNumber(video.rate));
  const { raster } = video;
  const width = Math.min(raster.width, widest);
  const height = Math.max(1, Math.round((raster.height * width) / raster.width));
  const child = spawn(ffmpeg, [
    '-v', 'error', '-ss', from.toFixed(6), '-noautorotate', ...inputArguments(path), '-map', '0:v:0', '-frames:v', '1',
    '-vf', `scale=${width}:${height}:flags=bicubic+accurate_rnd:in_range=${video.colour.range === 'full' ? 'pc' : 'tv'}:out_range=tv:interl=${video.scan === 'progressive' ? 0 : 1}`,
    '-f', 'rawvideo', '-pix_fmt', 'yuv444p16le', 'pipe:1',
  ], { stdio: ['ignore', 'pipe', 'ignore'] });
  const end = (): void => void child.kill('SIGKILL');
  signal.addEventListener('abort', end, { once: true });
  const chunks: Buffer[] = [];
  child.stdout.on('data', (chunk: Buffer) => chunks.push(chunk));
  await new Promise((resolve, reject) => child.once('close', resolve).once('error', reject));
  signal.removeEventListener('abort', end);
  const planes = Buffer.concat(chunks);
  return planes.length === width * height * 6 ? { width, height, planes } : null;
}
