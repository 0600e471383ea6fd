import type { HandoffLine } from '@relay/contract/checks';
import { under } from '@relay/core/naming/under';
import { sheetNames } from '@relay/work/leg/sheet';
import type { DataSource } from 'typeorm';
import { run } from '../db/entities/runs.ts';
import type { Stores } from '../stores/stores.ts';

interface Handed extends Omit<HandoffLine, 'place' | 'csv' | 'json'> {
  store: string;
  folder: string;
}

/** Runs of a production that made something, with where it lies and its relink sheets, the newest first. */
export async function handoffLines(db: DataSource, stores: Stores, production: string): Promise<HandoffLine[]> {
  const rows = await db.query<Handed[]>(
    `SELECT run.id AS "runId", run.name, run.store_id AS store, run.folder,
       count(o.id)::int AS outputs, sum(o.size_bytes)::float AS bytes
     FROM run
     JOIN leg ON leg.run_id = run.id
     JOIN output o ON o.leg_id = leg.id AND o.state IN ('proved', 'needs eyes')
     WHERE run.production_id = $1
     GROUP BY run.id
     ORDER BY run.created_at DESC`,
    [production],
  );
  const paths = new Map((await stores.list()).map(({ id, path }) => [id, path]));
  return rows.map(({ store, folder, ...row }) => {
    const place = under(paths.get(store) ?? store, folder);
    return { ...row, place, csv: under(place, sheetNames.csv), json: under(place, sheetNames.json) };
  });
}

/** Where a run's outputs lie; null when there is no such run. */
export async function placeOfRun(db: DataSource, id: string): Promise<{ store: string; folder: string } | null> {
  const row = await db.manager.findOneBy(run, { id });
  return row && { store: row.storeId, folder: row.folder };
}
