import { mkdir } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { isRefusal } from '@relay/core/clip/description';
import { rollOf, stemOf } from '@relay/core/clip/roll';
import type { Problem } from '@relay/core/result';
import { makePoster } from '@relay/media/poster';
import type { DataSource } from 'typeorm';
import { readFiles } from '../clips/readFiles.ts';
import { posterPath } from '../clips/posters.ts';
import { tell } from '../live/notify.ts';
import { fileFacts, placeInside } from '../stores/place.ts';
import type { Stores } from '../stores/stores.ts';
import { filesBelow, type FoundFile } from '../stores/walk.ts';

interface ReadingWork {
  id: string;
  productionId: string;
  storeId: string;
  folder: string;
}

/** Reads a folder of a store into a production. Files that have not changed since they were read are passed over. */
export async function carryOutReading(db: DataSource, stores: Stores, cacheFolder: string, readingId: string): Promise<void> {
  const [rows] = (await db.query(
    `UPDATE reading SET state = 'running', beat_at = now() WHERE id = $1 AND (state = 'waiting' OR (state = 'running' AND beat_at < now() - interval '20 seconds'))
     RETURNING id, production_id AS "productionId", store_id AS "storeId", folder`,
    [readingId],
  )) as [ReadingWork[], number];
  const work = rows[0];
  if (!work) return;
  let total = 0;
  const say = async (done: number, state: 'running' | 'done' | 'failed', problem: Problem | null = null): Promise<void> => {
    await db.query('UPDATE reading SET total = $2, done = $3, state = $4, problem = $5, beat_at = now() WHERE id = $1', [work.id, total, done, state, problem ? JSON.stringify(problem) : null]);
    await tell(db, { kind: 'reading', production: work.productionId, reading: work.id, done, total, state });
  };
  try {
    const store = await stores.get(work.storeId);
    if (!store) throw new Error(`there is no store ${work.storeId} any more`);
    const root = await placeInside(store.path, work.folder);
    const { files, unseen } = await filesBelow(root);
    const fresh = await notYetRead(db, work, files);
    total = fresh.length;
    await say(0, 'running');
    let kept: Promise<void> = Promise.resolve();
    await readFiles(fresh, (done, entry) => {
      kept = kept.then(async () => {
        await keepEntry(db, work, entry);
        if (!isRefusal(entry)) await keepPoster(db, cacheFolder, work, entry, files);
        await say(done, 'running');
      });
    });
    await kept;
    for (const entry of unseen) {
      await keepEntry(db, work, { path: entry.shownPath, sizeBytes: 0, problem: { kind: 'unreadable', what: `${entry.shownPath}: ${entry.why}`, remedy: 'Give Brisk Relay the right to read it, or leave it aside' } });
    }
    await say(total, 'done');
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    await say(0, 'failed', { what: `${work.folder || 'The store'} could not be read: ${code === 'ENOENT' ? 'it is not there' : message}`, remedy: 'See that the store is mounted, then read it again' });
  }
  await tell(db, { kind: 'changed', what: 'clips', production: work.productionId });
}

async function notYetRead(db: DataSource, work: ReadingWork, files: readonly FoundFile[]): Promise<FoundFile[]> {
  const known = (await db.query('SELECT path, size_bytes AS "sizeBytes", modified_at AS "modifiedAt" FROM clip WHERE production_id = $1 AND store_id = $2 AND root = $3', [
    work.productionId, work.storeId, work.folder,
  ])) as { path: string; sizeBytes: string; modifiedAt: Date | null }[];
  const byPath = new Map(known.map((row) => [row.path, row]));
  const fresh: FoundFile[] = [];
  for (const file of files) {
    const row = byPath.get(file.shownPath);
    const facts = await fileFacts(file.path);
    if (!row || !facts || Number(row.sizeBytes) !== facts.sizeBytes || row.modifiedAt?.toISOString() !== facts.modifiedAt) fresh.push(file);
  }
  return fresh;
}

async function keepEntry(db: DataSource, work: ReadingWork, entry: Parameters<typeof isRefusal>[0]): Promise<void> {
  const refused = isRefusal(entry);
  await db.query(
    `INSERT INTO clip (production_id, store_id, root, path, stem, roll, description, refusal, size_bytes, modified_at)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)
     ON CONFLICT (production_id, store_id, root, path) DO UPDATE SET
       description = excluded.description, refusal = excluded.refusal, size_bytes = excluded.size_bytes, modified_at = excluded.modified_at, poster = false`,
    [work.productionId, work.storeId, work.folder, entry.path, stemOf(entry.path), rollOf(entry.path, basename(work.folder) || work.storeId),
      refused ? null : JSON.stringify(entry), refused ? JSON.stringify(entry) : null, entry.sizeBytes, refused ? null : entry.modifiedAt],
  );
}

async function keepPoster(db: DataSource, cacheFolder: string, work: ReadingWork, entry: Exclude<Parameters<typeof isRefusal>[0], { problem: unknown }>, files: readonly FoundFile[]): Promise<void> {
  const file = files.find((candidate) => candidate.shownPath === entry.path);
  const rows = (await db.query('SELECT id FROM clip WHERE production_id = $1 AND store_id = $2 AND root = $3 AND path = $4', [work.productionId, work.storeId, work.folder, entry.path])) as { id: string }[];
  const id = rows[0]?.id;
  if (!file || !id || !entry.video) return;
  await mkdir(join(cacheFolder, 'posters'), { recursive: true });
  if (await makePoster(entry, file.path, posterPath(cacheFolder, id))) await db.query('UPDATE clip SET poster = true WHERE id = $1', [id]);
}

/** Readings that nobody works on any more, to be queued again. */
export async function orphanedReadings(db: DataSource): Promise<string[]> {
  const rows = (await db.query(
    `SELECT id FROM reading WHERE (state = 'running' AND beat_at < now() - interval '20 seconds')
       OR (state = 'waiting' AND created_at < now() - interval '10 seconds'
         AND NOT EXISTS (SELECT 1 FROM pgboss.job WHERE job.name = 'reading' AND job.state IN ('created', 'retry') AND job.data->>'reading' = reading.id::text))`,
  )) as { id: string }[];
  return rows.map((row) => row.id);
}
