import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import type { Desk } from './desk/desk.ts';
import { notThere } from './http.ts';
import type { Store } from '@relay/work/disk/store';
import type { Stores } from './stores/stores.ts';

/** What every room of the server is given. */
export interface Context {
  db: DataSource;
  boss: PgBoss;
  stores: Stores;
  cacheFolder: string;
  /** Where what goes through a whole production is done. */
  desk: Desk;
}

export async function storeOr404({ stores }: { stores: Stores }, id: string): Promise<Store> {
  const store = await stores.get(id);
  if (!store) throw notThere('The store');
  return store;
}
