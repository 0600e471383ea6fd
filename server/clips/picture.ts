import type { VideoDescription } from '@relay/core/clip/description';
import { pictureAt } from '@relay/media/picture';
import type { Response } from 'express';
import { Refused } from '../http.ts';

/** Pictures at a time; each holds a whole frame in memory. */
const atOnce = 4;
let underWay = 0;

/** Sends the picture shown at `seconds`; gives up when the page no longer wants it. */
export async function sendPicture(response: Response, path: string, video: VideoDescription, seconds: number): Promise<void> {
  if (underWay >= atOnce) throw new Refused(409, { what: 'Too many pictures are being fetched', remedy: 'Wait a moment and step again' });
  underWay += 1;
  const unwanted = new AbortController();
  response.on('close', () => unwanted.abort());
  try {
    const picture = await pictureAt(path, video, seconds, unwanted.signal);
    if (unwanted.signal.aborted) return;
    if (!picture) throw new Refused(404, { what: 'There is no picture at this frame', remedy: 'Step back to one that exists' });
    response.set('Cache-Control', 'private, max-age=600').type('png').send(picture);
  } finally {
    underWay -= 1;
  }
}
