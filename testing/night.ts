import type { LegState } from '@relay/contract/states';
import { isRefusal } from '@relay/core/clip/description';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { describeFile } from '@relay/media/describe/describe';
import { planClips, type ClipToRun } from '@relay/server/runs/plans';
import { startRun } from '@relay/server/runs/service';
import { keepSetting } from '@relay/server/site/settings';
import { startWorker, type WorkerSettings } from '@relay/server/worker';
import { cp, mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, beforeEach } from 'vitest';
import { startDatabase, type TestDatabase } from './database.ts';
import { saltLantern } from './demo.ts';

export const proxyOnly: Recipe = { ...finishAndCut, deliverables: finishAndCut.deliverables.slice(1) };
export const finishOnly: Recipe = { ...finishAndCut, deliverables: finishAndCut.deliverables.slice(0, 1) };

interface LegNow {
  id: string;
  state: LegState;
  worker: string | null;
  attempts: number;
  problem: { what: string } | null;
}

/**
 * A production and workers of a test file's own, real but for the page: one of the demo's clips several times over in
 * the store Estuary, and Shuttle for outputs. Every test has a folder of its own there; workers end with it.
 */
export class Night {
  database!: TestDatabase;
  production = '';
  /** Counts the folders of outputs. */
  folder = 0;
  private running: { close(): Promise<void> }[] = [];

  async open(): Promise<void> {
    this.database = await startDatabase();
    const { home, stores, db } = this.database;
    const cards = join(home, 'estuary/cards');
    await mkdir(cards, { recursive: true });
    await mkdir(join(home, 'shuttle'));
    for (let n = 1; n <= 4; n += 1) await cp(join(saltLantern, 'day-1/C001/C001C012.mov'), join(cards, `C00${n}.mov`));
    await stores.put('Estuary', join(home, 'estuary'));
    await stores.put('Shuttle', join(home, 'shuttle'));
    const [row] = await db.query<{ id: string }[]>(
      `INSERT INTO production (name) VALUES ('Salt Lantern') RETURNING id`,
    );
    this.production = row?.id as string;
  }

  /** Ends the workers of a test. */
  async over(): Promise<void> {
    await Promise.all(this.running.map((worker) => worker.close()));
    this.running = [];
    await keepSetting(this.database.db, 'quiet', null);
  }

  /** One more worker. */
  async work(more: Partial<WorkerSettings> = {}): Promise<void> {
    this.running.push(
      await startWorker({
        databaseUrl: this.database.workerUrl,
        storesFile: this.database.storesFile,
        cacheFolder: join(this.database.home, 'cache'),
        slots: 1,
        title: 'one',
        codecs: null,
        legsOnly: true,
        ...more,
      }),
    );
  }

  /** Stores as another machine has them: a list of its own. */
  async storesFile(name: string, wanted: readonly string[]): Promise<string> {
    const file = join(this.database.home, `${name}.json`);
    const all = await this.database.stores.list();
    await writeFile(file, JSON.stringify(all.filter(({ id }) => wanted.includes(id))));
    return file;
  }

  /** So many of the clips, known to the production. */
  async clipsOf(count: number): Promise<ClipToRun[]> {
    const { db, home } = this.database;
    const clips: ClipToRun[] = [];
    for (let n = 1; n <= count; n += 1) {
      const path = `C00${n}.mov`;
      const description = await describeFile(join(home, 'estuary/cards', path), path);
      if (isRefusal(description)) throw new Error(description.problem.what);
      const [clip] = (await db
        .query(
          `INSERT INTO clip (production_id, store_id, root, path, stem, roll, description, size_bytes) VALUES ($1, 'estuary', $2, $3, $4, 'C001', $5, $6) RETURNING id`,
          [
            this.production,
            'cards',
            path,
            `C00${n}-${this.folder}`,
            JSON.stringify(description),
            description.sizeBytes,
          ],
        )
        .catch(async () =>
          db.query('SELECT id FROM clip WHERE production_id = $1 AND path = $2', [this.production, path]),
        )) as { id: string }[];
      clips.push({
        id: clip?.id as string,
        storeId: 'estuary',
        root: 'cards',
        readAs: null,
        path,
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
    return clips;
  }

  /** Starts a run of so many clips; answers its id. */
  async begin(count: number, recipe: Recipe = proxyOnly, store = 'shuttle'): Promise<string> {
    const { db, boss } = this.database;
    const clips = await this.clipsOf(count);
    return startRun(
      db,
      boss,
      {
        production: this.production,
        name: `Night ${this.folder}`,
        recipe,
        from: null,
        store,
        folder: `out-${this.folder}`,
      },
      planClips(clips, recipe),
    );
  }

  async legsOf(run: string): Promise<LegNow[]> {
    return this.database.db.query<LegNow[]>(
      'SELECT id, state, worker, attempts, problem FROM leg WHERE run_id = $1 ORDER BY ordinal',
      [run],
    );
  }

  allAre(run: string, state: LegState): () => Promise<boolean> {
    return async () => (await this.legsOf(run)).every((leg) => leg.state === state);
  }

  /** The log of a run's one leg. */
  async logOf(run: string): Promise<string> {
    const [leg] = await this.database.db.query<{ log: string }[]>('SELECT log FROM leg WHERE run_id = $1', [run]);
    return leg?.log ?? '';
  }
}

/** A night for a test file: opened before its tests, a folder further at each, closed after them. */
export function useNight(): Night {
  const night = new Night();
  beforeAll(() => night.open());
  afterAll(() => night.database?.close());
  beforeEach(() => {
    night.folder += 1;
  });
  afterEach(() => night.over());
  return night;
}
