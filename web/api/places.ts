import type { newStore } from '@relay/contract/site';
import { siteRows } from '@relay/contract/routes/site';
import type { z } from 'zod';
import { ask } from './client.ts';

/** A folder: in a store, or below a root of this machine where no store holds it yet. */
export interface Place {
  /** Empty where the folder lies below a root. */
  store: string;
  folder: string;
  root?: string;
}

/** The same folder in a store: below a root, it is laid in one first, for what it is to be used. */
export async function settled(
  place: Place,
  use: z.input<typeof newStore>['use'],
): Promise<{ store: string; folder: string }> {
  if (place.root === undefined) return { store: place.store, folder: place.folder };
  const { store, folder } = await ask(siteRows.addStore, { body: { root: place.root, folder: place.folder, use } });
  return { store: store.id, folder };
}
