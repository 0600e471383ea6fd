import { mkdir } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { isRefusal, type ClipDescription, type ReadEntry } from '@relay/core/clip/description';
import { joinChapters } from '@relay/core/clip/chapters';
import { rollOf, rollOfFolder, stemOf } from '@relay/core/clip/roll';
import type { Problem } from '@relay/core/result';
import { makePoster } from '@relay/media/poster';
import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import { readFiles } from '@relay/work/read/readFiles';
import { posterPath } from '../clips/cache.ts';
import { refreshClips } from '../clips/refresh.ts';
import { Sidecars } from '@relay/work/read/sidecars';
import { tell } from '../live/notify.ts';
import { queueLooks, readingQueue } from '../queue/boss.ts';
import { holding } from '@relay/work/disk/held';
import { fileFacts } from '@relay/work/disk/place';
import { untilQuiet } from '@relay/work/disk/quiet';
import { isThere } from '@relay/work/disk/store';
import type { Stores } from '../stores/stores.ts';
import { filesBelow, type FoundFile } from '@relay/work/disk/walk';

interface ReadingWork {
  id: string;
  productionId: string;
  storeId: string;
  folder: string;
  rollId: string | null;
  rollName: string | null;
}

/** Seconds until a folder in which files were still arriving is read again. */
const againAfter = 20;

/**
 * Reads a folder of a store into a production: describes what is new or changed, joins chapters, takes sidecars' words,
 * works out findings, and has every new clip looked at closely. Files that are still being written are left for a
 * later reading, and so is what belongs to a roll that is not verified yet.
 */
// eslint-disable-next-line max-lines-per-function -- a reading from its claim to its end, each step told to the page
export async function carryOutReading(
  db: DataSource,
  boss: PgBoss,
  stores: Stores,
  cacheFolder: string,
  readingId: string,
): Promise<void> {
  const [rows] = await db.query<[ReadingWork[], number]>(
    `UPDATE reading
     SET state = 'running', beat_at = now()
     WHERE id = $1 AND (state = 'waiting' OR (state = 'running' AND beat_at < now() - interval '20 seconds'))
     RETURNING id, production_id AS "productionId", store_id AS "storeId", folder, roll_id AS "rollId",
       (SELECT name FROM roll WHERE roll.id = reading.roll_id) AS "rollName"`,
    [readingId],
  );
  const work = rows[0];
  if (!work) return;
  let [total, says] = [0, null as string | null];
  const tellState = async (
    done: number,
    state: 'running' | 'done' | 'failed',
    problem: Problem | null = null,
  ): Promise<void> => {
    await db.query(
      'UPDATE reading SET total = $2, done = $3, state = $4, problem = $5, says = $6, beat_at = now() WHERE id = $1',
      [work.id, total, done, state, problem ? JSON.stringify(problem) : null, says],
    );
    await tell(db, { kind: 'reading', production: work.productionId, reading: work.id, done, total, state });
  };
  try {
    const store = await stores.get(work.storeId);
    if (!store) throw new Error(`there is no store ${work.storeId} any more`);
    if (!(await isThere(store))) throw new Error(`${store.name} is not there`);
    const root = { root: store.path, folder: work.folder };
    const { files: all, unseen } = await filesBelow(root);
    const { files, waiting } = await withoutUnverified(db, work, all);
    const changedAt = await notYetRead(db, work, files);
    const fresh = files.filter(({ shownPath }) => changedAt.has(shownPath));
    total = fresh.length;
    await tellState(0, 'running');
    let beats: Promise<void> = Promise.resolve();
    const { quiet, arriving } = await untilQuiet(fresh, () => {
      beats = beats.then(() => tellState(0, 'running')).catch(() => undefined);
    });
    await beats;
    let kept: Promise<void> = Promise.resolve();
    await readFiles(quiet, (done, entry) => {
      kept = kept.then(async () => {
        await keepEntry(db, work, entry, changedAt.get(entry.path) ?? null);
        if (!isRefusal(entry)) await keepPoster(db, cacheFolder, work, entry, files);
        await tellState(done, 'running');
      });
    });
    await kept;
    for (const entry of unseen) {
      await keepEntry(db, work, {
        path: entry.shownPath,
        sizeBytes: 0,
        problem: {
          kind: 'unreadable',
          what: `${entry.shownPath}: ${entry.why}`,
          remedy: 'Give Brisk Relay the right to read it, or leave it aside',
        },
      });
    }
    const sidecars = new Sidecars(files);
    if (quiet.length > 0) await joinFiles(db, work, sidecars);
    await keepSidecars(db, work, sidecars, quiet);
    await refreshClips(db, work.productionId);
    await queueLooks(boss, await notLooked(db, work));
    says =
      [
        arriving.length > 0
          ? `${arriving.length} ${arriving.length === 1 ? 'file is' : 'files are'} still being written and will be read when quiet`
          : null,
        waiting.length > 0
          ? `${waiting.join(', ')} ${waiting.length === 1 ? 'is' : 'are'} not verified yet and will be read then`
          : null,
      ]
        .filter((part) => part !== null)
        .join('; ') || null;
    await tellState(total, 'done');
    if (arriving.length > 0) await readAgainLater(db, boss, work);
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    await tellState(0, 'failed', {
      what: `${work.folder || 'The store'} could not be read: ${code === 'ENOENT' ? 'it is not there' : message}`,
      remedy: 'See that the store is mounted, then read it again',
    });
  }
  await tell(db, { kind: 'changed', what: 'clips', production: work.productionId });
}

/** The same reading again, a little later. */
async function readAgainLater(db: DataSource, boss: PgBoss, work: ReadingWork): Promise<void> {
  await boss.send(readingQueue, { reading: work.id }, { startAfter: againAfter });
  await db.query(`UPDATE reading SET state = 'waiting' WHERE id = $1`, [work.id]);
}

/** Leaves out what lies in copies of rolls: it is read from the first copy, once that is proved, and never twice. */
async function withoutUnverified(
  db: DataSource,
  work: ReadingWork,
  files: readonly FoundFile[],
): Promise<{ files: FoundFile[]; waiting: string[] }> {
  const copies = await db.query<{ folder: string; name: string; open: boolean }[]>(
    `SELECT roll_copy.folder, roll.name, roll.state <> 'proved' AS open
     FROM roll_copy
     JOIN roll ON roll.id = roll_copy.roll_id
     WHERE roll_copy.store_id = $1
       AND (roll.state <> 'proved' OR (roll.production_id = $2 AND roll.id IS DISTINCT FROM $3))`,
    [work.storeId, work.productionId, work.rollId],
  );
  const waiting = new Set<string>();
  const rest = files.filter((file) => {
    const path = work.folder === '' ? file.shownPath : `${work.folder}/${file.shownPath}`;
    const copy = copies.find((one) => path.startsWith(`${one.folder}/`));
    if (copy?.open) waiting.add(copy.name);
    return !copy;
  });
  return { files: rest, waiting: [...waiting] };
}

/** Files that are new or were changed since they were read, by their paths below the folder: when each was changed. */
async function notYetRead(
  db: DataSource,
  work: ReadingWork,
  files: readonly FoundFile[],
): Promise<Map<string, string | null>> {
  const known = await db.query<{ path: string; sizeBytes: string; modifiedAt: Date | null }[]>(
    `SELECT path, coalesce((own->>'sizeBytes')::bigint, size_bytes) AS "sizeBytes",
       coalesce((own->>'modifiedAt')::timestamptz, modified_at) AS "modifiedAt"
     FROM clip
     WHERE production_id = $1 AND store_id = $2 AND root = $3`,
    [work.productionId, work.storeId, work.folder],
  );
  const byPath = new Map(known.map((row) => [row.path, row]));
  const fresh = new Map<string, string | null>();
  for (const file of files) {
    const row = byPath.get(file.shownPath);
    const facts = await fileFacts(file.path);
    if (
      !row ||
      !facts ||
      Number(row.sizeBytes) !== facts.sizeBytes ||
      row.modifiedAt?.toISOString() !== facts.modifiedAt
    )
      fresh.set(file.shownPath, facts?.modifiedAt ?? null);
  }
  return fresh;
}

async function keepEntry(
  db: DataSource,
  work: ReadingWork,
  entry: ReadEntry,
  changedAt: string | null = null,
): Promise<void> {
  const refused = isRefusal(entry);
  // What could not be read may be the next time; what is no clip is none until it changes.
  const unreadable = refused && entry.problem.kind === 'unreadable';
  await db.query(
    `INSERT INTO clip (
       production_id, store_id, root, path, stem, roll, roll_id, description, refusal, size_bytes, modified_at
     )
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)
     ON CONFLICT (production_id, store_id, root, path) DO UPDATE SET
       description = excluded.description, refusal = excluded.refusal, size_bytes = excluded.size_bytes,
       modified_at = excluded.modified_at, poster = false, roll_id = coalesce(excluded.roll_id, clip.roll_id),
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
    ],
  );
}

/** Joins the chapters among a folder's clips; later chapters stay known as parts of the first. */
async function joinFiles(db: DataSource, work: ReadingWork, sidecars: Sidecars): Promise<void> {
  const rows = await db.query<{ id: string; path: string; own: ClipDescription; was: boolean }[]>(
    `SELECT id, path, coalesce(own, description) AS own, own IS NOT NULL AS was
     FROM clip
     WHERE production_id = $1 AND store_id = $2 AND root = $3 AND coalesce(own, description) IS NOT NULL
     ORDER BY path`,
    [work.productionId, work.storeId, work.folder],
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

/** What lies beside each clip, and what it says. Where nothing new lies in the folder, nothing is read again. */
async function keepSidecars(
  db: DataSource,
  work: ReadingWork,
  sidecars: Sidecars,
  fresh: readonly FoundFile[],
): Promise<void> {
  if (fresh.length === 0) return;
  const rows = await db.query<{ id: string; path: string }[]>(
    'SELECT id, path FROM clip WHERE production_id = $1 AND store_id = $2 AND root = $3 AND description IS NOT NULL',
    [work.productionId, work.storeId, work.folder],
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
  work: ReadingWork,
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

async function notLooked(db: DataSource, work: ReadingWork): Promise<string[]> {
  const rows = await db.query<{ id: string }[]>(
    `SELECT id
     FROM clip
     WHERE production_id = $1 AND store_id = $2 AND root = $3 AND description IS NOT NULL AND looked_at IS NULL
     ORDER BY path`,
    [work.productionId, work.storeId, work.folder],
  );
  return rows.map((row) => row.id);
}

/** Readings that nobody works on any more, to be queued again. */
export async function orphanedReadings(db: DataSource): Promise<string[]> {
  const rows = await db.query<{ id: string }[]>(
    `SELECT id
     FROM reading
     WHERE (state = 'running' AND beat_at < now() - interval '20 seconds') OR (
       state = 'waiting' AND created_at < now() - interval '10 seconds' AND NOT EXISTS (
         SELECT 1
         FROM pgboss.job
         WHERE job.name = 'reading' AND job.state IN ('created', 'retry') AND job.data->>'reading' = reading.id::text
       )
     )`,
  );
  return rows.map((row) => row.id);
}
