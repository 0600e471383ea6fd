import { under } from '@relay/core/naming/under';
import type { DataSource } from 'typeorm';

/** Who is not done with what was made, by where it lies: `store`, NUL, path below it. */
export type Needs = ReadonlyMap<string, readonly string[]>;

export function needKey(store: string, path: string): string {
  return `${store}\0${path}`;
}

interface Need {
  store: string;
  folder: string;
  path: string;
  why: string;
}

/**
 * Hand-offs that are not over, legs that are to be made or proved at the same place, measurements, and joined copies that
 * are still to be made of it, in whichever production.
 */
export async function needsNow(db: DataSource): Promise<Needs> {
  const needs = await db.query<Need[]>(
    `SELECT item.store_id AS store, '' AS folder, item.source AS path, handoff.name || ' is not handed off yet' AS why
     FROM handoff_item item
     JOIN handoff ON handoff.id = item.handoff_id
     WHERE handoff.state <> 'proved' AND NOT item.came
     UNION ALL
     SELECT coalesce(planned.value->'place'->>'store', run.store_id),
       coalesce(planned.value->'place'->>'folder', run.folder), planned.value->>'path',
       run.name || ' has a leg of it to make'
     FROM leg
     JOIN run ON run.id = leg.run_id
     CROSS JOIN LATERAL json_array_elements(leg.plan->'outputs') planned
     WHERE leg.state IN ('waiting', 'held', 'running', 'proving') AND leg.plan IS NOT NULL
     UNION ALL
     SELECT o.store_id, o.folder, o.path, 'it is being measured'
     FROM measuring
     JOIN output o ON o.id = measuring.output_id
     WHERE measuring.state IN ('waiting', 'running')
     UNION ALL
     SELECT o.store_id, o.folder, o.path, reel.path || ' is to be joined from it'
     FROM reel
     JOIN leg ON leg.run_id = reel.run_id
     JOIN output o ON o.leg_id = leg.id AND o.deliverable = reel.deliverable
     WHERE reel.state IN ('waiting', 'running')`,
  );
  const byPlace = new Map<string, string[]>();
  for (const { store, folder, path, why } of needs) {
    const key = needKey(store, under(folder, path));
    byPlace.set(key, [...(byPlace.get(key) ?? []), why]);
  }
  return byPlace;
}
