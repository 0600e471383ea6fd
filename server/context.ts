import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import type { Desk } from './desk/desk.ts';
import { notThere, Refused } from './http.ts';
import type { Store } from '@relay/work/disk/store';
import type { Roots } from './stores/roots.ts';
import type { Stores } from './stores/stores.ts';

/** What every room of the server is given. */
export interface Context {
  db: DataSource;
  boss: PgBoss;
  stores: Stores;
  /** Folders and drives that stores may be added from. */
  roots: Roots;
  /** Below it lies what is made of the demo. */
  demoFolder: string;
  cacheFolder: string;
  /** Where what goes through a whole production is done. */
  desk: Desk;
}

export async function storeOr404({ stores }: { stores: Stores }, id: string): Promise<Store> {
  const store = await stores.get(id);
  if (!store) throw notThere('The store');
  return store;
}

/** A store that something may be made on. */
export async function writableStore(context: { stores: Stores }, id: string): Promise<Store> {
  const store = await storeOr404(context, id);
  if (store.readOnly)
    throw new Refused(409, {
      what: `${store.name} is only read from: nothing is written to a card, or to what is mounted so`,
      remedy: 'Choose another store',
    });
  return store;
}
