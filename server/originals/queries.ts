import type { FoundRoll, SearchAnswer, SearchLine } from '@relay/contract/originals';
import type { DataSource } from 'typeorm';
import { originalSearch, type OriginalSearchRow } from '../db/entities/originalSearches.ts';
import { notThere } from '../http.ts';
import type { Stores } from '../stores/stores.ts';

/** So many misfits of a roll are told. */
const shown = 200;

function lineOf(
  row: Omit<OriginalSearchRow, 'found' | 'before'>,
  taken: number,
  stores: ReadonlyMap<string, string>,
): SearchLine {
  return {
    id: row.id,
    store: row.storeId,
    storeName: stores.get(row.storeId) ?? row.storeId,
    folder: row.folder,
    state: row.state,
    total: row.total,
    done: row.done,
    problem: row.problem,
    who: row.who,
    createdAt: row.createdAt.toISOString(),
    taken,
  };
}

async function storeNames(stores: Stores): Promise<Map<string, string>> {
  return new Map((await stores.list()).map(({ id, name }) => [id, name]));
}

/** Searches of a production, the newest first. */
export async function searchLines(db: DataSource, stores: Stores, production: string): Promise<SearchLine[]> {
  const rows = await db.manager.find(originalSearch, {
    select: {
      ...{ id: true, productionId: true, storeId: true, folder: true, state: true, total: true, done: true },
      ...{ problem: true, who: true, createdAt: true, lookedFor: true, beatAt: true, takenAt: true, undoneAt: true },
    },
    where: { productionId: production },
    order: { createdAt: 'DESC' },
    take: 50,
  });
  const counts = await db.query<{ id: string; taken: number }[]>(
    `SELECT id, coalesce(json_array_length(before->'clips'), 0)::int AS taken FROM original_search WHERE id = ANY ($1::uuid[])`,
    [rows.map(({ id }) => id)],
  );
  const taken = new Map(counts.map((row) => [row.id, row.taken]));
  const names = await storeNames(stores);
  return rows.map((row) => lineOf(row, taken.get(row.id) ?? 0, names));
}

/** What a search found, roll by roll. */
export async function searchAnswer(db: DataSource, stores: Stores, id: string): Promise<SearchAnswer> {
  const row = await db.manager.findOneBy(originalSearch, { id });
  if (!row) throw notThere('The search');
  return {
    ...lineOf(row, row.before?.clips.length ?? 0, await storeNames(stores)),
    rolls: row.found === null ? [] : row.lookedFor.map((_, place) => foundRollOf(row, place)),
  };
}

function foundRollOf({ lookedFor, found, storeId }: OriginalSearchRow, place: number): FoundRoll {
  const was = lookedFor[place] as FoundRoll;
  const files = (found ?? []).filter((file) => file.place === place);
  const here = (root: string | null): boolean => was.store === storeId && was.folder === root;
  const moved = files.filter(({ root }) => root !== null && !here(root));
  const misfits = files.filter(({ root }) => root === null);
  const known = (by: string): number => moved.filter((file) => file.by === by).length;
  return {
    ...was,
    files: files.length,
    ...{ samples: known('samples'), manifest: known('manifest'), size: known('size') },
    roots: [...new Set(moved.flatMap(({ root }) => root ?? []))].sort(),
    same: files.filter(({ root }) => root !== null && here(root)).length,
    misfits: misfits.slice(0, shown).map(({ path, why }) => ({ path, why })),
    misfitCount: misfits.length,
  };
}
