import { clipIds, clipQuery, someClipIds, type LookAnswer } from '@relay/contract/clips';
import { Router, type Response } from 'express';
import { z } from 'zod';
import type { Context } from '../context.ts';
import { checked, idOf, notThere } from '../http.ts';
import { withOriginal } from './original.ts';
import { lookPath, posterPath, readLook, stripPath } from './cache.ts';
import { clipAnswer } from './one.ts';
import { inputArguments } from '@relay/media/process/ffmpeg';
import { sendPicture } from './picture.ts';
import { sendPlay } from './play.ts';
import { clipLines, clipSheet } from './queries.ts';
import type { clipTasks } from './deskTasks.ts';

export const secondsQuery = z.object({ seconds: z.coerce.number().min(0).max(1e6).default(0) });
const playQuery = z.object({
  from: z.coerce.number().min(0).max(1e6).default(0),
  channel: z.coerce.number().int().min(0).max(63).optional(),
});

/** The clips sheet, one clip with all that is known of it, its pictures and its sound. */
export function clipRoutes(context: Context): Router {
  const router = Router();
  const { db, cacheFolder } = context;
  const desk = context.desk.of<typeof clipTasks>();
  router.get('/productions/:id/clips', async (request, response) => {
    const { sort, direction, filter } = checked(clipQuery, request.query);
    response.json(await clipSheet(db, idOf(request), sort, direction, filter));
  });
  router.post('/productions/:id/clips/lines', async (request, response) => {
    response.json(await clipLines(db, idOf(request), checked(someClipIds, request.body).clips));
  });
  router.post('/productions/:id/clips/common', async (request, response) => {
    response.type('json').send(await desk.json('commonOf', idOf(request), checked(clipIds, request.body).clips));
  });
  router.get('/clips/:id', async (request, response) => {
    const clip = await clipAnswer(db, idOf(request));
    if (!clip) throw notThere('The clip');
    response.json(clip);
  });
  const sendCached = (response: Response, path: string, what: string, next: (error: Error) => void): void => {
    response.sendFile(
      path,
      { cacheControl: false, headers: { 'Cache-Control': 'private, max-age=60' }, dotfiles: 'allow' },
      (error) => {
        if (error && !response.headersSent) next(notThere(what));
      },
    );
  };
  router.get('/clips/:id/poster', (request, response, next) =>
    sendCached(response, posterPath(cacheFolder, idOf(request)), 'The poster', next),
  );
  router.get('/clips/:id/strip', (request, response, next) =>
    sendCached(response, stripPath(cacheFolder, idOf(request)), 'The filmstrip', next),
  );
  router.get('/clips/:id/look', async (request, response) => {
    const look: LookAnswer | null = await readLook(lookPath(cacheFolder, idOf(request)));
    if (!look) throw notThere('What was looked at closely');
    response.json(look);
  });
  router.get('/clips/:id/picture', async (request, response) => {
    const { seconds } = checked(secondsQuery, request.query);
    await withOriginal(context, idOf(request), async ({ files, description }) => {
      if (!description.video) throw notThere('The picture');
      await sendPicture(
        response,
        files.map((file) => inputArguments(file)),
        description,
        seconds,
      );
    });
  });
  router.get('/clips/:id/play', async (request, response) => {
    const { from, channel } = checked(playQuery, request.query);
    const id = idOf(request);
    await sendPlay(context, response, id, from, channel ?? null);
  });
  return router;
}
