import { under } from '@relay/core/naming/under';
import type { Place } from '@relay/work/disk/held';
import { folderFreeFor, moveAll } from '@relay/work/disk/moved';
import { isThere, placeIn, type Store } from '@relay/work/disk/store';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { inletThing, type MovingThing } from '../db/entities/inlets.ts';

/** Originals of an inlet that are moved to another folder of it, and everything that is known of them with them. */

/** Where an inlet's folder lies: in the database, and on the disk. */
export interface InletFolder {
  inlet: string;
  /** Its key among the inlet's places. */
  place: string;
  store: Store;
  folder: string;
}

/** The folder of an inlet that a thing was taken up in. */
export async function folderOfPlace(
  { inlet, place }: { inlet: string; place: string },
  storeOf: (id: string) => Promise<Store>,
): Promise<InletFolder> {
  const [id = '', folder = ''] = JSON.parse(place) as string[];
  const store = await storeOf(id);
  return { inlet, place, store, folder };
}

/** An inlet's folder as places lie below it. */
export const rootOf = ({ store, folder }: InletFolder): Place => placeIn(store, folder);

/** Things that lie in one folder and are moved as one: their ids, and their files' paths as they arrived. */
export interface Movable {
  ids: readonly string[];
  paths: readonly string[];
  lies: string;
}

/** What stands in a move's way: work on the originals that is not done, or another place that leads to them. */
export async function hindrance(
  db: DataSource,
  at: InletFolder,
  { paths, lies }: Movable,
): Promise<{ why: string } | 'waits' | null> {
  const root = under(at.folder, lies);
  const [busy] = await db.query<{ busy: boolean }[]>(
    `SELECT EXISTS (
       SELECT 1
       FROM clip
       WHERE store_id = $1 AND root = $2 AND path = ANY($3) AND (
         (description IS NOT NULL AND refusal IS NULL AND looked_at IS NULL AND look_problem IS NULL)
         OR EXISTS (
           SELECT 1 FROM leg WHERE leg.clip_id = clip.id AND leg.state IN ('waiting', 'held', 'running', 'proving')
         )
       )
     ) AS busy`,
    [at.store.id, root, paths],
  );
  if (busy?.busy) return 'waits';
  const [other] = await db.query<{ production: string; root: string }[]>(
    `SELECT production.name AS production, clip.root
     FROM clip
     JOIN production ON production.id = clip.production_id
     WHERE clip.store_id = $1 AND clip.root <> $2 AND concat_ws('/', nullif(clip.root, ''), clip.path) = ANY($3)
     LIMIT 1`,
    [at.store.id, root, paths.map((path) => under(root, path))],
  );
  if (!other) return null;
  return { why: `${other.production} has read it in ${other.root || 'the store itself'}, and would lose it` };
}

/** Whether the production knows other clips by the paths that things would have in a folder of the inlet. */
export async function isKnownIn(
  db: DataSource,
  at: InletFolder,
  paths: readonly string[],
  folder: string,
): Promise<boolean> {
  const [row] = await db.query<{ known: boolean }[]>(
    'SELECT EXISTS (SELECT 1 FROM clip WHERE store_id = $1 AND root = $2 AND path = ANY($3)) AS known',
    [at.store.id, under(at.folder, folder), paths],
  );
  return row?.known ?? false;
}

/** Writes a move down before it is made: into the first folder of its kind where all its names are free. */
export async function intendMove(
  db: DataSource,
  at: InletFolder,
  { ids, paths, lies }: Movable,
  { names, wanted }: { names: string[]; wanted: string },
): Promise<MovingThing> {
  for (let turn = 1; ; turn += 1) {
    const free = await folderFreeFor(rootOf(at), wanted, names, turn);
    turn = free.turn;
    // A clip that lay there once keeps its place in the production, although its file is gone.
    const [row] = await db.query<{ taken: boolean }[]>(
      'SELECT EXISTS (SELECT 1 FROM inlet_file WHERE inlet_id = $1 AND place = $2 AND path = ANY($3)) AS taken',
      [at.inlet, at.place, paths.map((path) => under(free.folder, path))],
    );
    if (row?.taken || (await isKnownIn(db, at, paths, free.folder))) continue;
    const moving = { from: lies, to: free.folder, names };
    await db.manager.update(inletThing, { id: In([...ids]) }, { moving });
    return moving;
  }
}

/**
 * Makes a move that is written down, also one that was broken off in the middle: all of it or nothing.
 * @throws what keeps it from being made: everything lies where it did, and no move is written down any more
 */
export async function carryOut(
  db: DataSource,
  at: InletFolder,
  { ids, paths }: Movable,
  { from, to, names }: MovingThing,
): Promise<void> {
  // What is not mounted has none of the names, and keeps what is written down for when it is.
  if (!(await isThere(at.store))) throw new StoreAway(`${at.store.name} is not there`);
  try {
    await moveAll(rootOf(at), names, { from, to });
  } catch (error) {
    await db.manager.update(inletThing, { id: In([...ids]) }, { moving: null });
    throw error;
  }
  await db.transaction((tx) => follow(tx, at, { ids, paths, lies: from }, { to, names }));
}

/** Thrown where a move's store is not there: it is made when that is back. */
export class StoreAway extends Error {}

/** Has everything that is known of originals say where they lie now. Their own paths stay: the folder is another. */
async function follow(
  tx: EntityManager,
  at: InletFolder,
  { ids, paths, lies }: Movable,
  { to, names }: Pick<MovingThing, 'to' | 'names'>,
): Promise<void> {
  await tx.query('UPDATE clip SET root = $4 WHERE store_id = $1 AND root = $2 AND path = ANY($3)', [
    at.store.id,
    under(at.folder, lies),
    paths,
    under(at.folder, to),
  ]);
  // Of what lay there before it was moved away nothing is known any more.
  await tx.query('DELETE FROM inlet_file WHERE inlet_id = $1 AND place = $2 AND path = ANY($3)', [
    ...[at.inlet, at.place],
    paths.map((path) => under(to, path)),
  ]);
  await tx.query(
    `UPDATE inlet_file
     SET path = $4 || substr(path, $3)
     WHERE inlet_id = $1 AND place = $2 AND path = ANY($5)`,
    [at.inlet, at.place, under(lies, 'x').length, under(to, 'x').slice(0, -1), paths.map((path) => under(lies, path))],
  );
  await tx.update(inletThing, { id: In([...ids]) }, { lies: to, names, moving: null });
}
