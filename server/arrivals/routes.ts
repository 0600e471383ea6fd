import { newReading, type LeftAsideLine, type ReadingAnswer } from '@relay/contract/api';
import { Router } from 'express';
import { storeOr404, type Context } from '../context.ts';
import { checked, idOf, Refused } from '../http.ts';
import { readingQueue } from '../queue/boss.ts';
import { lookInto } from '@relay/work/disk/store';

const readingColumns = `id, store_id AS store, folder, state, total, done, problem, says, created_at AS "createdAt"`;

/** Folders read into a production, and what was left aside in them. */
export function arrivalRoutes(context: Context): Router {
  const router = Router();
  router.get('/productions/:id/readings', async (request, response) => {
    response.json(
      await context.db.query<ReadingAnswer[]>(
        `SELECT ${readingColumns} FROM reading WHERE production_id = $1 AND roll_id IS NULL ORDER BY created_at DESC LIMIT 50`,
        [idOf(request)],
      ),
    );
  });
  router.post('/productions/:id/readings', async (request, response) => {
    const wanted = checked(newReading, request.body);
    const store = await storeOr404(context, wanted.store);
    await lookInto(store, wanted.folder).catch(() => {
      throw new Refused(404, {
        what: `${wanted.folder || store.name} cannot be opened`,
        remedy: 'See that the store is mounted and choose a folder in it',
      });
    });
    const rows = await context.db.query<ReadingAnswer[]>(
      `INSERT INTO reading (production_id, store_id, folder) VALUES ($1, $2, $3) RETURNING ${readingColumns}`,
      [idOf(request), store.id, wanted.folder],
    );
    await context.boss.send(readingQueue, { reading: rows[0]?.id });
    response.status(201).json(rows[0]);
  });
  router.get('/productions/:id/left-aside', async (request, response) => {
    response.json(
      await context.db.query<LeftAsideLine[]>(
        `SELECT id, refusal FROM clip WHERE production_id = $1 AND refusal IS NOT NULL AND refusal->'problem'->>'kind' <> 'chapter' ORDER BY (refusal->'problem'->>'kind' = 'sidecar'), path LIMIT 5000`,
        [idOf(request)],
      ),
    );
  });
  return router;
}
