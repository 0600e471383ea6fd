import { toNumber } from '@relay/core/time/rational';
import { matrixOf } from '@relay/core/recipe/video';
import { frameAt } from '@relay/media/frame';
import type { Response } from 'express';
import { originalOf } from '../clips/routes.ts';
import { fileAt } from '../clips/picture.ts';
import type { Context } from '../context.ts';
import { notThere, Refused } from '../http.ts';

/** Frames at a time; one of 4K holds 50 MB. */
const atOnce = 3;
let underWay = 0;
const waiting: (() => void)[] = [];

/** Sends a clip's frame in full depth: raw planes, with their size and matrix in the answer's head. */
export async function sendFrame(context: Context, response: Response, id: string, frame: number, widest: number): Promise<void> {
  const { files, description } = await originalOf(context, id);
  const { video } = description;
  if (!video) throw notThere('The picture');
  if (frame >= video.frames) throw new Refused(404, { what: `${description.stem} has ${video.frames} frames`, remedy: 'Step back to one that exists' });
  const unwanted = new AbortController();
  response.on('close', () => unwanted.abort());
  if (underWay >= atOnce) await new Promise<void>((resolve) => waiting.push(resolve));
  underWay += 1;
  try {
    if (unwanted.signal.aborted) return;
    const { file, rest } = fileAt(description, frame / toNumber(video.rate));
    const made = await frameAt(files[file] as string, video, rest, widest, unwanted.signal);
    if (unwanted.signal.aborted) return;
    if (!made) throw new Refused(404, { what: 'There is no picture at this frame', remedy: 'Step back to one that exists' });
    response.set({ 'Cache-Control': 'private, max-age=600', 'X-Width': String(made.width), 'X-Height': String(made.height), 'X-Matrix': matrixOf(video.colour, video.raster, video.chroma === 'rgb') });
    response.type('application/octet-stream').send(made.planes);
  } finally {
    underWay -= 1;
    waiting.shift()?.();
  }
}
