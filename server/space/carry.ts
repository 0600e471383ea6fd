import { under } from '@relay/core/naming/under';
import { removeMade } from '@relay/work/disk/remove';
import { isThere, placeIn } from '@relay/work/disk/store';
import { beating } from '@relay/work/heart';
import { dropFromSheet } from '@relay/work/leg/sheet';
import { holding } from '@relay/work/disk/held';
import { exists } from '@relay/work/disk/place';
import type { Problem } from '@relay/core/result';
import { In, type DataSource } from 'typeorm';
import { patiently } from '../db/dataSource.ts';
import { byItsClock } from '../db/entities/columns.ts';
import { removal, removalItem, type RemovalItemRow, type RemovalRow } from '../db/entities/removals.ts';
import { tell } from '../live/notify.ts';
import { leaseSeconds } from '../pace.ts';
import type { Stores } from '../stores/stores.ts';
import { candidatesOf, placeOf } from './candidates.ts';
import type { NotMade } from './notMade.ts';

/** Files whose originals are looked at together, just before they go; and how long that holds. */
const [lot, holdsMs] = [100, 15_000];

interface Carrying {
  db: DataSource;
  stores: Stores;
}

/** Claims a deletion; false where it is another's, over, or gone. */
async function claim(db: DataSource, id: string, worker: string): Promise<boolean> {
  const [rows] = await db.query<[{ id: string }[], number]>(
    `UPDATE removal
     SET state = 'removing', worker = $2, beat_at = now()
     WHERE id = $1 AND (
       state = 'waiting' OR (state = 'removing' AND beat_at < now() - make_interval(secs => $3))
     ) AND NOT stop_wanted
     RETURNING id`,
    [id, worker, leaseSeconds],
  );
  return rows.length > 0;
}

const asPlace = ({
  storeId: store,
  folder,
  path,
}: RemovalItemRow): { store: string; folder: string; path: string } => ({
  store,
  folder,
  path,
});

/** Writes down that something went; its record as an output goes with that, in whichever run (`output_gone`). */
async function keepGone(db: DataSource, item: RemovalItemRow): Promise<void> {
  const { removalId, place, sizeBytes } = item;
  await db.transaction(async (tx) => {
    await tx.update(removalItem, { removalId, place }, { state: 'gone', why: '' });
    await tx.query('UPDATE removal SET bytes_done = bytes_done + $2, files_done = files_done + 1 WHERE id = $1', [
      removalId,
      sizeBytes,
    ]);
  });
}

/** Deletes one file of it, once it is written down that it is going. `staysNow` is asked where reading it took long. */
async function removeOne(
  { db, stores }: Carrying,
  item: RemovalItemRow,
  staysNow: () => Promise<string | null>,
): Promise<void> {
  const { removalId, place, storeId, folder, path, sizeBytes, xxh3 } = item;
  const leave = (why: string): Promise<unknown> =>
    db.manager.update(removalItem, { removalId, place }, { state: 'left', why });
  const store = await stores.get(storeId);
  if (!store || store.readOnly || !(await isThere(store))) {
    await leave(`${store?.name ?? storeId} is not there, or is only read from`);
    return;
  }
  const begun = item.state === 'going';
  if (!begun) await db.manager.update(removalItem, { removalId, place }, { state: 'going' });
  const removed = await removeMade(
    placeIn(store, ''),
    under(folder, path),
    { sizeBytes, xxh3 },
    `removal.${removalId}.${place}`,
    staysNow,
  );
  // What a worker that was killed had begun is gone where nothing lies there any more; its store is there.
  const gone = removed.state === 'gone' || (removed.state === 'not there' && begun && (await isThere(store)));
  if (gone) await patiently(() => keepGone(db, item));
  else await patiently(() => leave(removed.state === 'left' ? removed.why : 'it was not there any more'));
}

/**
 * Why something stays that is not known as an output at its place any more; null where an attempt that was killed had
 * taken it aside, or away, already.
 */
async function staysUnseen({ stores }: Carrying, item: RemovalItemRow, notMade: NotMade): Promise<string | null> {
  const path = under(item.folder, item.path);
  if (notMade.has(item.storeId, path)) return 'it is an original, or lies where one does';
  const store = await stores.get(item.storeId);
  const there =
    store && (await holding(async (held) => exists(await held.place(placeIn(store, ''), path))).catch(() => false));
  return item.state === 'going' && !there ? null : 'it was not there any more, or is known as something else';
}

/** Takes what went out of the sheets beside it. Answers what is wrong with one that could not be written. */
async function tidySheets({ db, stores }: Carrying, id: string): Promise<Problem | null> {
  const gone = await db.manager.find(removalItem, {
    select: { storeId: true, folder: true, path: true, xxh3: true },
    where: { removalId: id, state: 'gone' },
  });
  let problem: Problem | null = null;
  for (const key of new Set(gone.map(({ storeId, folder }) => JSON.stringify([storeId, folder])))) {
    const [storeId, folder] = JSON.parse(key) as [string, string];
    const store = await stores.get(storeId);
    if (!store || !(await isThere(store))) continue;
    const there = gone.filter((one) => one.storeId === storeId && one.folder === folder);
    await db
      .transaction(async (tx) => {
        await tx.query('SELECT pg_advisory_xact_lock(hashtext($1))', [`relink ${storeId} ${folder}`]);
        await holding(async (held) =>
          dropFromSheet(
            await held.folder(placeIn(store, folder), ''),
            new Map(there.map(({ path, xxh3 }) => [path, xxh3])),
          ),
        );
      })
      .catch((error: NodeJS.ErrnoException) => {
        if (error.code === 'ENOENT') return; // The folder went with what was in it.
        problem = {
          what: `The relink sheet in ${folder || store.name} still names what went: ${error.message}`,
          remedy: 'What went is listed here; go by that where the sheet differs',
        };
      });
  }
  return problem;
}

/** Looks at files with their originals, and who needs them, as it is now: why each stays, or null. */
async function lookAnew(
  at: Carrying,
  production: string,
  items: readonly RemovalItemRow[],
): Promise<(item: RemovalItemRow) => Promise<string | null>> {
  const { candidates, notMade } = await candidatesOf(at, { production, cut: null, only: items.map(asPlace) });
  const now = new Map(candidates.map((one) => [placeOf(one), one]));
  return async (item) => {
    const candidate = now.get(placeOf(asPlace(item)));
    return candidate ? candidate.stays : staysUnseen(at, item, notMade);
  };
}

/** The next files of it, those that were begun before in front. */
function nextOf(db: DataSource, id: string): Promise<RemovalItemRow[]> {
  return db.manager.find(removalItem, {
    where: { removalId: id, state: In(['waiting', 'going']) },
    order: { state: 'ASC', place: 'ASC' },
    take: lot,
  });
}

/** Carries a deletion out: each file is looked at anew with its originals, held against its checksum, and goes or stays. */
export async function carryOutRemoval(at: Carrying, id: string, worker: string, leaving: AbortSignal): Promise<void> {
  const { db } = at;
  if (!(await claim(db, id, worker))) return;
  const work = await db.manager.findOneByOrFail(removal, { id });
  let wanted = true;
  const beat = async (): Promise<void> => {
    const [rows] = await db.query<[{ stop: boolean }[], number]>(
      'UPDATE removal SET beat_at = now() WHERE id = $1 AND worker = $2 RETURNING stop_wanted AS stop',
      [id, worker],
    );
    wanted = rows[0]?.stop === false;
  };
  const heart = beating(1_000, beat);
  let problem: RemovalRow['problem'] = null;
  try {
    for (
      let items = await nextOf(db, id);
      items.length > 0 && wanted && !leaving.aborted;
      items = await nextOf(db, id)
    ) {
      const look = await lookAnew(at, work.productionId, items);
      const holdsUntil = performance.now() + holdsMs;
      const isFresh = (): boolean => performance.now() < holdsUntil;
      for (const item of items) {
        // What was looked at too long ago is looked at again, with the next ones.
        if (!wanted || leaving.aborted || (!isFresh() && item !== items[0])) break;
        const stays = await look(item);
        if (stays === null)
          await removeOne(at, item, async () =>
            isFresh() ? null : (await lookAnew(at, work.productionId, [item]))(item),
          );
        else
          await patiently(() =>
            db.manager.update(removalItem, { removalId: id, place: item.place }, { state: 'left', why: stays }),
          );
      }
    }
  } catch (error) {
    problem = {
      what: `It broke off: ${(error as Error).message}`,
      remedy: 'See that its stores are mounted, then go on; what went is in the list',
    };
  }
  heart.stop();
  const untidy = await tidySheets(at, id);
  const given = leaving.aborted && wanted && problem === null;
  await patiently(() =>
    db.manager.update(
      removal,
      { id, worker },
      given
        ? { state: 'waiting', worker: null }
        : {
            state: problem ? 'failed' : wanted ? 'done' : 'stopped',
            problem: problem ?? untidy,
            worker: null,
            endedAt: byItsClock,
          },
    ),
  );
  for (const what of ['space', 'runs'] as const)
    await tell(db, { kind: 'changed', what, production: work.productionId });
}

/** Deletions whose worker is gone, or whose job is lost. */
export async function orphanedRemovals(db: DataSource): Promise<string[]> {
  const rows = await db.query<{ id: string }[]>(
    `SELECT id
     FROM removal
     WHERE (state = 'removing' AND beat_at < now() - make_interval(secs => $1)) OR (
       state = 'waiting' AND NOT stop_wanted AND created_at < now() - interval '3 seconds' AND NOT EXISTS (
         SELECT 1
         FROM pgboss.job
         WHERE job.name = 'removal' AND job.state IN ('created', 'retry') AND job.data->>'removal' = removal.id::text
       )
     )`,
    [leaseSeconds],
  );
  return rows.map(({ id }) => id);
}
