import type { VideoDescription } from '@relay/core/clip/description';
import { displayAspect } from '@relay/core/shape/raster';
import { toNumber } from '@relay/core/time/rational';
import { ffmpeg, inputArguments } from '@relay/media/process/ffmpeg';
import { spawn } from 'node:child_process';
import type { Response } from 'express';
import { Refused } from '../http.ts';

/** Pictures at a time; each holds a whole frame in memory. */
const atOnce = 4;
let underWay = 0;

/**
 * Sends the picture shown at `seconds` as PNG, every sample kept but pixels made square by widening. The clip's own
 * code values: no colour conversion but the matrix.
 */
export async function sendPicture(response: Response, path: string, video: VideoDescription, seconds: number): Promise<void> {
  if (underWay >= atOnce) throw new Refused(409, { what: 'Too many pictures are being fetched', remedy: 'Wait a moment and step again' });
  underWay += 1;
  try {
    // Half a frame early, so that rounding never lands on the next picture.
    const from = Math.max(0, seconds - 0.5 / toNumber(video.rate));
    const width = Math.round(video.raster.height * toNumber(displayAspect(video.raster, video.pixelAspect)));
    const child = spawn(ffmpeg, [
      '-v', 'error', '-ss', from.toFixed(6), ...inputArguments(path), '-map', '0:v:0', '-frames:v', '1',
      '-vf', `scale=${width}:${video.raster.height}:flags=bicubic+accurate_rnd+full_chroma_int:interl=0,format=rgb24`, '-c:v', 'png', '-compression_level', '1', '-f', 'image2pipe', 'pipe:1',
    ], { stdio: ['ignore', 'pipe', 'ignore'] });
    response.on('close', () => child.kill('SIGKILL'));
    const chunks: Buffer[] = [];
    child.stdout.on('data', (chunk: Buffer) => chunks.push(chunk));
    await new Promise((resolve, reject) => child.once('close', resolve).once('error', reject));
    if (chunks.length === 0) throw new Refused(404, { what: 'There is no picture at this frame', remedy: 'Step back to one that exists' });
    response.set('Cache-Control', 'private, max-age=600').type('png').send(Buffer.concat(chunks));
  } finally {
    underWay -= 1;
  }
}
