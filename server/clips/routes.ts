import { clipQuery, type ClipsAnswer } from '@relay/contract/api';
import type { ClipDescription } from '@relay/core/clip/description';
import { Router } from 'express';
import { z } from 'zod';
import { storeOr404, type Context } from '../context.ts';
import { checked, idOf, notThere } from '../http.ts';
import { originalPlace } from '../stores/stores.ts';
import { posterPath } from './posters.ts';
import { sendPicture } from './picture.ts';
import { clipLines } from './queries.ts';

export const secondsQuery = z.object({ seconds: z.coerce.number().min(0).max(1e6).default(0) });

/** The clips sheet, posters, and single pictures of originals. */
export function clipRoutes(context: Context): Router {
  const router = Router();
  router.get('/productions/:id/clips', async (request, response) => {
    const { sort, direction, filter } = checked(clipQuery, request.query);
    const clips = await clipLines(context.db, idOf(request), sort, direction, filter);
    response.json({ total: clips.length, clips } satisfies ClipsAnswer);
  });
  router.get('/clips/:id/poster', (request, response, next) => {
    response.sendFile(posterPath(context.cacheFolder, idOf(request)), { maxAge: 60_000, dotfiles: 'allow' }, (error) => {
      if (error && !response.headersSent) next(notThere('The poster'));
    });
  });
  router.get('/clips/:id/picture', async (request, response) => {
    const { seconds } = checked(secondsQuery, request.query);
    const rows = (await context.db.query('SELECT store_id AS "storeId", root, path, description FROM clip WHERE id = $1', [idOf(request)])) as {
      storeId: string; root: string; path: string; description: ClipDescription | null;
    }[];
    const clip = rows[0];
    if (!clip?.description?.video) throw notThere('The clip');
    const store = await storeOr404(context, clip.storeId);
    await sendPicture(response, await originalPlace(store, clip.root, clip.path), clip.description.video, seconds);
  });
  return router;
}
