import { chmod, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DataSource } from 'typeorm';
import type PgBoss from 'pg-boss';
import { startPostgres } from '@relay/cli/site/postgres';
import { sampleClip } from '@relay/core/clip/sample';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { grantToWorkers } from '@relay/server/db/grants';
import { openDatabase } from '@relay/server/db/dataSource';
import { openQueue, prepareQueue } from '@relay/server/queue/boss';
import { planClips, type ClipToRun } from '@relay/server/runs/plans';
import { startRun } from '@relay/server/runs/service';
import { Stores } from '@relay/server/stores/stores';

/** A real PostgreSQL of a test's own, migrated, with its queue and two stores. */
export interface TestDatabase {
  url: string;
  workerUrl: string;
  db: DataSource;
  boss: PgBoss;
  stores: Stores;
  storesFile: string;
  home: string;
  close(): Promise<void>;
}

export async function startDatabase(): Promise<TestDatabase> {
  const home = await mkdtemp(join(tmpdir(), 'relay-db-'));
  await chmod(home, 0o755);
  const postgres = await startPostgres({
    dataFolder: join(home, 'database'),
    secretFile: join(home, 'secret'),
    logFolder: join(home, 'log'),
  });
  const db = await openDatabase(postgres.url, true);
  await prepareQueue(postgres.url);
  await grantToWorkers(db);
  const boss = await openQueue(postgres.url, () => undefined);
  const storesFile = join(home, 'stores.json');
  const stores = new Stores(storesFile);
  return {
    url: postgres.url,
    workerUrl: postgres.workerUrl,
    db,
    boss,
    stores,
    storesFile,
    home,
    async close() {
      await boss.stop({ graceful: false, wait: true });
      await db.destroy();
      await postgres.stop();
      await rm(home, { recursive: true, force: true });
    },
  };
}

/** A production with invented clips, one for each stem. */
export async function inventProduction(
  db: DataSource,
  name: string,
  stems: readonly string[],
): Promise<{ production: string; clips: ClipToRun[] }> {
  const [row] = await db.query<{ id: string }[]>('INSERT INTO production (name) VALUES ($1) RETURNING id', [name]);
  const production = row?.id as string;
  const clips: ClipToRun[] = [];
  for (const stem of stems) {
    const description = sampleClip({ path: `A001/${stem}.mov`, stem });
    const [clip] = await db.query<{ id: string }[]>(
      `INSERT INTO clip (production_id, store_id, root, path, stem, roll, description, size_bytes) VALUES ($1, 'estuary', 'cards', $2, $3, 'A001', $4, 5000000) RETURNING id`,
      [production, description.path, stem, JSON.stringify(description)],
    );
    clips.push({
      id: clip?.id as string,
      storeId: 'estuary',
      root: 'cards',
      readAs: null,
      path: description.path,
      description,
      reel: null,
      scene: null,
      take: null,
      camera: null,
      production: 'Salt Lantern',
      inForce: {},
      looked: true,
      findings: [],
      decisions: [],
    });
  }
  return { production, clips };
}

/** A run over such clips; returns its id and its legs in order. */
export async function inventRun(
  database: TestDatabase,
  production: string,
  clips: readonly ClipToRun[],
  folder = 'out',
): Promise<{ run: string; legs: string[] }> {
  const run = await startRun(
    database.db,
    database.boss,
    { production, name: 'Night', recipe: finishAndCut, from: null, store: 'shuttle', folder },
    planClips(clips, finishAndCut),
  );
  const rows = await database.db.query<
    {
      id: string;
    }[]
  >('SELECT id FROM leg WHERE run_id = $1 ORDER BY ordinal', [run]);
  return { run, legs: rows.map((row) => row.id) };
}
