import type { DataSource } from 'typeorm';

/** Of each of some clips the clips that it takes the place of. */
export type EarlierVersions = ReadonlyMap<string, ReadonlySet<string>>;

/**
 * Clips of the same names that an inlet has moved to folders for what was dealt with: who drops another file of a name
 * means a new version of it, wherever the older one lies by then. Other folders of such names are somebody's own.
 */
export async function earlierVersions(
  db: DataSource,
  inlet: string,
  clips: readonly string[],
): Promise<EarlierVersions> {
  const rows = await db.query<{ clip: string; earlier: string[] }[]>(
    `SELECT clip.id AS clip, array_agg(DISTINCT older.id) AS earlier
     FROM clip
     JOIN clip older ON older.production_id = clip.production_id AND older.store_id = clip.store_id
       AND older.path = clip.path AND older.id <> clip.id
     JOIN inlet_thing t ON t.inlet_id = $1 AND older.id = ANY(t.clips) AND t.lies <> ''
       AND older.root = concat_ws('/', nullif(clip.root, ''), t.lies)
     WHERE clip.id = ANY($2)
     GROUP BY clip.id`,
    [inlet, clips],
  );
  return new Map(rows.map(({ clip, earlier }) => [clip, new Set(earlier)]));
}
