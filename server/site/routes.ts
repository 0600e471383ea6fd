import type { FoldersAnswer, ProductionAnswer, SiteAnswer, StoreAnswer } from '@relay/contract/api';
import { newProduction, productionChange, siteChange, storeChange } from '@relay/contract/api';
import { minutesUntilWork, quietStretches } from '@relay/core/site/quietHours';
import { isolated } from '@relay/media/process/sandbox';
import { Router } from 'express';
import { z } from 'zod';
import { bayStore } from '../arrivals/bay.ts';
import { storeOr404, type Context } from '../context.ts';
import { checked, idOf, notThere, Refused } from '../http.ts';
import { ruleOfClip } from '../clips/held.ts';
import { tell } from '../live/notify.ts';
import { promisedBytes } from '../runs/queries.ts';
import { lookInto, storeSpace } from '@relay/work/disk/store';
import { liveWorkers } from '../queue/roster.ts';
import { clockOffset, keepSetting, setting } from './settings.ts';
import type { clipTasks } from '../clips/deskTasks.ts';

const countsOf = `
  json_build_object(
    'rolls', (SELECT count(*) FROM (SELECT c.roll FROM clip c WHERE c.production_id = p.id AND c.description IS NOT NULL UNION SELECT r.name FROM roll r WHERE r.production_id = p.id) names),
    'toDecide', (SELECT count(*) FROM clip c WHERE c.production_id = p.id AND c.description IS NOT NULL AND c.gravest < 2),
    'arriving', (SELECT count(*) FROM roll r WHERE r.production_id = p.id AND r.state <> 'proved'),
    'clips', (SELECT count(*) FROM clip c WHERE c.production_id = p.id AND c.description IS NOT NULL),
    'leftAside', (SELECT count(*) FROM clip c WHERE c.production_id = p.id AND c.refusal IS NOT NULL AND c.refusal->'problem'->>'kind' NOT IN ('sidecar', 'chapter')),
    'groups', (SELECT count(DISTINCT c.grp) FROM clip c WHERE c.production_id = p.id AND jsonb_typeof(c.description->'video') = 'object'),
    'logWithout', (SELECT count(*) FROM clip ${ruleOfClip} WHERE clip.production_id = p.id AND rule.scope IS NULL AND clip.findings @> '[{"rule": "logAsVideo"}]'),
    'recipes', (SELECT count(*) FROM recipe),
    'runs', (SELECT count(*) FROM run r WHERE r.production_id = p.id),
    'legsOpen', (SELECT count(*) FROM leg l JOIN run r ON r.id = l.run_id WHERE r.production_id = p.id AND l.state IN ('waiting', 'running', 'proving')),
    'outputs', (SELECT count(*) FROM output o JOIN leg l ON l.id = o.leg_id JOIN run r ON r.id = l.run_id WHERE r.production_id = p.id),
    'needEyes', (SELECT count(*) FROM output o JOIN leg l ON l.id = o.leg_id JOIN run r ON r.id = l.run_id WHERE r.production_id = p.id AND o.state = 'needs eyes'),
    'failed', (SELECT count(*) FROM leg l JOIN run r ON r.id = l.run_id WHERE r.production_id = p.id AND l.state = 'failed'),
    'handoffs', (SELECT count(DISTINCT r.id) FROM output o JOIN leg l ON l.id = o.leg_id JOIN run r ON r.id = l.run_id WHERE r.production_id = p.id AND o.state IN ('proved', 'needs eyes'))
  ) AS counts`;

async function productions(context: Context, id: string | null): Promise<ProductionAnswer[]> {
  return await context.db.query<ProductionAnswer[]>(
    `SELECT p.id, p.name, p.created_at AS "createdAt", p.rate, p.copy_rule AS "copyRule", ${countsOf} FROM production p WHERE $1::uuid IS NULL OR p.id = $1 ORDER BY p.created_at DESC`,
    [id],
  );
}

async function storeAnswers(context: Context): Promise<StoreAnswer[]> {
  const promised = await promisedBytes(context.db);
  return Promise.all(
    (await context.stores.list()).map(async ({ id, name, path, elsewhere = {}, marked }) => ({
      id,
      name,
      path,
      elsewhere,
      promisedBytes: promised.get(id) ?? 0,
      bay: id === bayStore,
      ...((await storeSpace({ id, name, path, ...(marked ? { marked } : {}) })) ?? {
        freeBytes: null,
        totalBytes: null,
      }),
    })),
  );
}

/** Productions, stores, and what the wire at the bottom of every page says. */
export function siteRoutes(context: Context): Router {
  const router = Router();
  const desk = context.desk.of<typeof clipTasks>();
  router.get('/productions', async (_request, response) => void response.json(await productions(context, null)));
  router.post('/productions', async (request, response) => {
    const { name } = checked(newProduction, request.body);
    const rows = await context.db.query<{ id: string }[]>(
      'INSERT INTO production (name) VALUES ($1) ON CONFLICT DO NOTHING RETURNING id',
      [name],
    );
    const id = rows[0]?.id;
    if (!id)
      throw new Refused(409, {
        what: `There is a production called ${name} already`,
        remedy: 'Open it, or choose another name',
      });
    await tell(context.db, { kind: 'changed', what: 'productions', production: id });
    response.status(201).json((await productions(context, id))[0]);
  });
  router.get('/productions/:id', async (request, response) => {
    const found = (await productions(context, idOf(request)))[0];
    if (!found) throw notThere('The production');
    response.json(found);
  });
  router.post('/productions/:id', async (request, response) => {
    const id = idOf(request);
    const { rate, copyRule } = checked(productionChange, request.body);
    if (rate !== undefined)
      await context.db.query('UPDATE production SET rate = $2 WHERE id = $1', [id, rate ? JSON.stringify(rate) : null]);
    if (copyRule)
      await context.db.query('UPDATE production SET copy_rule = $2 WHERE id = $1', [id, JSON.stringify(copyRule)]);
    if (rate !== undefined) await desk.do('refreshClips', id);
    await tell(context.db, { kind: 'changed', what: 'productions', production: id });
    const found = (await productions(context, id))[0];
    if (!found) throw notThere('The production');
    response.json(found);
  });
  router.get('/stores', async (_request, response) => void response.json(await storeAnswers(context)));
  router.post('/stores/:store', async (request, response) => {
    const store = await storeOr404(context, request.params.store);
    const { elsewhere } = checked(storeChange, request.body);
    const said = Object.entries(elsewhere).filter(([, path]) => path !== undefined && path !== '');
    await context.stores.putElsewhere(store.id, Object.fromEntries(said));
    response.status(204).end();
  });
  router.post('/site', async (request, response) => {
    await keepSetting(context.db, 'quiet', checked(siteChange, request.body).quiet);
    response.status(204).end();
  });
  router.get('/stores/:store/folders', async (request, response) => {
    const store = await storeOr404(context, request.params.store);
    const { folder } = checked(z.object({ folder: z.string().max(4000).default('') }), request.query);
    try {
      response.json({ folder, ...(await lookInto(store, folder)) } satisfies FoldersAnswer);
    } catch {
      throw new Refused(404, {
        what: `${folder || store.name} cannot be opened`,
        remedy: 'See that the store is mounted',
      });
    }
  });
  router.get('/site', async (_request, response) => {
    const [row] = await context.db.query<
      {
        legsOpen: number;
        legsRunning: number;
        framesLeft: number;
        framesPerSecond: number | null;
      }[]
    >(`
      SELECT count(*)::int AS "legsOpen", count(*) FILTER (WHERE state IN ('running', 'proving'))::int AS "legsRunning",
        coalesce(sum(greatest(0, frames_total - frames_done)), 0)::float AS "framesLeft",
        (SELECT sum(frames_total)::float / nullif(sum(extract(epoch FROM ended_at - started_at))::float, 0) FROM
          (SELECT frames_total, started_at, ended_at FROM leg WHERE state IN ('proved', 'needs eyes') AND ended_at > now() - interval '1 day'
             ORDER BY ended_at DESC LIMIT 20) recent) AS "framesPerSecond"
      FROM leg WHERE state IN ('waiting', 'running', 'proving')`);
    // What the last legs took, one at a time, shared by as many as are under way now.
    const left =
      row && row.legsOpen > 0 && row.framesPerSecond
        ? row.framesLeft / row.framesPerSecond / Math.max(1, row.legsRunning)
        : null;
    const [quiet, now, state] = [await setting(context.db, 'quiet'), new Date(), await isolated()];
    response.json({
      stores: await storeAnswers(context),
      legsOpen: row?.legsOpen ?? 0,
      legsRunning: row?.legsRunning ?? 0,
      workers: await liveWorkers(context.db),
      quiet,
      quietNow: quiet !== null && minutesUntilWork(quiet, now.getHours() * 60 + now.getMinutes()) > 0,
      quietStretches: quietStretches(quiet, now.getTime(), clockOffset(now)),
      clock: now.toTimeString().slice(0, 5),
      isolation: state.works ? null : state.why,
      readyAt: left === null ? null : new Date(Date.now() + left * 1000).toISOString(),
    } satisfies SiteAnswer);
  });
  return router;
}
