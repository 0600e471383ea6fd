import type { HandoffLine } from '@relay/contract/checks';
import { under } from '@relay/core/naming/under';
import type { OutputPlace } from '@relay/core/recipe/recipe';
import type { RelinkRow } from '@relay/core/relink/sheet';
import type { DataSource } from 'typeorm';
import { checkSheetOf } from '../checks/checkSheet.ts';
import { run } from '../db/entities/runs.ts';
import { notThere } from '../http.ts';
import { relinkRows } from '../runs/sheetKeeper.ts';
import type { Stores } from '../stores/stores.ts';

interface Handed extends Omit<HandoffLine, 'places' | 'sheet'> {
  places: OutputPlace[];
  /** It is to be looked at first. */
  checked: boolean;
}

/** Runs of a production that made something, with where it lies and its relink sheets, the newest first. */
export async function handoffLines(db: DataSource, stores: Stores, production: string): Promise<HandoffLine[]> {
  const rows = await db.query<Handed[]>(
    `SELECT run.id AS "runId", run.name, coalesce((run.check_rule->>'handoff')::boolean, false) AS checked,
       jsonb_agg(DISTINCT jsonb_build_object('store', o.store_id, 'folder', o.folder)) AS places, count(o.id)::int AS outputs, sum(o.size_bytes)::float AS bytes
     FROM run
     JOIN leg ON leg.run_id = run.id
     JOIN output o ON o.leg_id = leg.id AND o.state IN ('proved', 'needs eyes')
     WHERE run.production_id = $1
     GROUP BY run.id
     ORDER BY run.created_at DESC`,
    [production],
  );
  const paths = new Map((await stores.list()).map(({ id, path }) => [id, path]));
  return Promise.all(
    rows.map(async ({ places, checked, ...row }) => ({
      ...row,
      places: places.map(({ store, folder }) => under(paths.get(store) ?? store, folder)).sort(),
      sheet: checked ? (await checkSheetOf(db, row.runId)).state : null,
    })),
  );
}

/** A run's relink sheet: of one place, or of all that its outputs lie in, each line with its own. */
export async function sheetOfRun(db: DataSource, stores: Stores, id: string): Promise<RelinkRow[]> {
  const places = await db.query<OutputPlace[]>(
    `SELECT DISTINCT o.store_id AS store, o.folder
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     WHERE leg.run_id = $1
     ORDER BY 1, 2`,
    [id],
  );
  if (places.length === 0 && !(await db.manager.existsBy(run, { id }))) throw notThere('The run');
  const paths = new Map((await stores.list()).map((store) => [store.id, store.path]));
  const sheets = await Promise.all(
    places.map(async (place) => {
      const rows = await relinkRows(db, place);
      const folder = under(paths.get(place.store) ?? place.store, place.folder);
      return places.length === 1 ? rows : rows.map((row) => ({ ...row, place: folder }));
    }),
  );
  return sheets.flat();
}
