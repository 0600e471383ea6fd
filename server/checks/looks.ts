import type { LookOrder } from '@relay/contract/checks';
import type { ClipDescription } from '@relay/core/clip/description';
import { standingOf } from '@relay/core/findings/findings';
import { planMark } from '@relay/core/recipe/mark';
import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import { partOfFiles } from '@relay/work/cut/part';
import { storeOr404 } from '../context.ts';
import { outputLook } from '../db/entities/looks.ts';
import { run } from '../db/entities/runs.ts';
import { notThere, Refused } from '../http.ts';
import { recordedMarks } from '../runs/recorded.ts';
import { clipsToRun, planAndClash, takenBy, type ClipToRun } from '../runs/plans.ts';
import type { Stores } from '../stores/stores.ts';
import { startRun } from '../runs/service.ts';
import { recordOf } from './outputs.ts';

/** What people say of outputs that they looked at, and what follows. */

/** Writes down what somebody says of an output as it is now. Answers its production. */
export async function sayLook(db: DataSource, id: string, said: LookOrder, who: string): Promise<string> {
  return db.transaction(async (tx) => {
    const [row] = await tx.query<
      { xxh3: string | null; state: string; path: string; production: string; run: string; clip: string }[]
    >(
      `SELECT o.xxh3, o.state, o.path, run.production_id AS production, run.id AS run, leg.clip_id AS clip
       FROM output o
       JOIN leg ON leg.id = o.leg_id
       JOIN run ON run.id = leg.run_id
       WHERE o.id = $1
       FOR UPDATE OF o`,
      [id],
    );
    if (!row) throw notThere('The output');
    if (row.state !== 'proved' && row.state !== 'needs eyes')
      throw new Refused(409, {
        what: `${row.path} was not made: there is nothing to look at`,
        remedy: 'Retry its leg, then look at it',
      });
    await tx.save(outputLook, { outputId: id, xxh3: row.xxh3, ...said, who });
    // An inlet that waited for eyes says anew how its thing ended.
    await tx.query(
      `UPDATE inlet_thing
       SET ended = NULL, ended_at = NULL
       WHERE ended = 'needs eyes' AND $1 = ANY(runs) AND $2 = ANY(clips)`,
      [row.run, row.clip],
    );
    return row.production;
  });
}

/** A clip as the leg took it: the same part of it, if it was but a part. */
async function asTaken(stores: Stores, clip: ClipToRun, { part, video }: ClipDescription): Promise<ClipToRun> {
  if (!part || !video) return clip;
  const store = await storeOr404({ stores }, clip.storeId);
  const span = { from: part.from, to: part.from + video.frames };
  const taken = await partOfFiles({ root: store.path, folder: clip.root }, clip.description, span);
  if (!taken.ok) throw new Refused(409, taken.problem);
  return { ...clip, description: taken.value };
}

/**
 * Makes an output's clip again by its run's own recipe, as it is corrected now. Answers the run.
 * @throws Refused where nothing was corrected since, or the clip may not be run
 */
export async function makeAgain(
  { db, boss, stores }: { db: DataSource; boss: PgBoss; stores: Stores },
  id: string,
): Promise<string> {
  const record = await recordOf(db, id);
  const before = record && (await db.manager.findOneBy(run, { id: record.runId }));
  if (!record || !before) throw notThere('The output');
  const { stem } = record.plan.original;
  const clips = await clipsToRun(db, before.productionId, [record.clipId]);
  const ready = await Promise.all(clips.map((clip) => asTaken(stores, clip, record.plan.original)));
  const [one] = planAndClash(takenBy(ready, before.recipe), before.recipe).planned;
  if (!one) throw notThere('The clip');
  const { runs, why } = standingOf(one.clip.findings, one.clip.decisions);
  if (!runs) throw new Refused(409, { what: `${stem} is kept out: ${why ?? ''}`, remedy: 'Decide on it under Clips' });
  if (!one.plan.ok) throw new Refused(409, one.plan.problem);
  const plan = one.plan.value;
  const made = (await recordedMarks(db, record, [record.path])).get(record.path);
  const output = plan.outputs.find(({ path }) => path === record.path);
  if (output && made === planMark(plan, output))
    throw new Refused(409, {
      what: `${record.path} would come out as it is: nothing of ${stem} was corrected since`,
      remedy: 'Correct the clip first, then make it again',
    });
  const { productionId: production, recipe, recipeId, recipeVersion, storeId: store, folder, priority, pull } = before;
  const from = recipeId === null ? null : { id: recipeId, version: recipeVersion ?? 1 };
  return startRun(db, boss, { production, name: `${stem} again`, recipe, from, store, folder, priority, pull }, [one]);
}
