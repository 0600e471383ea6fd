import { csvRequest, decisionRequest, identityRequest, newFilter, patternApply, patternRequest, type FilterAnswer } from '@relay/contract/clips';
import { Router } from 'express';
import { z } from 'zod';
import type { Context } from '../context.ts';
import { checked, idOf, Refused } from '../http.ts';
import { tell } from '../live/notify.ts';
import { clipsCsv, previewCsv, previewPattern, say, sayingsOf, undo } from './identity.ts';
import { refreshClips } from './refresh.ts';

/** Until people sign in there is one member. */
export const member = 'assistant';

/** What people say and decide about clips: identity, by hand, by pattern, by CSV; answers to findings; filters they keep. */
export function identityRoutes(context: Context): Router {
  const router = Router();
  const { db } = context;
  router.post('/productions/:id/identity', async (request, response) => {
    const { clips, change } = checked(identityRequest, request.body);
    const fields = Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined));
    if (Object.keys(fields).length === 0) throw new Refused(400, { what: 'Nothing was said', remedy: 'Fill in a field' });
    response.json(await say(db, idOf(request), clips.map((clip) => ({ ...clip, change: fields })), Object.keys(fields).join(', '), member));
  });
  router.post('/productions/:id/identity/preview', async (request, response) => {
    const { clips, field, pattern } = checked(patternRequest, request.body);
    response.json(await previewPattern(db, idOf(request), clips, field, pattern));
  });
  router.post('/productions/:id/identity/pattern', async (request, response) => {
    const { clips, field, pattern } = checked(patternApply, request.body);
    const preview = await previewPattern(db, idOf(request), clips.map((clip) => clip.id), field, pattern);
    const sayings = sayingsOf(preview.rows, Object.fromEntries(clips.map((clip) => [clip.id, clip.version])));
    if (sayings.length === 0) throw new Refused(400, { what: 'The pattern changes nothing', remedy: 'Look at the preview' });
    response.json(await say(db, idOf(request), sayings, `${field} by ${pattern}`, member));
  });
  router.get('/productions/:id/clips.csv', async (request, response) => {
    const { filter } = checked(z.object({ filter: z.string().max(200).default('') }), request.query);
    response.type('text/csv; charset=utf-8').attachment('clips.csv').send(await clipsCsv(db, idOf(request), filter));
  });
  router.post('/productions/:id/identity/csv/preview', async (request, response) => {
    response.json(await previewCsv(db, idOf(request), checked(csvRequest, request.body).text));
  });
  router.post('/productions/:id/identity/csv', async (request, response) => {
    const { text, versions } = checked(csvRequest, request.body);
    const preview = await previewCsv(db, idOf(request), text);
    const sayings = sayingsOf(preview.rows, versions ?? preview.versions);
    if (sayings.length === 0) throw new Refused(400, { what: 'The file changes nothing', remedy: 'Look at the preview' });
    response.json(await say(db, idOf(request), sayings, 'a CSV file', member));
  });
  router.post('/identity-changes/:id/undo', async (request, response) => void response.json({ clips: await undo(db, idOf(request)) }));

  router.post('/productions/:id/decisions', async (request, response) => {
    const { clips, rule, answer, note } = checked(decisionRequest, request.body);
    const production = idOf(request);
    const answered = clips.map((clip) => ({ clip, rules: [rule] }));
    await decide(context, production, answered, answer, note);
    await decided(context, production, answered);
    response.status(204).end();
  });

  router.get('/productions/:id/filters', async (request, response) => {
    response.json((await db.query('SELECT id, name, words FROM saved_filter WHERE production_id = $1 ORDER BY name', [idOf(request)])) as FilterAnswer[]);
  });
  router.post('/productions/:id/filters', async (request, response) => {
    const { name, words } = checked(newFilter, request.body);
    const rows = (await db.query(
      'INSERT INTO saved_filter (production_id, name, words) VALUES ($1, $2, $3) ON CONFLICT (production_id, name) DO UPDATE SET words = excluded.words RETURNING id, name, words',
      [idOf(request), name, words],
    )) as FilterAnswer[];
    response.status(201).json(rows[0]);
  });
  router.delete('/filters/:id', async (request, response) => {
    await db.query('DELETE FROM saved_filter WHERE id = $1', [idOf(request)]);
    response.status(204).end();
  });
  return router;
}

/** A clip, and the findings of it that are answered. */
export interface Answered {
  clip: string;
  rules: readonly string[];
}

/** Writes down who answered findings, and how; null takes an answer back. Only findings that a clip has can be answered. What follows for the sheet is `decided`'s. */
export async function decide({ db }: Context, production: string, answered: readonly Answered[], answer: 'as it is' | 'leave out' | null, note: string): Promise<void> {
  const those = 'jsonb_to_recordset($2::jsonb) AS answered(clip uuid, rules text[])';
  if (answer === null) {
    await db.query(`DELETE FROM decision USING clip, ${those} WHERE decision.clip_id = clip.id AND clip.production_id = $1 AND clip.id = answered.clip AND rule = ANY(answered.rules)`, [production, JSON.stringify(answered)]);
    return;
  }
  await db.query(
    `INSERT INTO decision (clip_id, rule, answer, note, who)
     SELECT clip.id, finding->>'rule', $3, $4, $5 FROM ${those} JOIN clip ON clip.id = answered.clip, jsonb_array_elements(clip.findings) finding
     WHERE clip.production_id = $1 AND finding->>'rule' = ANY(answered.rules) AND finding->>'level' <> 'note'
     ON CONFLICT (clip_id, rule) DO UPDATE SET answer = excluded.answer, note = excluded.note, who = excluded.who, at = now()`,
    [production, JSON.stringify(answered), answer, note, member],
  );
}

/** Works out what answers mean for the sheet, and tells who looks at it. */
export async function decided({ db }: Context, production: string, answered: readonly Answered[]): Promise<void> {
  if (answered.length === 0) return;
  await refreshClips(db, production, answered.map(({ clip }) => clip));
  await tell(db, { kind: 'changed', what: 'clips', production });
}
