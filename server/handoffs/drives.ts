import type { ReturnedDrive } from '@relay/contract/handoffs';
import { markName, readMark, type HandoffMark } from '@relay/core/handoff/mark';
import { isThere } from '@relay/work/disk/store';
import { holding, type Root } from '@relay/work/disk/held';
import { readText } from '@relay/work/disk/place';
import type { Context } from '../context.ts';
import { Refused } from '../http.ts';
import { handoffOr404 } from './queries.ts';

/** Folders of hand-offs that a drive is looked into for its mark, the newest first. */
const looked = 200;

/** What a folder says of whose it is; null where it says nothing. */
export async function markIn(at: Root): Promise<HandoffMark | null> {
  const text = await holding(async (held) => readText(await held.place(at, markName), 1e6)).catch(() => '');
  const read = readMark(text);
  return read.ok ? read.value : null;
}

/** Drives that are mounted now and that something of a production was handed off on: by their marks, wherever they are mounted. */
export async function returnedDrives(
  { db, roots }: Pick<Context, 'db' | 'roots'>,
  production: string,
): Promise<ReturnedDrive[]> {
  const drives = await roots.drives();
  if (drives.length === 0) return [];
  const handed = await db.query<{ id: string; name: string; folder: string }[]>(
    'SELECT id, name, folder FROM handoff WHERE production_id = $1 ORDER BY created_at DESC LIMIT 5000',
    [production],
  );
  const known = new Map(handed.map((one) => [one.id, one]));
  const folders = [...new Set(handed.map(({ folder }) => folder))].slice(0, looked);
  const found = await Promise.all(
    drives.flatMap(({ path }) =>
      folders.map(async (folder) => {
        const mark = await markIn({ root: path, folder });
        const last = mark?.handoffs.map(({ id }) => known.get(id)).findLast((one) => one?.folder === folder);
        return mark && last ? [{ root: path, folder, receiver: mark.called, handoff: last.id, name: last.name }] : [];
      }),
    ),
  );
  return found.flat();
}

/**
 * Has the drive that a hand-off went to be known where it is mounted now. @throws Refused where that drive carries another
 * mark, or none
 */
export async function knowDrive({ db, roots, stores }: Context, handoff: string, root: string): Promise<void> {
  const { storeId, folder, name } = await handoffOr404(db, handoff);
  const drive = await roots.root(root);
  const mark = await markIn({ root: drive.path, folder });
  if (!mark?.handoffs.some(({ id }) => id === handoff))
    throw new Refused(409, { what: `${drive.name} does not say that ${name} is on it`, remedy: 'Put its drive in' });
  const store = await stores.get(storeId);
  if (!store)
    throw new Refused(409, {
      what: `The store that ${name} went to is no longer known`,
      remedy: 'Add this drive under Site, then verify again',
    });
  // The mark of the hand-off says that it is this drive, where nobody could write the store's own.
  if (store.path !== drive.path && !(await isThere(store)))
    await roots.lies(store, { root: drive.path, folder: '' }, true);
}
