import type { CameBack, RemovalAnswer, RemovalItem, RemovalLine } from '@relay/contract/space';
import { openStates, type LegState } from '@relay/contract/states';
import { Not, type DataSource } from 'typeorm';
import { removal, removalItem, type RemovalRow } from '../db/entities/removals.ts';
import { notThere, Refused } from '../http.ts';
import type { Stores } from '../stores/stores.ts';

function lineOf(row: RemovalRow, left: number): RemovalLine {
  return {
    id: row.id,
    state: row.state,
    says: row.says,
    who: row.who,
    createdAt: row.createdAt.toISOString(),
    files: row.files,
    filesDone: row.filesDone,
    bytes: row.bytes,
    bytesDone: row.bytesDone,
    left,
    problem: row.problem,
  };
}

/** Deletions of a production, the newest first. */
export async function removalLines(db: DataSource, production: string): Promise<RemovalLine[]> {
  const rows = await db.manager.find(removal, {
    where: { productionId: production },
    order: { createdAt: 'DESC' },
    take: 200,
  });
  const counts = await db.query<{ id: string; left: number }[]>(
    `SELECT removal_id AS id, count(*)::int AS left
     FROM removal_item
     WHERE removal_id = ANY ($1::uuid[]) AND state = 'left'
     GROUP BY removal_id`,
    [rows.map(({ id }) => id)],
  );
  const left = new Map(counts.map((row) => [row.id, row.left]));
  return rows.map((row) => lineOf(row, left.get(row.id) ?? 0));
}

interface ItemRecord extends Omit<RemovalItem, 'storeName' | 'back'> {
  store: string;
  xxh3: string;
  /** What was written down last under its name since; and how the leg stands that makes it again. */
  now: { xxh3: string | null; state: LegState } | null;
  leg: LegState | null;
}

function backOf({ now, leg, xxh3 }: ItemRecord): CameBack | null {
  if (now?.state === 'proved') return now.xxh3 === xxh3 ? 'same to the byte' : 'proved';
  if (now?.state === 'needs eyes') return 'needs eyes';
  if (leg === null) return null;
  if (openStates.includes(leg)) return 'is made';
  // What was made again, and deleted again, can come back once more.
  return leg === 'failed' || leg === 'stopped' ? 'failed' : null;
}

/** One deletion with everything that went, or was left and why, and what of it came back since. */
export async function removalAnswer(db: DataSource, stores: Stores, id: string): Promise<RemovalAnswer> {
  const row = await db.manager.findOneBy(removal, { id });
  if (!row) throw notThere('What was deleted');
  const records = await db.query<ItemRecord[]>(
    `SELECT item.place, item.path, item.store_id AS store, item.folder, item.size_bytes::float AS "sizeBytes",
       item.state, item.why, item.xxh3,
       item.plan IS NOT NULL AND item.clip_id IS NOT NULL AS "canComeBack",
       (
         SELECT json_build_object('xxh3', o.xxh3, 'state', o.state)
         FROM output o
         WHERE item.state = 'gone' AND o.store_id = item.store_id AND o.folder = item.folder AND o.path = item.path
         ORDER BY o.created_at DESC
         LIMIT 1
       ) AS now,
       (
         SELECT leg.state
         FROM leg
         WHERE leg.run_id = item.again_run AND leg.clip_id = item.clip_id
           AND EXISTS (SELECT 1 FROM json_array_elements(leg.plan->'outputs') o WHERE o->>'path' = item.path)
         LIMIT 1
       ) AS leg
     FROM removal_item item
     WHERE removal_id = $1
     ORDER BY item.place`,
    [id],
  );
  const names = new Map((await stores.list()).map((store) => [store.id, store.name]));
  return {
    ...lineOf(row, records.filter(({ state }) => state === 'left').length),
    items: records.map((record) => ({
      place: record.place,
      path: record.path,
      storeName: names.get(record.store) ?? record.store,
      folder: record.folder,
      sizeBytes: record.sizeBytes,
      state: record.state,
      why: record.why,
      canComeBack: record.canComeBack,
      back: record.state === 'gone' ? backOf(record) : null,
    })),
  };
}

/** Stops a deletion; what went is gone, and the rest stays. Answers its production. */
export async function stopRemoval(db: DataSource, id: string): Promise<string> {
  const [rows] = await db.query<[{ production: string }[], number]>(
    `UPDATE removal
     SET stop_wanted = true, state = CASE WHEN state = 'waiting' THEN 'stopped' ELSE state END
     WHERE id = $1 AND state IN ('waiting', 'removing')
     RETURNING production_id AS production`,
    [id],
  );
  const [row] = rows;
  if (!row) throw new Refused(409, { what: 'It is over', remedy: 'Look at what went' });
  return row.production;
}

/** Has one go on that was stopped or broke off. Answers its production. @throws Refused where none of it is left to do */
export async function resumeRemoval(db: DataSource, id: string): Promise<string> {
  const row = await db.manager.findOneBy(removal, { id });
  if (!row) throw notThere('What was deleted');
  const open = await db.manager.countBy(removalItem, { removalId: id, state: 'waiting' });
  const going = await db.manager.countBy(removalItem, { removalId: id, state: 'going' });
  const { affected } =
    open + going === 0
      ? { affected: 0 }
      : await db.manager.update(
          removal,
          { id, state: Not('removing') },
          { state: 'waiting', stopWanted: false, problem: null, endedAt: null },
        );
  if (!affected) throw new Refused(409, { what: 'Nothing of it is left to do', remedy: 'Choose anew what may go' });
  return row.productionId;
}
