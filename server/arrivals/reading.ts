import type { Problem } from '@relay/core/result';
import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import { refreshClips } from '../clips/refresh.ts';
import { Sidecars } from '@relay/work/read/sidecars';
import { tell } from '../live/notify.ts';
import { queueLooks, readingQueue } from '../queue/boss.ts';
import { fileFacts } from '@relay/work/disk/place';
import { untilQuiet } from '@relay/work/disk/quiet';
import { isThere } from '@relay/work/disk/store';
import { joinFiles, keepEntry, keepFiles, keepSidecars, notLooked, type ReadingInto } from './keepRead.ts';
import type { Stores } from '../stores/stores.ts';
import { filesBelow, type FoundFile } from '@relay/work/disk/walk';

interface ReadingWork extends ReadingInto {
  id: string;
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
    await keepFiles(db, cacheFolder, work, { quiet, files, changedAt }, (done) => tellState(done, 'running'));
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
    if (quiet.length > 0) {
      await joinFiles(db, work, sidecars);
      await keepSidecars(db, work, sidecars);
    }
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
