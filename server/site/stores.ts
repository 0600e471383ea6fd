import type { z } from 'zod';
import type { FoldersAnswer, newStore, SettledAnswer, StoreAnswer } from '@relay/contract/site';
import { diskOf } from '@relay/work/disk/disk';
import { isWithin } from '@relay/work/disk/mounts';
import { lookInto, storeSpace, type Store } from '@relay/work/disk/store';
import { bayStore } from '../stores/stores.ts';
import type { Context } from '../context.ts';
import { notThere, Refused } from '../http.ts';
import { promisedBytes } from '../runs/queries.ts';

/** Every store with its space, and what runs will still put on it. */
export async function storeAnswers({ db, stores, demoFolder }: Context): Promise<StoreAnswer[]> {
  const promised = await promisedBytes(db);
  return Promise.all(
    (await stores.list()).map(async (store) => ({
      id: store.id,
      name: store.name,
      path: store.path,
      elsewhere: store.elsewhere ?? {},
      before: store.before ?? null,
      promisedBytes: promised.get(store.id) ?? 0,
      bay: store.id === bayStore,
      readOnly: store.readOnly ?? false,
      disk: await diskOf(store.path),
      demo: demoFolder !== '' && isWithin(store.path, demoFolder),
      ...((await storeSpace(store)) ?? { freeBytes: null, totalBytes: null }),
    })),
  );
}

/** Has a folder of this machine lie in a store, and says which. */
export async function settleStore(context: Context, wanted: z.output<typeof newStore>): Promise<SettledAnswer> {
  const settled = await context.roots.settle(wanted);
  const store = (await storeAnswers(context)).find((one) => one.id === settled.store.id);
  if (!store) throw notThere('The store');
  return { store, folder: settled.folder };
}

/** Where a store is spoken of: what was read from it, brought to it or made on it. */
const usesOf = `
  SELECT
    (SELECT count(*) FROM clip WHERE store_id = $1)::int AS clips,
    (SELECT count(*) FROM roll_copy WHERE store_id = $1)::int
      + (SELECT count(*) FROM roll WHERE card_store = $1 AND state <> 'proved')::int AS copies,
    (SELECT count(*) FROM run WHERE store_id = $1)::int AS runs`;

/** Takes a store off the list, where nothing that is known lies on it; its files stay as they are. */
export async function forgetStore({ db, stores }: Context, store: Store): Promise<void> {
  const [uses] = await db.query<{ clips: number; copies: number; runs: number }[]>(usesOf, [store.id]);
  const used = uses && uses.clips + uses.copies + uses.runs > 0;
  if (used)
    throw new Refused(409, {
      what: `${store.name} holds clips, copies of rolls or outputs that productions know`,
      remedy: 'Remove those readings and runs first; nothing on the disk is touched by that',
    });
  await stores.forget(store.id);
}

/**
 * Folders of a folder.
 * @throws Refused, which tells a folder that is not there from a store that is away
 */
export async function foldersIn(store: Store, folder: string): Promise<FoldersAnswer> {
  try {
    return { folder, ...(await lookInto(store, folder)) };
  } catch (error) {
    const gone = folder !== '' && (error as NodeJS.ErrnoException).code === 'ENOENT';
    const around = gone ? await lookInto(store, '').catch(() => null) : null;
    if (around)
      throw new Refused(404, {
        what: `${store.name} has no folder ${folder}`,
        remedy: 'Choose another',
        kind: 'no such folder',
      });
    throw new Refused(404, {
      what: `${folder || store.name} cannot be opened`,
      remedy: 'See that the store is mounted',
    });
  }
}
