import { hostname } from 'node:os';
import type { HandoffState } from '@relay/contract/handoffs';
import { textsOf, type TextsOf } from '@relay/core/handoff/texts';
import { placeIn, isThere } from '@relay/work/disk/store';
import { beating } from '@relay/work/heart';
import { deliver } from '@relay/work/handoff/deliver';
import type { Delivery, DeliveryOrder, DeliveryProgress } from '@relay/work/handoff/underWay';
import type { DataSource } from 'typeorm';
import { patiently } from '../db/dataSource.ts';
import { byItsClock } from '../db/entities/columns.ts';
import { handoff, handoffItem, receiver, type HandoffItemRow, type HandoffRow } from '../db/entities/handoffs.ts';
import { production } from '../db/entities/productions.ts';
import { tell } from '../live/notify.ts';
import { leaseSeconds } from '../pace.ts';
import type { Stores } from '../stores/stores.ts';
import { heldBy } from './holds.ts';
import { noteHandoff } from './order.ts';

/** What a worker copies a hand-off with. */
interface Carrying {
  db: DataSource;
  stores: Stores;
  journals: string;
}

/** Claims a hand-off and copies it; what came of it is written down. Broken off, it goes on where it was. */
export async function carryOutHandoff(at: Carrying, id: string, worker: string, leaving: AbortSignal): Promise<void> {
  const { db } = at;
  const [claimed] = await db.query<[{ id: string }[], number]>(
    `UPDATE handoff
     SET state = 'copying', worker = $2, beat_at = now(), started_at = coalesce(started_at, now()), ended_at = NULL
     WHERE id = $1 AND state = 'waiting' AND NOT stop_wanted
     RETURNING id`,
    [id, worker],
  );
  if (claimed.length === 0) return;
  const work = await db.manager.findOneByOrFail(handoff, { id });
  const stop = new AbortController();
  const onLeave = (): void => stop.abort();
  leaving.addEventListener('abort', onLeave, { once: true });
  let progress: DeliveryProgress = { files: work.files, filesDone: 0, bytes: work.bytes, bytesDone: 0 };
  let wanted = true;
  const heart = beating(700, async () => {
    const [rows] = await db.query<[{ stop: boolean }[], number]>(
      `UPDATE handoff
       SET beat_at = now(), files = $3, files_done = $4, bytes = $5, bytes_done = $6
       WHERE id = $1 AND worker = $2
       RETURNING stop_wanted AS stop`,
      [id, worker, progress.files, progress.filesDone, progress.bytes, progress.bytesDone],
    );
    wanted = rows[0]?.stop === false;
    if (!wanted) stop.abort();
    await tell(db, {
      ...{ kind: 'handoff', production: work.productionId, handoff: id, state: 'copying' },
      ...progress,
    });
  });
  try {
    const order = await orderOf(at, work, stop.signal, (now) => {
      progress = now;
    });
    const delivery = await deliver(order);
    // A drive that was empty has its mark now, by which it is known again.
    await markTarget(at.stores, work.storeId);
    heart.stop();
    const state: HandoffState = leaving.aborted && wanted ? 'waiting' : delivery.state;
    await patiently(() => keep(db, work, worker, delivery, state));
  } catch (error) {
    heart.stop();
    const problem = { what: (error as Error).message, remedy: 'See that its stores are known and mounted, then go on' };
    await patiently(() =>
      db.manager.update(
        handoff,
        { id, worker },
        {
          state: 'failed',
          endedAt: byItsClock,
          result: { problem, problems: [], manifest: null, readFromDisk: false },
        },
      ),
    );
  } finally {
    heart.stop();
    leaving.removeEventListener('abort', onLeave);
    await tell(db, { kind: 'changed', what: 'handoffs', production: work.productionId });
  }
}

/** Marks the store that something went to, where it has no mark yet. */
async function markTarget(stores: Stores, id: string): Promise<void> {
  const store = await stores.get(id);
  if (store && (await isThere(store))) await stores.markFirst(store);
}

/** A hand-off as the engine takes it. @throws Error where a store is not known any more */
async function orderOf(
  { db, stores, journals }: Carrying,
  work: HandoffRow,
  signal: AbortSignal,
  onProgress: (progress: DeliveryProgress) => void,
): Promise<DeliveryOrder> {
  const known = new Map((await stores.list()).map((store) => [store.id, store]));
  const to = known.get(work.storeId);
  if (!to) throw new Error('the store that it goes to is no longer known');
  const items = await db.manager.find(handoffItem, { where: { handoffId: work.id }, order: { place: 'ASC' } });
  const whose = await db.manager.findOneByOrFail(receiver, { id: work.receiverId });
  const texts = await textsFor(db, work, items);
  return {
    id: work.id,
    items: items.map(({ path, kind, sizeBytes, xxh3, storeId, source, replaces }) => {
      const store = known.get(storeId);
      if (!store) throw new Error(`a store of ${path} is no longer known`);
      return { path, kind, sizeBytes, xxh3, replaces, from: { root: store.path, path: source } };
    }),
    texts: (came) => textsOf(texts, came),
    to: { store: to.name, at: placeIn(to, work.folder), there: () => isThere(to) },
    mark: {
      receiver: whose.id,
      called: whose.name,
      handoffs: [{ id: work.id, name: work.name, at: work.createdAt.toISOString() }],
    },
    system: whose.fileSystem,
    journals,
    host: hostname(),
    signal,
    onProgress,
  };
}

/** What the texts beside it are made of. */
export async function textsFor(db: DataSource, work: HandoffRow, items: readonly HandoffItemRow[]): Promise<TextsOf> {
  const whose = await db.manager.findOneByOrFail(receiver, { id: work.receiverId });
  const [of, held] = await Promise.all([
    db.manager.findOneByOrFail(production, { id: work.productionId }),
    heldBy(db, work.productionId, whose.name),
  ]);
  const here = held.filter(({ store, folder }) => store === work.storeId && folder === work.folder);
  return {
    name: work.name,
    production: of.name,
    receiver: whose.name,
    day: work.createdAt.toISOString().slice(0, 10),
    rows: items.flatMap(({ relink }) => relink ?? []),
    before: here.flatMap(({ relink }) => relink ?? []),
    items,
    replaced: items.filter(({ replaces }) => replaces !== null).map(({ path }) => path),
    toDelete: work.toDelete,
    roots: whose.roots,
  };
}

/** Writes down what came of it, if it is still ours. */
async function keep(
  db: DataSource,
  { id }: HandoffRow,
  worker: string,
  delivery: Delivery,
  state: HandoffState,
): Promise<void> {
  const { problem, problems, manifest, readFromDisk, came, files, bytes } = delivery;
  await db.transaction(async (tx) => {
    const { affected } = await tx.update(
      handoff,
      { id, worker },
      {
        state,
        files,
        bytes,
        filesDone: came.length,
        bytesDone: came.reduce((sum, one) => sum + one.sizeBytes, 0),
        result: { problem, problems: problems.slice(0, 2_000), manifest, readFromDisk },
        ...(state === 'waiting' ? { worker: null } : { endedAt: byItsClock }),
      },
    );
    if (!affected || state === 'waiting') return;
    // Of a single file its sum is known now.
    const sums = new Map(came.map(({ path, xxh3 }) => [path, xxh3]));
    const done = delivery.whole.map((path) => ({ path, xxh3: sums.get(path) ?? null }));
    // Until its manifest is written nothing counts as come.
    if (manifest !== null)
      await tx.query(
        `UPDATE handoff_item item
         SET came = true, xxh3 = coalesce(done.xxh3, item.xxh3)
         FROM jsonb_to_recordset($2::jsonb) AS done(path text, xxh3 text)
         WHERE item.handoff_id = $1 AND item.path = done.path`,
        [id, JSON.stringify(done)],
      );
    const left = problems.length > 0 ? `, ${problems.length} left` : '';
    await noteHandoff(
      tx,
      id,
      'worker',
      problem
        ? `Broke off: ${problem.what}`
        : `${state === 'proved' ? 'Proved' : state === 'stopped' ? 'Stopped' : 'Ended'}: ${came.length} files there${left}`,
    );
  });
}

/** Hand-offs whose worker is gone, or whose job is lost. */
export async function orphanedHandoffs(db: DataSource): Promise<string[]> {
  await db.query(
    `UPDATE handoff
     SET state = CASE WHEN stop_wanted THEN 'stopped' ELSE 'waiting' END, worker = NULL
     WHERE state = 'copying' AND beat_at < now() - make_interval(secs => $1)`,
    [leaseSeconds],
  );
  const rows = await db.query<{ id: string }[]>(
    `SELECT id
     FROM handoff
     WHERE state = 'waiting' AND NOT stop_wanted AND created_at < now() - interval '3 seconds' AND NOT EXISTS (
       SELECT 1
       FROM pgboss.job
       WHERE job.name = 'handoff' AND job.state IN ('created', 'retry') AND job.data->>'handoff' = handoff.id::text
         AND job.data->>'verify' IS NULL
     )`,
  );
  return rows.map(({ id }) => id);
}
