import type { ChecksAnswer, OutputAnswer, OutputLine } from '@relay/contract/api';
import { isRefusal } from '@relay/core/clip/description';
import { hasPicture } from '@relay/core/recipe/codecs';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { sayPlan } from '@relay/core/recipe/sentence';
import { describeOutput } from '@relay/media/describe/output';
import { openOutput } from '@relay/media/leg/open';
import { under } from '@relay/core/naming/under';
import { Router } from 'express';
import { secondsQuery } from '../clips/routes.ts';
import { sendPicture } from '../clips/picture.ts';
import { storeOr404, type Context } from '../context.ts';
import { checked, idOf, notThere, Refused } from '../http.ts';
import { outputColumns } from '../runs/queries.ts';
import { outputIn } from '@relay/work/leg/outputPlace';
import { holding } from '@relay/work/disk/held';

interface OutputRecord extends OutputLine {
  legId: string;
  runId: string;
  clipId: string;
  clipPath: string;
  plan: LegPlan;
  store: string;
  folder: string;
}

function plannedOf({ plan, path }: OutputRecord): OutputPlan {
  const planned = plan.outputs.find((output) => output.path === path);
  if (!planned) throw notThere("The output's plan");
  return planned;
}

/** Finished outputs beside their originals. */
export function checkRoutes(context: Context): Router {
  const router = Router();
  const outputOf = async (id: string): Promise<OutputRecord> => {
    const rows = await context.db.query<OutputRecord[]>(
      `SELECT ${outputColumns}, o.leg_id AS "legId", run.id AS "runId", clip.id AS "clipId", clip.path AS "clipPath", leg.plan, run.store_id AS store, run.folder
       FROM output o JOIN leg ON leg.id = o.leg_id JOIN run ON run.id = leg.run_id JOIN clip ON clip.id = leg.clip_id WHERE o.id = $1`,
      [id],
    );
    if (!rows[0]) throw notThere('The output');
    return rows[0];
  };

  router.get('/productions/:id/outputs', async (request, response) => {
    const outputs = await context.db.query<ChecksAnswer['outputs']>(
      `SELECT ${outputColumns.replace('o.proof', 'NULL AS proof')}, run.id AS "runId", clip.id AS "clipId", clip.path AS "clipPath", clip.stem, o.created_at AS "createdAt"
       FROM output o JOIN leg ON leg.id = o.leg_id JOIN run ON run.id = leg.run_id JOIN clip ON clip.id = leg.clip_id
       WHERE run.production_id = $1
       ORDER BY array_position(ARRAY['needs eyes', 'failed', 'stopped', 'proved'], o.state), run.created_at DESC, leg.ordinal, o.role LIMIT 20000`,
      [idOf(request)],
    );
    response.json({ total: outputs.length, outputs } satisfies ChecksAnswer);
  });
  router.get('/outputs/:id', async (request, response) => {
    const all = await outputOf(idOf(request));
    const planned = plannedOf(all);
    const { plan, ...record } = all;
    const found = Number(
      record.proof?.comparisons.find((comparison) => comparison.name === 'frames')?.found ?? planned.video.frames,
    );
    response.json({
      ...record,
      said: sayPlan(plan),
      frames: found || planned.video.frames,
      pictured: hasPicture(planned),
      rate: planned.video.rate,
      raster: planned.video.raster,
      start: planned.timecode,
      original: plan.original,
    } satisfies OutputAnswer);
  });
  router.get('/outputs/:id/picture', async (request, response) => {
    const { seconds } = checked(secondsQuery, request.query);
    const record = await outputOf(idOf(request));
    const planned = plannedOf(record);
    const store = await storeOr404(context, record.store);
    await holding(async (held) => {
      const gone = new Refused(404, {
        what: `${record.path} is not there (any more)`,
        remedy: 'Retry its leg to make it again',
      });
      const path = await outputIn(held, planned, store.path, under(record.folder, record.path)).catch(() =>
        Promise.reject(gone),
      );
      const described = await describeOutput(planned, path);
      if (isRefusal(described) || !described.video) throw gone;
      await sendPicture(response, [openOutput(planned, path).input], described, seconds);
    });
  });
  return router;
}
