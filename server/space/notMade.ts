import { under } from '@relay/core/naming/under';
import { realPathOf } from '@relay/work/disk/held';
import type { Store } from '@relay/work/disk/store';
import type { DataSource } from 'typeorm';

/**
 * Every place where an original lies, or a copy of one, or that a card was read from, in whichever production: nothing
 * that lies there was made here.
 */
export interface NotMade {
  has(store: string, path: string): boolean;
}

/** Folders that a path lies in, the nearest first. */
function foldersOf(path: string): string[] {
  const folders: string[] = [];
  for (let at = path.lastIndexOf('/'); at > 0; at = path.lastIndexOf('/', at - 1)) folders.push(path.slice(0, at));
  return folders;
}

/**
 * Reads them all. Stores may lie in one another, or be reached by links: places are compared as they really lie on this
 * machine.
 */
export async function placesNotMade(db: DataSource, stores: readonly Store[]): Promise<NotMade> {
  const roots = new Map(await Promise.all(stores.map(async ({ id, path }) => [id, await realPathOf(path)] as const)));
  const at = (store: string, path: string): string => under(roots.get(store) ?? `/${store}`, path);
  const clips = await db.query<{ store: string; root: string; path: string }[]>(
    'SELECT store_id AS store, root, path FROM clip',
  );
  const copies = await db.query<{ store: string; folder: string }[]>(
    `SELECT store_id AS store, folder
     FROM roll_copy
     UNION
     SELECT card_store, card_folder FROM roll WHERE card_folder <> '' OR card_store = ANY ($1::text[])`,
    [stores.filter(({ readOnly }) => readOnly).map(({ id }) => id)],
  );
  const files = new Set<string>();
  const around = new Set<string>();
  for (const { store, root, path } of clips) {
    const place = at(store, under(root, path));
    files.add(place);
    for (const folder of foldersOf(place)) {
      if (around.has(folder)) break;
      around.add(folder);
    }
  }
  const whole = new Set(copies.map(({ store, folder }) => at(store, folder)));
  return {
    has(store, path) {
      const place = at(store, path);
      // Itself; a folder that holds some; or anything in the folder that a card was copied to.
      return files.has(place) || around.has(place) || [place, ...foldersOf(place)].some((one) => whole.has(one));
    },
  };
}
