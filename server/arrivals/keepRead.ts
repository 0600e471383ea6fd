import { mkdir } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { isRefusal, type ClipDescription, type ReadEntry } from '@relay/core/clip/description';
import { joinChapters } from '@relay/core/clip/chapters';
import { rollOf, rollOfFolder, stemOf } from '@relay/core/clip/roll';
import { makePoster } from '@relay/media/poster';
import { hashSamples } from '@relay/work/disk/hash';
import { holding } from '@relay/work/disk/held';
import type { FoundFile } from '@relay/work/disk/walk';
import { readFiles } from '@relay/work/read/readFiles';
import type { Sidecars } from '@relay/work/read/sidecars';
import type { DataSource } from 'typeorm';
import { posterPath } from '../clips/cache.ts';

/** What was read of files, kept as a production's clips. */

/** Where what is read goes: a folder of a store, into a production. */
export interface ReadingInto {
  productionId: string;
  storeId: string;
  folder: string;
  rollId: string | null;
  rollName: string | null;
}

/** A condition on `clip`: it lies directly in one of some folders; all do where they are null. */
function inFolders(parameter: string): string {
  return `(${parameter}::text[] IS NULL OR regexp_replace(path, '/?[^/]*$', '') = ANY(${parameter}))`;
}

/** Files to be read: those that are quiet, among all that lie there, and when each was changed. */
export interface FilesToKeep {
  quiet: readonly FoundFile[];
  files: readonly FoundFile[];
  changedAt: ReadonlyMap<string, string | null>;
}

/** Describes files and keeps what was read of each, with a poster of its clip. */
export async function keepFiles(
  db: DataSource,
  cacheFolder: string,
  work: ReadingInto,
  { quiet, files, changedAt }: FilesToKeep,
  onDone: (done: number) => Promise<void> = async () => undefined,
): Promise<void> {
  let kept: Promise<void> = Promise.resolve();
  const byPath = new Map(quiet.map((file) => [file.shownPath, file]));
  await readFiles(quiet, (done, entry) => {
    kept = kept.then(async () => {
      await keepEntry(db, work, entry, {
        changedAt: changedAt.get(entry.path) ?? null,
        sampled: await samplesOf(byPath.get(entry.path)),
      });
      if (!isRefusal(entry)) await keepPoster(db, cacheFolder, work, entry, files);
      await onDone(done);
    });
  });
  await kept;
}

/** XXH3 of samples of a file; null where it cannot be read. */
async function samplesOf(file: FoundFile | undefined): Promise<string | null> {
  if (!file) return null;
  return holding(async (held) => hashSamples(await held.file(file.root, file.shownPath))).catch(() => null);
}

/** Keeps what was read of one file. */
export async function keepEntry(
  db: DataSource,
  work: ReadingInto,
  entry: ReadEntry,
  { changedAt, sampled }: { changedAt: string | null; sampled: string | null } = { changedAt: null, sampled: null },
): Promise<void> {
  const refused = isRefusal(entry);
  // What could not be read may be the next time; what is no clip is none until it changes.
  const unreadable = refused && entry.problem.kind === 'unreadable';
  await db.query(
    `INSERT INTO clip (
       production_id, store_id, root, path, stem, roll, roll_id, description, refusal, size_bytes, modified_at,
       sampled
     )
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)
     ON CONFLICT (production_id, store_id, root, path) DO UPDATE SET
       description = excluded.description, refusal = excluded.refusal, size_bytes = excluded.size_bytes,
       modified_at = excluded.modified_at, sampled = excluded.sampled, poster = false, roll_id = coalesce(excluded.roll_id, clip.roll_id),
       own = NULL, measured = NULL, looked_at = NULL, findings = '[]'`,
    [
      work.productionId,
      work.storeId,
      work.folder,
      entry.path,
      stemOf(entry.path),
      work.rollName ?? rollOf(entry.path, rollOfFolder(work.folder, work.storeId)),
      work.rollId,
      refused ? null : JSON.stringify(entry),
      refused ? JSON.stringify(entry) : null,
      entry.sizeBytes,
      refused ? (unreadable ? null : changedAt) : entry.modifiedAt,
      sampled,
    ],
  );
}

/** Joins the chapters among a folder's clips; later chapters stay known as parts of the first. */
export async function joinFiles(
  db: DataSource,
  work: ReadingInto,
  sidecars: Sidecars,
  folders: readonly string[] | null = null,
): Promise<void> {
  const rows = await db.query<{ id: string; path: string; own: ClipDescription; was: boolean }[]>(
    `SELECT id, path, coalesce(own, description) AS own, own IS NOT NULL AS was
     FROM clip
     WHERE production_id = $1 AND store_id = $2 AND root = $3 AND coalesce(own, description) IS NOT NULL
       AND ${inFolders('$4')}
     ORDER BY path`,
    [work.productionId, work.storeId, work.folder, folders],
  );
  const clips = joinChapters(
    rows.map((row) => row.own),
    await sidecars.spans(),
  );
  const kept = new Map(clips.map((clip) => [clip.path, clip]));
  const partOf = new Map(
    clips.flatMap((clip) => clip.chapters.slice(1).map((chapter) => [chapter.path, clip.path] as const)),
  );
  for (const row of rows) {
    const [clip, first] = [kept.get(row.path), partOf.get(row.path)];
    if (first !== undefined) {
      const refusal = {
        path: row.path,
        sizeBytes: row.own.sizeBytes,
        problem: { kind: 'chapter', what: `${row.path} is a part of ${first}`, remedy: 'Nothing needs to be done' },
      };
      await db.query('UPDATE clip SET description = NULL, refusal = $2, own = $3 WHERE id = $1', [
        row.id,
        JSON.stringify(refusal),
        JSON.stringify(row.own),
      ]);
    } else if (clip && (clip.chapters.length > 0 || row.was)) {
      await db.query(
        `UPDATE clip
         SET description = $2, refusal = NULL, own = $3, size_bytes = $4,
           looked_at = CASE WHEN description = $2 THEN looked_at END
         WHERE id = $1`,
        [row.id, JSON.stringify(clip), clip.chapters.length > 0 ? JSON.stringify(row.own) : null, clip.sizeBytes],
      );
    }
  }
}

/** Keeps what lies beside clips, of some by their paths or all, and what it says. */
export async function keepSidecars(
  db: DataSource,
  work: ReadingInto,
  sidecars: Sidecars,
  only: readonly string[] | null = null,
): Promise<void> {
  const rows = await db.query<{ id: string; path: string }[]>(
    `SELECT id, path
     FROM clip
     WHERE production_id = $1 AND store_id = $2 AND root = $3 AND description IS NOT NULL
       AND ($4::text[] IS NULL OR path = ANY($4))`,
    [work.productionId, work.storeId, work.folder, only],
  );
  for (const row of rows) {
    const { paths, identity } = await sidecars.of(row.path);
    await db.query('UPDATE clip SET sidecars = $2, sidecar_said = $3 WHERE id = $1', [
      row.id,
      JSON.stringify(paths),
      JSON.stringify(identity),
    ]);
  }
}

async function keepPoster(
  db: DataSource,
  cacheFolder: string,
  work: ReadingInto,
  entry: ClipDescription,
  files: readonly FoundFile[],
): Promise<void> {
  const file = files.find((candidate) => candidate.shownPath === entry.path);
  const rows = await db.query<{ id: string }[]>(
    'SELECT id FROM clip WHERE production_id = $1 AND store_id = $2 AND root = $3 AND path = $4',
    [work.productionId, work.storeId, work.folder, entry.path],
  );
  const id = rows[0]?.id;
  if (!file || !id || !entry.video) return;
  await mkdir(under(cacheFolder, 'posters'), { recursive: true });
  if (
    await holding(async (held) =>
      makePoster(entry, await held.file(file.root, file.shownPath), posterPath(cacheFolder, id)),
    ).catch(() => false)
  )
    await db.query('UPDATE clip SET poster = true WHERE id = $1', [id]);
}

/** Clips that nobody looked at closely yet. */
export async function notLooked(db: DataSource, work: ReadingInto): Promise<string[]> {
  const rows = await db.query<{ id: string }[]>(
    `SELECT id
     FROM clip
     WHERE production_id = $1 AND store_id = $2 AND root = $3 AND description IS NOT NULL AND looked_at IS NULL
     ORDER BY path`,
    [work.productionId, work.storeId, work.folder],
  );
  return rows.map((row) => row.id);
}
