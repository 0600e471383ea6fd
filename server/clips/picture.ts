import type { ClipDescription } from '@relay/core/clip/description';
import { toNumber } from '@relay/core/time/rational';
import { pictureAt } from '@relay/media/picture';
import type { Response } from 'express';
import { asAsked } from '../asked.ts';
import { Refused } from '../http.ts';

/** Which of a clip's files holds the picture at `seconds`, and the seconds into it. */
export function fileAt(clip: ClipDescription, seconds: number): { file: number; rest: number } {
  let [file, rest] = [0, seconds];
  while (
    file < clip.chapters.length - 1 &&
    rest >= toNumber(clip.chapters[file]?.duration ?? { num: 0, den: 1 }) - 1e-6
  ) {
    rest -= toNumber(clip.chapters[file]?.duration ?? { num: 0, den: 1 });
    file += 1;
  }
  return { file, rest };
}

/**
 * Sends the picture shown at `seconds` of a clip, from the chapter that holds it; `inputs` open its files. Gives up
 * when the page no longer wants it.
 */
export async function sendPicture(
  response: Response,
  inputs: readonly (readonly string[])[],
  clip: ClipDescription,
  seconds: number,
): Promise<void> {
  if (!clip.video) throw new Refused(404, { what: 'This clip has no picture', remedy: 'Listen to it' });
  const { video } = clip;
  const { file, rest } = fileAt(clip, seconds);
  await asAsked('picture', response, async (unwanted) => {
    const picture = await pictureAt(inputs[file] as readonly string[], video, rest, unwanted);
    if (unwanted.aborted) return;
    if (!picture)
      throw new Refused(404, { what: 'There is no picture at this frame', remedy: 'Step back to one that exists' });
    response.set('Cache-Control', 'private, max-age=600').type('png').send(picture);
  });
}
