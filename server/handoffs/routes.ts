import type { HandoffLine } from '@relay/contract/api';
import { relinkCsv, relinkJson } from '@relay/core/relink/sheet';
import { Router } from 'express';
import { under } from '@relay/core/naming/under';
import type { Context } from '../context.ts';
import { idOf, notThere } from '../http.ts';
import { sheetNames } from '@relay/work/leg/sheet';
import { relinkRows } from '../runs/sheetKeeper.ts';

/** What can be handed to the edit team: finished outputs and the relink sheet that leads back from them. */
export function handoffRoutes(context: Context): Router {
  const router = Router();
  router.get('/productions/:id/handoffs', async (request, response) => {
    const rows = await context.db.query<
      (Omit<HandoffLine, 'place' | 'csv' | 'json'> & { store: string; folder: string })[]
    >(
      `SELECT run.id AS "runId", run.name, run.store_id AS store, run.folder, count(o.id)::int AS outputs, sum(o.size_bytes)::float AS bytes
       FROM run JOIN leg ON leg.run_id = run.id JOIN output o ON o.leg_id = leg.id AND o.state IN ('proved', 'needs eyes')
       WHERE run.production_id = $1 GROUP BY run.id ORDER BY run.created_at DESC`,
      [idOf(request)],
    );
    const lines: HandoffLine[] = [];
    for (const { store, folder, ...row } of rows) {
      const place = under((await context.stores.get(store))?.path ?? store, folder);
      lines.push({ ...row, place, csv: under(place, sheetNames.csv), json: under(place, sheetNames.json) });
    }
    response.json(lines);
  });
  router.get('/runs/:id/relink.:format', async (request, response) => {
    const [run] = await context.db.query<{ store: string; folder: string }[]>(
      'SELECT store_id AS store, folder FROM run WHERE id = $1',
      [idOf(request)],
    );
    if (!run) throw notThere('The run');
    const rows = await relinkRows(context.db, run.store, run.folder);
    if (request.params.format === 'csv') response.attachment(sheetNames.csv).type('text/csv').send(relinkCsv(rows));
    else response.attachment(sheetNames.json).type('json').send(relinkJson(rows));
  });
  return router;
}
