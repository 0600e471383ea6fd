import type { OutputPlace } from '@relay/core/recipe/recipe';
import type { RelinkRow } from '@relay/core/relink/sheet';
import type { RecordedOutput } from '@relay/work/leg/outcome';
import type { DataSource } from 'typeorm';

/** Outputs as they were written down, and where they lie or were to lie. */

/** Writes down an output before it gets its name, so that a crash in between can be told afterwards. */
export async function recordOutput(
  db: DataSource,
  legId: string,
  row: RelinkRow,
  { deliverable, place }: { deliverable: string; place: OutputPlace },
): Promise<void> {
  await db.query(
    `INSERT INTO output (leg_id, deliverable, role, path, state, size_bytes, xxh3, relink, store_id, folder)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)
     ON CONFLICT (leg_id, path) DO UPDATE SET
       state = excluded.state, size_bytes = excluded.size_bytes, xxh3 = excluded.xxh3, relink = excluded.relink`,
    [
      legId,
      deliverable,
      row.role,
      row.output,
      row.state,
      row.outputBytes,
      row.outputXxh3,
      JSON.stringify(row),
      place.store,
      place.folder,
    ],
  );
}

/** What any run wrote down last of an output at this place. */
export async function recordedOutput(
  db: DataSource,
  { store, folder }: OutputPlace,
  path: string,
): Promise<RecordedOutput | null> {
  const rows = await db.query<RecordedOutput[]>(
    `SELECT output.xxh3, output.state, output.relink->>'planMark' AS "planMark"
     FROM output
     WHERE store_id = $1 AND folder = $2 AND path = $3 AND xxh3 IS NOT NULL
     ORDER BY created_at DESC
     LIMIT 1`,
    [store, folder, path],
  );
  return rows[0] ?? null;
}

/** The marks of the plans that outputs at some paths of a place were last made to. */
export async function recordedMarks(
  db: DataSource,
  { store, folder }: OutputPlace,
  paths: readonly string[],
): Promise<Map<string, string>> {
  const rows = await db.query<{ path: string; mark: string | null }[]>(
    `SELECT DISTINCT ON (output.path) output.path, output.relink->>'planMark' AS mark
     FROM output
     WHERE store_id = $1 AND folder = $2 AND path = ANY($3) AND xxh3 IS NOT NULL
     ORDER BY path, created_at DESC`,
    [store, folder, paths],
  );
  return new Map(rows.flatMap(({ path, mark }) => (mark ? [[path, mark]] : [])));
}

/** Where the outputs of legs were to go. */
export async function placesOf(
  db: DataSource,
  legs: readonly string[],
): Promise<{ id: string; store: string; folder: string; paths: string[] }[]> {
  if (legs.length === 0) return [];
  return await db.query<{ id: string; store: string; folder: string; paths: string[] }[]>(
    `SELECT leg.id, coalesce(o.value->'place'->>'store', run.store_id) AS store,
       coalesce(o.value->'place'->>'folder', run.folder) AS folder, jsonb_agg(o.value->>'path') AS paths
     FROM leg
     JOIN run ON run.id = leg.run_id
     CROSS JOIN LATERAL json_array_elements(leg.plan->'outputs') o
     WHERE leg.id = ANY($1) AND leg.plan IS NOT NULL
     GROUP BY 1, 2, 3`,
    [legs],
  );
}
