import { toNumber } from '@relay/core/time/rational';
import { matrixOf } from '@relay/core/recipe/video';
import { frameAt } from '@relay/media/frame';
import type { Response } from 'express';
import { asAsked } from '../asked.ts';
import { withOriginal } from '../clips/original.ts';
import { fileAt } from '../clips/fileAt.ts';
import type { Context } from '../context.ts';
import { notThere, Refused } from '../http.ts';

/** Sends a clip's frame in full depth: raw planes, with their size and matrix in the answer's head. */
export async function sendFrame(
  context: Context,
  response: Response,
  id: string,
  frame: number,
  widest: number,
): Promise<void> {
  await withOriginal(context, id, async ({ files, description }) => {
    const { video } = description;
    if (!video) throw notThere('The picture');
    if (frame >= video.frames)
      throw new Refused(404, {
        what: `${description.stem} has ${video.frames} frames`,
        remedy: 'Step back to one that exists',
      });
    const { file, rest } = fileAt(description, frame / toNumber(video.rate));
    await asAsked('picture', response, async (unwanted) => {
      const made = await frameAt(files[file] as string, video, rest, widest, unwanted);
      if (unwanted.aborted) return;
      if (!made)
        throw new Refused(404, { what: 'There is no picture at this frame', remedy: 'Step back to one that exists' });
      const matrix = matrixOf(video.colour, video.raster, video.chroma === 'rgb');
      response.set({
        'Cache-Control': 'private, max-age=600',
        'X-Width': String(made.width),
        'X-Height': String(made.height),
        'X-Matrix': matrix,
      });
      response.type('application/octet-stream').send(made.planes);
    });
  });
}
