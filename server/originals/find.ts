import type { OriginalsSearch } from '@relay/contract/originals';
import { hashNames, type Hashes } from '@relay/core/custody/manifest';
import { under } from '@relay/core/naming/under';
import { findMoved, sameOriginal, type MovedOriginal } from '@relay/core/relink/moved';
import { readHistory, statedEntries } from '@relay/work/custody/history';
import { hashSamples } from '@relay/work/disk/hash';
import { holding, type Root } from '@relay/work/disk/held';
import { fileFacts } from '@relay/work/disk/place';
import { isThere, placeIn, type Store } from '@relay/work/disk/store';
import { walk } from '@relay/work/disk/walk';
import { beating } from '@relay/work/heart';
import { inLanes } from '@relay/work/lanes';
import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import { patiently } from '../db/dataSource.ts';
import { byItsClock } from '../db/entities/columns.ts';
import { originalSearch, type FoundFileRow, type OriginalSearchRow } from '../db/entities/originalSearches.ts';
import { tell } from '../live/notify.ts';
import { leaseSeconds } from '../pace.ts';
import { searchQueue } from '../queue/boss.ts';
import type { Stores } from '../stores/stores.ts';
import { knownFiles } from './places.ts';

/** Files that are looked into at a time. */
const lanes = 4;

/** A file of the originals that are looked for. */
interface KnownFile {
  id: string;
  path: string;
  sizeBytes: number;
  sampled: string | null;
  /** Which of those that are looked for it belongs to. */
  place: number;
  store: string;
  root: string;
  roll: string | null;
  /** Its whole XXH3, where an output was made of it. */
  xxh3: string | null;
}

/** Writes a search down and has a worker take it up. */
export async function beginSearch(
  { db, boss }: { db: DataSource; boss: PgBoss },
  production: string,
  { lookedFor, at }: OriginalsSearch,
  who: string,
): Promise<string> {
  const { id } = await db.manager.save(originalSearch, {
    ...{ productionId: production, lookedFor, who },
    storeId: at.store,
    folder: at.folder,
  });
  await boss.send(searchQueue, { search: id });
  return id;
}

/** The files of the places that a search is for. */
async function filesOf(db: DataSource, { productionId, lookedFor }: OriginalSearchRow): Promise<KnownFile[]> {
  return db.query<KnownFile[]>(
    `SELECT clip.id, clip.path, ${knownFiles}::float AS "sizeBytes", clip.sampled, wanted.place, clip.store_id AS store,
       clip.root, clip.roll_id AS roll,
       (
         SELECT o.relink->>'originalXxh3'
         FROM leg
         JOIN output o ON o.leg_id = leg.id
         WHERE leg.clip_id = clip.id AND clip.own IS NULL AND o.relink->>'originalXxh3' <> ''
         LIMIT 1
       ) AS xxh3
     FROM jsonb_to_recordset($2::jsonb) AS wanted(place int, store text, folder text, roll text)
     JOIN clip ON clip.store_id = wanted.store AND clip.root = wanted.folder AND clip.roll = wanted.roll
     WHERE clip.production_id = $1 AND ${knownFiles} > 0
     ORDER BY clip.path`,
    [productionId, JSON.stringify(lookedFor.map((one, place) => ({ ...one, place })))],
  );
}

/** What a folder's manifests state, by path; nothing where there are none, or they cannot be read. */
async function statedIn(at: Root): Promise<ReadonlyMap<string, Hashes>> {
  const entries = await readHistory(at).then(statedEntries, () => []);
  return new Map(entries.map(({ path, hashes }) => [path, hashes]));
}

/** What the manifests of rolls' copies state that are there, by roll. */
async function statedOfRolls(
  { db, stores }: { db: DataSource; stores: Stores },
  files: readonly KnownFile[],
): Promise<Map<string, ReadonlyMap<string, Hashes>>> {
  const copies = await db.query<{ roll: string; store: string; folder: string }[]>(
    `SELECT roll_id AS roll, store_id AS store, folder FROM roll_copy WHERE roll_id = ANY ($1::uuid[]) ORDER BY ordinal`,
    [[...new Set(files.flatMap(({ roll }) => roll ?? []))]],
  );
  const stated = new Map<string, ReadonlyMap<string, Hashes>>();
  for (const { roll, store: id, folder } of copies) {
    const store = await stores.get(id);
    if (!store || !(await isThere(store)) || (stated.get(roll)?.size ?? 0) > 0) continue;
    stated.set(roll, await statedIn(placeIn(store, folder)));
  }
  return stated;
}

/** The hash that both state, the most believed first; nothing where they share none. */
function inCommon(then: Hashes, now: Hashes): { then: string | null; now: string | null } {
  const name = hashNames.find((one) => then[one] !== undefined && now[one] !== undefined);
  return name ? { then: then[name] ?? null, now: now[name] ?? null } : { then: null, now: null };
}

/** Why a file was not found. */
function whyNot({ lies }: Extract<MovedOriginal, { root: null }>): string {
  if (lies === null) return 'is not there';
  return lies.why === 'size' ? `has another size: ${lies.path}` : `lies in other folders: ${lies.path}`;
}

/** Every file below a folder, by path and size. */
async function filesIn(at: Root): Promise<{ path: string; sizeBytes: number }[]> {
  const files: { path: string; sizeBytes: number }[] = [];
  await walk(
    at,
    { skips: (name) => name.startsWith('.'), facts: true, onUnseen: () => undefined },
    ({ path, kind, facts }) => {
      if (kind === 'file' && facts) files.push({ path, sizeBytes: facts.size });
    },
  );
  return files;
}

/** Looks for files below a folder: by name and size first, and what is found so, by samples of its content. */
async function lookFor(
  at: { db: DataSource; stores: Stores; store: Store; folder: string },
  files: readonly KnownFile[],
  onDone: (done: number) => void,
): Promise<FoundFileRow[]> {
  const { store, folder } = at;
  const placed = findMoved(
    files.map(({ id, path, sizeBytes, store: of, root }) => ({ id, path, sizeBytes, place: `${of}\0${root}` })),
    await filesIn(placeIn(store, folder)),
  );
  const statedThen = await statedOfRolls(at, files);
  const statedNow = new Map<string, Promise<ReadonlyMap<string, Hashes>>>();
  const statedBelow = (root: string): Promise<ReadonlyMap<string, Hashes>> => {
    const known = statedNow.get(root) ?? statedIn(placeIn(store, root));
    statedNow.set(root, known);
    return known;
  };
  let done = 0;
  return inLanes(files, lanes, async (file, index): Promise<FoundFileRow> => {
    const where = placed[index] as MovedOriginal;
    const row = { clip: file.id, path: file.path, place: file.place, by: null, modifiedAt: null, sampled: null };
    onDone((done += 1));
    if (where.root === null) return { ...row, root: null, why: whyNot(where) };
    const root = under(folder, where.root);
    const seen = await holding(async (held) => {
      const open = await held.file(placeIn(store, root), file.path);
      return { modifiedAt: (await fileFacts(open))?.modifiedAt ?? null, sampled: await hashSamples(open) };
    }).catch((error: NodeJS.ErrnoException) => error);
    if (seen instanceof Error)
      return { ...row, root: null, why: `cannot be read there (${seen.code ?? seen.message})` };
    const then = { ...(file.roll === null ? {} : statedThen.get(file.roll)?.get(file.path)) };
    if (then.xxh3 === undefined && file.xxh3 !== null) then.xxh3 = file.xxh3;
    const found = sameOriginal({
      sampled: { then: file.sampled, now: seen.sampled },
      stated: inCommon(then, (await statedBelow(root)).get(file.path) ?? {}),
    });
    return found.same === null
      ? { ...row, ...seen, root: null, why: found.why }
      : { ...row, ...seen, root, by: found.same, why: '' };
  });
}

/** Carries a search out: claims it, looks, and keeps what it found. */
export async function carryOutSearch(
  { db, stores }: { db: DataSource; stores: Stores },
  id: string,
  leaving: AbortSignal,
): Promise<void> {
  const [[work]] = await db.query<[{ id: string }[], number]>(
    `UPDATE original_search
     SET state = 'looking', beat_at = now(), done = 0
     WHERE id = $1 AND (
       state = 'waiting' OR (state = 'looking' AND beat_at < now() - make_interval(secs => $2))
     )
     RETURNING id`,
    [id, leaseSeconds],
  );
  if (!work) return;
  const row = await db.manager.findOneByOrFail(originalSearch, { id });
  const files = await filesOf(db, row);
  let done = 0;
  const heart = beating(700, () =>
    db.manager.update(originalSearch, { id }, { done, total: files.length, beatAt: byItsClock }),
  );
  try {
    const store = await stores.get(row.storeId);
    if (!store || !(await isThere(store))) throw new Error(`${store?.name ?? row.storeId} is not there`);
    const found = await lookFor({ db, stores, store, folder: row.folder }, files, (now) => {
      leaving.throwIfAborted();
      done = now;
    });
    heart.stop();
    await patiently(() =>
      db.manager.update(originalSearch, { id }, { state: 'found', found, done: files.length, total: files.length }),
    );
  } catch (error) {
    heart.stop();
    const what = `${row.folder || 'The store'} could not be looked through: ${(error as Error).message}`;
    await patiently(() =>
      db.manager.update(
        originalSearch,
        { id },
        // Another worker goes on where this one leaves.
        leaving.aborted
          ? { state: 'waiting' }
          : { state: 'failed', problem: { what, remedy: 'See that the store is mounted, then look again' } },
      ),
    );
  } finally {
    heart.stop();
  }
  await tell(db, { kind: 'changed', what: 'originals', production: row.productionId });
}

/** Searches whose worker is gone, or whose job is lost. */
export async function orphanedSearches(db: DataSource): Promise<string[]> {
  const rows = await db.query<{ id: string }[]>(
    `SELECT id
     FROM original_search
     WHERE (state = 'looking' AND beat_at < now() - make_interval(secs => $1)) OR (
       state = 'waiting' AND created_at < now() - interval '3 seconds' AND NOT EXISTS (
         SELECT 1
         FROM pgboss.job
         WHERE job.name = 'search' AND job.state IN ('created', 'retry')
           AND job.data->>'search' = original_search.id::text
       )
     )`,
    [leaseSeconds],
  );
  return rows.map(({ id }) => id);
}
