import type { FoldersAnswer, StoreAnswer } from '@relay/contract/site';
import { lookInto, storeSpace, type Store } from '@relay/work/disk/store';
import { bayStore } from '../arrivals/bay.ts';
import type { Context } from '../context.ts';
import { Refused } from '../http.ts';
import { promisedBytes } from '../runs/queries.ts';

/** Every store with its space, and what runs will still put on it. */
export async function storeAnswers({ db, stores }: Context): Promise<StoreAnswer[]> {
  const promised = await promisedBytes(db);
  return Promise.all(
    (await stores.list()).map(async ({ id, name, path, elsewhere = {}, marked }) => ({
      id,
      name,
      path,
      elsewhere,
      promisedBytes: promised.get(id) ?? 0,
      bay: id === bayStore,
      ...((await storeSpace({ id, name, path, ...(marked ? { marked } : {}) })) ?? {
        freeBytes: null,
        totalBytes: null,
      }),
    })),
  );
}

/** Folders of a folder. */
export async function foldersIn(store: Store, folder: string): Promise<FoldersAnswer> {
  try {
    return { folder, ...(await lookInto(store, folder)) };
  } catch {
    throw new Refused(404, {
      what: `${folder || store.name} cannot be opened`,
      remedy: 'See that the store is mounted',
    });
  }
}
