import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import { openDatabase, patiently } from '../db/dataSource.ts';
import { openQueue } from '../queue/boss.ts';
import { Stores } from '../stores/stores.ts';

/** Where a desk's threads find what the server works with. */
export interface DeskSettings {
  databaseUrl: string;
  storesFile: string;
}

/** What a task at the desk is given. */
export interface Tools {
  db: DataSource;
  boss: PgBoss;
  stores: Stores;
  /** Aborted when nobody wants the answer any more. */
  signal: AbortSignal;
}

/** Opens them when they are first wanted; what failed is tried again by who asks next. */
export function openTools(settings: DeskSettings): () => Promise<Omit<Tools, 'signal'>> {
  let opened: Promise<Omit<Tools, 'signal'>> | null = null;
  return () => {
    opened ??= open(settings).catch((error: unknown) => {
      opened = null;
      throw error;
    });
    return opened;
  };
}

async function open({ databaseUrl, storesFile }: DeskSettings): Promise<Omit<Tools, 'signal'>> {
  const db = await patiently(() => openDatabase(databaseUrl, false, 2), 10_000);
  return { db, boss: await openQueue(databaseUrl, () => undefined, false, 1), stores: new Stores(storesFile) };
}
