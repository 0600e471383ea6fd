import { under } from '@relay/core/naming/under';
import { diskProblem } from '@relay/work/disk/diskProblem';
import type { Place } from '@relay/work/disk/held';
import type { Store } from '@relay/work/disk/store';
import { folderFreeFor, moveTo } from '@relay/work/disk/moved';
import { NameTaken, takenAmong } from '@relay/work/disk/place';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { inletThing, type MovingThing } from '../db/entities/inlets.ts';

/** Originals of an inlet that are moved to another folder of it, and everything that is known of them with them. */

/** Where an inlet's folder lies: in the database, and on the disk. */
export interface InletFolder {
  inlet: string;
  /** Its key among the inlet's places. */
  place: string;
  store: string;
  folder: string;
  root: Place;
}

/** The folder of an inlet that a thing was taken up in. */
export async function folderOfPlace(
  { inlet, place }: { inlet: string; place: string },
  storeOf: (id: string) => Promise<Store>,
): Promise<InletFolder> {
  const [id = '', folder = ''] = JSON.parse(place) as string[];
  const store = await storeOf(id);
  return { inlet, place, store: store.id, folder, root: { root: store.path, folder } };
}

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
): Promise<{ waits: true } | { stays: string } | null> {
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
    [at.store, root, paths],
  );
  if (busy?.busy) return { waits: true };
  const [other] = await db.query<{ production: string; root: string }[]>(
    `SELECT production.name AS production, clip.root
     FROM clip
     JOIN production ON production.id = clip.production_id
     WHERE clip.store_id = $1 AND clip.root <> $2 AND concat_ws('/', nullif(clip.root, ''), clip.path) = ANY($3)
     LIMIT 1`,
    [at.store, root, paths.map((path) => under(root, path))],
  );
  if (!other) return null;
  return { stays: `${other.production} has read it in ${other.root || 'the store itself'}, and would lose it` };
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
    [at.store, under(at.folder, folder), paths],
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
    const free = await folderFreeFor(at.root, wanted, names, turn);
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
 * Makes a move that is written down, also one that was broken off in the middle. Answers where the things lie then, and
 * why not all of it could be moved, if so.
 */
export async function carryOut(
  db: DataSource,
  at: InletFolder,
  { ids, paths }: Movable,
  { from, to, names }: MovingThing,
): Promise<{ lies: string; stays: string | null }> {
  for (const name of names) {
    try {
      await moveTo(at.root, under(from, name), under(to, name));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') continue;
      // It went there before this process began; else somebody else has the name.
      const gone = (await takenAmong(at.root, [under(from, name)])).length === 0;
      if (error instanceof NameTaken && gone) continue;
      const { what } = diskProblem(error, under(from, name));
      await db.manager.update(inletThing, { id: In([...ids]) }, { moving: null });
      return { lies: from, stays: what };
    }
  }
  await db.transaction((tx) => follow(tx, at, { ids, paths, lies: from }, { to, names }));
  return { lies: to, stays: null };
}

/** Has everything that is known of originals say where they lie now. Their own paths stay: the folder is another. */
async function follow(
  tx: EntityManager,
  at: InletFolder,
  { ids, paths, lies }: Movable,
  { to, names }: Pick<MovingThing, 'to' | 'names'>,
): Promise<void> {
  await tx.query('UPDATE clip SET root = $4 WHERE store_id = $1 AND root = $2 AND path = ANY($3)', [
    at.store,
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
