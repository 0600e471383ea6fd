import { under } from '@relay/core/naming/under';
import { diskOf } from '@relay/work/disk/disk';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { note } from '../arrivals/rolls.ts';
import { byItsClock } from '../db/entities/columns.ts';
import {
  originalSearch,
  type BeforeTaken,
  type FoundFileRow,
  type OriginalSearchRow,
} from '../db/entities/originalSearches.ts';
import { rollCopy, reading } from '../db/entities/arrivals.ts';
import { notThere, Refused } from '../http.ts';
import type { Stores } from '../stores/stores.ts';
import { knownFiles } from './places.ts';

/** A clip's row that is laid elsewhere. */
interface Moving {
  id: string;
  store: string;
  root: string;
  modifiedAt: string | null;
  sampled: string | null;
}

/** Lays rows of clips where their files lie now. @throws Refused where those are known there already */
async function layClips(tx: EntityManager, production: string, moving: readonly Moving[]): Promise<void> {
  const rows = JSON.stringify(moving);
  const asRows = `jsonb_to_recordset($2::jsonb) AS moved(id uuid, store text, root text, "modifiedAt" timestamptz, sampled text)`;
  const [taken] = await tx.query<{ count: number; folder: string }[]>(
    `SELECT count(*)::int AS count, min(moved.root) AS folder
     FROM ${asRows}
     JOIN clip ON clip.id = moved.id
     JOIN clip other ON other.production_id = clip.production_id AND other.store_id = moved.store
       AND other.root = moved.root AND other.path = clip.path AND other.id <> clip.id
     WHERE clip.production_id = $1`,
    [production, rows],
  );
  if (taken && taken.count > 0)
    throw new Refused(409, {
      what: `${taken.count} of these files were read in at ${taken.folder || 'their new place'} already, and are known there as clips of their own`,
      remedy: 'Remove that reading under Arrivals, then take these over',
    });
  await tx.query(
    `UPDATE clip
     SET store_id = moved.store, root = moved.root, read_as = coalesce(read_as, regexp_replace(clip.root, '^.*/', '')), modified_at = coalesce(moved."modifiedAt", clip.modified_at),
       own = CASE
         WHEN own IS NULL OR moved."modifiedAt" IS NULL THEN own
         ELSE jsonb_set(own, '{modifiedAt}', to_jsonb(to_char(moved."modifiedAt" AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')))
       END,
       sampled = coalesce(clip.sampled, moved.sampled)
     FROM ${asRows}
     WHERE clip.id = moved.id AND clip.production_id = $1`,
    [production, rows],
  );
}

/** What is laid with the clips: copies of rolls and readings whose files all went to one place. */
async function goingWith(
  tx: EntityManager,
  { productionId, lookedFor, storeId }: OriginalSearchRow,
  taken: readonly FoundFileRow[],
): Promise<{ from: { store: string; folder: string }; to: { store: string; folder: string } }[]> {
  const places = new Map(lookedFor.map(({ store, folder }) => [`${store}\0${folder}`, { store, folder }]));
  const going = [];
  for (const from of places.values()) {
    const roots = new Set(
      taken.flatMap(({ place, root }) => {
        const of = lookedFor[place];
        return of?.store === from.store && of.folder === from.folder && root !== null ? [root] : [];
      }),
    );
    const [left] = await tx.query<{ count: number }[]>(
      `SELECT count(*)::int AS count FROM clip WHERE production_id = $1 AND store_id = $2 AND root = $3 AND ${knownFiles} > 0`,
      [productionId, from.store, from.folder],
    );
    const [root] = roots;
    if (roots.size === 1 && root !== undefined && left?.count === 0)
      going.push({ from, to: { store: storeId, folder: root } });
  }
  return going;
}

async function lockedSearch(tx: EntityManager, id: string): Promise<OriginalSearchRow> {
  const row = await tx.findOne(originalSearch, { where: { id }, lock: { mode: 'pessimistic_write' } });
  if (!row) throw notThere('The search');
  return row;
}

/**
 * Takes over what a search found: clips, copies of rolls and readings are known at their new place from now on. What was
 * not found, or is another file, stays where it was. Answers the production.
 * @throws Refused where it found nothing to take, or was taken over already
 */
export async function takeFound(
  { db, stores }: { db: DataSource; stores: Stores },
  id: string,
  bySize: boolean,
  who: string,
): Promise<string> {
  const known = new Map((await stores.list()).map((store) => [store.id, store]));
  return db.transaction(async (tx) => {
    const row = await lockedSearch(tx, id);
    const { storeId, productionId, lookedFor } = row;
    if (row.state !== 'found')
      throw new Refused(409, {
        what: row.state === 'taken' ? 'It was taken over already' : 'Nothing was found that could be taken over',
        remedy: 'Look again',
      });
    const taken = (row.found ?? []).filter(({ root, by, place }) => {
      const was = lookedFor[place];
      const elsewhere = was?.store !== storeId || was.folder !== root;
      return root !== null && elsewhere && (by !== 'size' || bySize);
    });
    if (taken.length === 0)
      throw new Refused(409, { what: 'Nothing of it lies elsewhere than it did', remedy: 'Look in another place' });
    const clips = await tx.query<BeforeTaken['clips']>(
      `SELECT id, store_id AS store, root, modified_at AS "modifiedAt" FROM clip WHERE id = ANY ($1::uuid[]) FOR UPDATE`,
      [taken.map(({ clip }) => clip)],
    );
    await layClips(
      tx,
      productionId,
      taken.map(({ clip, root, modifiedAt, sampled }) => ({
        ...{ id: clip, store: storeId, modifiedAt, sampled },
        root: root ?? '',
      })),
    );
    const before: BeforeTaken = { clips, copies: [], readings: [] };
    const store = known.get(storeId);
    for (const { from, to } of await goingWith(tx, row, taken)) {
      const at = { storeId: from.store, folder: from.folder };
      const now = { storeId: to.store, folder: to.folder };
      const copies = await tx.find(rollCopy, { where: { ...at, roll: { productionId } } });
      const disk = store ? await diskOf(under(store.path, to.folder)) : null;
      for (const copy of copies) {
        // Where another copy of the roll lies already, its originals are known by that.
        if ((await tx.countBy(rollCopy, { rollId: copy.rollId, ...now })) > 0) continue;
        before.copies.push({ id: copy.id, store: copy.storeId, folder: copy.folder });
        await tx.update(rollCopy, { id: copy.id }, { ...now, disk, verification: null, verifiedAt: null });
        await noteMove(tx, copy.rollId, who, sayPlace(known, at), sayPlace(known, now));
      }
      const readings = await tx.find(reading, { where: { ...at, productionId } });
      for (const one of readings) before.readings.push({ id: one.id, store: one.storeId, folder: one.folder });
      if (readings.length > 0) await tx.update(reading, { id: In(readings.map((one) => one.id)) }, now);
    }
    await tx.update(originalSearch, { id }, { state: 'taken', before, takenAt: byItsClock });
    return productionId;
  });
}

function sayPlace(
  stores: ReadonlyMap<string, { name: string }>,
  { storeId, folder }: { storeId: string; folder: string },
): string {
  const name = stores.get(storeId)?.name ?? storeId;
  return folder === '' ? name : `${folder} on ${name}`;
}

function noteMove(tx: EntityManager, roll: string, who: string, from: string, to: string): Promise<void> {
  return note(tx, roll, who, `Its copy ${from} is known as ${to} now: not verified there yet`);
}

/** Lays everything back where it was known before. Answers the production. @throws Refused where nothing was taken over */
export async function undoTaken(db: DataSource, id: string, who: string): Promise<string> {
  return db.transaction(async (tx) => {
    const row = await lockedSearch(tx, id);
    if (row.state !== 'taken' || !row.before)
      throw new Refused(409, { what: 'Nothing of it is taken over', remedy: 'Look at the list again' });
    const { clips, copies, readings } = row.before;
    await layClips(
      tx,
      row.productionId,
      clips.map((one) => ({ ...one, sampled: null })),
    );
    for (const { id: copy, store, folder } of copies) {
      await tx.update(rollCopy, { id: copy }, { storeId: store, folder, verification: null, verifiedAt: null });
      const { rollId } = await tx.findOneByOrFail(rollCopy, { id: copy });
      await note(tx, rollId, who, 'Its copy is known at its place before again');
    }
    for (const one of readings) await tx.update(reading, { id: one.id }, { storeId: one.store, folder: one.folder });
    await tx.update(originalSearch, { id }, { state: 'undone', undoneAt: byItsClock });
    return row.productionId;
  });
}
