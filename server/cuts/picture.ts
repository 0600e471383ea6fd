import { clipSide } from '@relay/media/compare/side';
import { smallPicture } from '@relay/media/compare/small';
import { withInput } from '@relay/media/process/joined';
import type { Response } from 'express';
import { asAsked } from '../asked.ts';
import { withOriginal } from '../clips/original.ts';
import type { Context } from '../context.ts';
import { Refused } from '../http.ts';

/** Sends a small picture of an original at one of its frames, from 0. */
export async function sendOriginal(context: Context, response: Response, clip: string, frame: number): Promise<void> {
  await asAsked('picture', response, async (unwanted) => {
    const made = await withOriginal(context, clip, ({ files, description }) =>
      withInput({ clip: description, paths: files }, async (input, hands) => {
        const { video } = description;
        const side =
          video && clipSide({ clip: description, input, hands }, { map: { kind: 'every' }, rate: video.rate, pace: 1 });
        return side ? smallPicture(side, Math.min(frame, video.frames - 1), unwanted) : null;
      }),
    );
    if (unwanted.aborted) return;
    if (!made) throw new Refused(404, { what: 'There is no picture at this frame', remedy: 'Look at another one' });
    response.set('Cache-Control', 'private, max-age=600').type('image/jpeg').send(made);
  });
}
