import {
  decisionRequest,
  identityRequest,
  newFilter,
  patternApply,
  patternRequest,
  type FilterAnswer,
} from '@relay/contract/clips';
import { Router, type Request } from 'express';
import { z } from 'zod';
import type { Context } from '../context.ts';
import { checked, idOf, Refused } from '../http.ts';
import { member } from './decisions.ts';
import type { clipTasks } from './deskTasks.ts';

/**
 * What people say and decide about clips: identity, by hand, by pattern, by CSV; answers to findings; filters they
 * keep.
 */
export function identityRoutes(context: Context): Router {
  const router = Router();
  const { db } = context;
  const desk = context.desk.of<typeof clipTasks>();
  router.post('/productions/:id/identity', async (request, response) => {
    const { clips, change } = checked(identityRequest, request.body);
    const fields = Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined));
    if (Object.keys(fields).length === 0)
      throw new Refused(400, { what: 'Nothing was said', remedy: 'Fill in a field' });
    response.json(
      await desk.do(
        'say',
        idOf(request),
        clips.map((clip) => ({ ...clip, change: fields })),
        Object.keys(fields).join(', '),
        member,
      ),
    );
  });
  router.post('/productions/:id/identity/preview', async (request, response) => {
    const { clips, field, pattern } = checked(patternRequest, request.body);
    response.type('json').send(await desk.json('previewPattern', idOf(request), clips, field, pattern));
  });
  router.post('/productions/:id/identity/pattern', async (request, response) => {
    const { clips, field, pattern } = checked(patternApply, request.body);
    response.json(await desk.do('sayPattern', idOf(request), clips, field, pattern, member));
  });
  router.get('/productions/:id/clips.csv', async (request, response) => {
    const { filter } = checked(z.object({ filter: z.string().max(200).default('') }), request.query);
    response
      .type('text/csv; charset=utf-8')
      .attachment('clips.csv')
      .send(await desk.do('clipsCsv', idOf(request), filter));
  });
  router.post('/productions/:id/identity/csv/preview', async (request, response) => {
    response.type('json').send(await desk.json('previewCsv', idOf(request), bytesOf(request)));
  });
  router.post('/productions/:id/identity/csv', async (request, response) => {
    response.json(await desk.do('sayCsv', idOf(request), bytesOf(request), member));
  });
  router.post(
    '/identity-changes/:id/undo',
    async (request, response) => void response.json({ clips: await desk.do('undo', idOf(request)) }),
  );

  router.post('/productions/:id/decisions', async (request, response) => {
    const { clips, rule, answer, note } = checked(decisionRequest, request.body);
    const production = idOf(request);
    const answered = clips.map((clip) => ({ clip, rules: [rule] }));
    await desk.do('decide', production, answered, answer, note);
    await desk.do('decided', production, answered);
    response.status(204).end();
  });

  router.get('/productions/:id/filters', async (request, response) => {
    response.json(
      await db.query<FilterAnswer[]>(
        'SELECT id, name, words FROM saved_filter WHERE production_id = $1 ORDER BY name',
        [idOf(request)],
      ),
    );
  });
  router.post('/productions/:id/filters', async (request, response) => {
    const { name, words } = checked(newFilter, request.body);
    const rows = await db.query<FilterAnswer[]>(
      'INSERT INTO saved_filter (production_id, name, words) VALUES ($1, $2, $3) ON CONFLICT (production_id, name) DO UPDATE SET words = excluded.words RETURNING id, name, words',
      [idOf(request), name, words],
    );
    response.status(201).json(rows[0]);
  });
  router.delete('/filters/:id', async (request, response) => {
    await db.query('DELETE FROM saved_filter WHERE id = $1', [idOf(request)]);
    response.status(204).end();
  });
  return router;
}

/** The bytes of a body that is read aside. */
function bytesOf(request: Request): Uint8Array {
  if (!Buffer.isBuffer(request.body)) throw new Refused(400, { what: 'The file is empty', remedy: 'Choose it again' });
  return request.body;
}
