import type { LegPlan } from '@relay/core/recipe/legPlan';
import { ok } from '@relay/core/result';
import type PgBoss from 'pg-boss';
import { In, type DataSource } from 'typeorm';
import { removal, removalItem, type RemovalItemRow } from '../db/entities/removals.ts';
import { notThere, Refused } from '../http.ts';
import { clipsToRun, type PlannedClip } from '../runs/plans.ts';
import { startRun } from '../runs/service.ts';

/** The plan of a leg with the outputs of several items: made together, from one decode, as they were. */
function together(items: readonly RemovalItemRow[]): LegPlan | null {
  const plans = items.flatMap(({ plan }) => plan ?? []);
  const [first] = plans;
  return first ? { ...first, outputs: plans.flatMap(({ outputs }) => outputs) } : null;
}

/**
 * Makes what went again, to the very plans that it was made to then, under the names and in the places that it had: by
 * runs of their own. Answers how many runs, and of how many files.
 * @throws Refused where none of it can come back
 */
export async function bringBackRemoved(
  { db, boss }: { db: DataSource; boss: PgBoss },
  id: string,
  places: readonly number[],
): Promise<{ runs: number; files: number; production: string }> {
  const row = await db.manager.findOneBy(removal, { id });
  if (!row) throw notThere('What was deleted');
  const gone = await db.manager.find(removalItem, {
    where: { removalId: id, state: 'gone', ...(places.length > 0 ? { place: In([...places]) } : {}) },
    order: { place: 'ASC' },
  });
  const able = gone.filter(({ plan, clipId }) => plan !== null && clipId !== null);
  const clips = new Map(
    (await clipsToRun(db, row.productionId, [...new Set(able.flatMap(({ clipId }) => clipId ?? []))])).map((clip) => [
      clip.id,
      clip,
    ]),
  );
  const byRun = new Map<string, Map<string, RemovalItemRow[]>>();
  for (const item of able) {
    if (!clips.has(item.clipId ?? '')) continue;
    const legs = byRun.get(item.runId) ?? new Map<string, RemovalItemRow[]>();
    legs.set(item.legId, [...(legs.get(item.legId) ?? []), item]);
    byRun.set(item.runId, legs);
  }
  let files = 0;
  for (const [runId, legs] of byRun) {
    const was = row.runs[runId];
    if (!was) continue;
    const planned = [...legs.values()].flatMap((items): PlannedClip[] => {
      const [plan, clip] = [together(items), clips.get(items[0]?.clipId ?? '')];
      return plan && clip ? [{ clip, plan: ok(plan) }] : [];
    });
    const againRun = await startRun(
      db,
      boss,
      { ...was, production: row.productionId, name: `${was.name}, made again` },
      planned,
    );
    const these = [...legs.values()].flat();
    files += these.length;
    await db.manager.update(removalItem, { removalId: id, place: In(these.map(({ place }) => place)) }, { againRun });
  }
  if (files === 0)
    throw new Refused(409, {
      what: 'None of it can be made again',
      remedy: 'Older versions are not; of others, their clips must still be known',
    });
  return { runs: byRun.size, files, production: row.productionId };
}
