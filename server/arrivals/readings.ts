import type { LeftAsideLine, ReadingAnswer } from '@relay/contract/arrivals';
import { lookInto, type Store } from '@relay/work/disk/store';
import type PgBoss from 'pg-boss';
import { IsNull, type DataSource } from 'typeorm';
import { reading, type ReadingRow } from '../db/entities/arrivals.ts';
import type { Context } from '../context.ts';
import { Refused } from '../http.ts';
import { readingQueue } from '../queue/boss.ts';

/** Folders that are read into a production, and what was left aside in them. */

function answerOf(
  { storeId, createdAt, id, folder, state, total, done, problem, says }: ReadingRow,
  again = false,
): ReadingAnswer {
  return { id, store: storeId, folder, state, total, done, problem, says, again, createdAt: createdAt.toISOString() };
}

/** Writes a reading down and has a worker take it up. */
export async function newReading(
  db: DataSource,
  boss: PgBoss,
  wanted: Pick<ReadingRow, 'productionId' | 'storeId' | 'folder'> & Partial<Pick<ReadingRow, 'rollId'>>,
): Promise<ReadingRow> {
  const { id } = await db.manager.save(reading, wanted);
  await boss.send(readingQueue, { reading: id });
  return db.manager.findOneByOrFail(reading, { id });
}

export async function readings(db: DataSource, production: string): Promise<ReadingAnswer[]> {
  const rows = await db.manager.find(reading, {
    where: { productionId: production, rollId: IsNull() },
    order: { createdAt: 'DESC' },
    take: 500,
  });
  // A folder that was read again stands once, as it was read last.
  const newest = new Map<string, ReadingRow>();
  const times = new Map<string, number>();
  for (const row of rows) {
    const key = JSON.stringify([row.storeId, row.folder]);
    times.set(key, (times.get(key) ?? 0) + 1);
    if (!newest.has(key)) newest.set(key, row);
  }
  return [...newest].slice(0, 50).map(([key, row]) => answerOf(row, (times.get(key) ?? 1) > 1));
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
  return answerOf(await newReading(db, boss, { productionId: production, storeId: store.id, folder }));
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
