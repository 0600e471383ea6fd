import type { LeftAsideLine, ReadingAnswer } from '@relay/contract/arrivals';
import { lookInto, type Store } from '@relay/work/disk/store';
import type { DataSource } from 'typeorm';
import type { Context } from '../context.ts';
import { Refused } from '../http.ts';
import { readingQueue } from '../queue/boss.ts';

/** Folders that are read into a production, and what was left aside in them. */

const readingColumns = `id, store_id AS store, folder, state, total, done, problem, says, created_at AS "createdAt"`;

export async function readings(db: DataSource, production: string): Promise<ReadingAnswer[]> {
  return db.query<ReadingAnswer[]>(
    `SELECT ${readingColumns}
     FROM reading
     WHERE production_id = $1 AND roll_id IS NULL
     ORDER BY created_at DESC
     LIMIT 50`,
    [production],
  );
}

/** Has a folder read by a worker. */
export async function beginReading(
  { db, boss }: Context,
  production: string,
  store: Store,
  folder: string,
): Promise<ReadingAnswer> {
  await lookInto(store, folder).catch(() => {
    throw new Refused(404, {
      what: `${folder || store.name} cannot be opened`,
      remedy: 'See that the store is mounted and choose a folder in it',
    });
  });
  const [row] = await db.query<ReadingAnswer[]>(
    `INSERT INTO reading (production_id, store_id, folder) VALUES ($1, $2, $3) RETURNING ${readingColumns}`,
    [production, store.id, folder],
  );
  await boss.send(readingQueue, { reading: row?.id });
  return row as ReadingAnswer;
}

export async function leftAside(db: DataSource, production: string): Promise<LeftAsideLine[]> {
  return db.query<LeftAsideLine[]>(
    `SELECT id, refusal
     FROM clip
     WHERE production_id = $1 AND refusal IS NOT NULL AND refusal->'problem'->>'kind' <> 'chapter'
     ORDER BY (refusal->'problem'->>'kind' = 'sidecar'), path
     LIMIT 5000`,
    [production],
  );
}
