import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import { notThere } from './http.ts';
import type { Store, Stores } from './stores/stores.ts';

/** What every room of the server is given. */
export interface Context {
  db: DataSource;
  boss: PgBoss;
  stores: Stores;
  cacheFolder: string;
}

export async function storeOr404(context: Context, id: string): Promise<Store> {
  const store = await context.stores.get(id);
  if (!store) throw notThere('The store');
  return store;
}
