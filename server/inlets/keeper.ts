import { nothingNow } from '@relay/contract/inlets';
import type { Problem } from '@relay/core/result';
import { IsNull, type DataSource, type QueryRunner } from 'typeorm';
import { isDatabaseAway } from '../db/dataSource.ts';
import { inlet, inletThing, type InletRow } from '../db/entities/inlets.ts';
import { tell } from '../live/notify.ts';
import { RecipeGone, recipeGone } from './begin.ts';
import { endThings, noEnds, type Ends } from './conclude.ts';
import { beginDecided } from './decidedSince.ts';
import { forgetLost } from './lost.ts';
import { beginRolls } from './rolls.ts';
import { FollowedFolder, keepNow, tellMs, type KeeperTools } from './oneInlet.ts';

/** How often it is seen whether inlets were made, changed or paused, and decisions taken. */
const sweepMs = 1_500;
/** So many times as long as it took to see what has ended, it is not looked for again. */
const restsPerEnding = 20;
/** Whoever holds this lock in the database keeps the inlets: one process of a site. */
const lock = 'brisk relay inlets';

interface Kept {
  row: InletRow;
  folders: FollowedFolder[];
  /** How things ended since that was told last. */
  ends: Ends;
  /** When it is next seen what has ended. */
  endsDueMs: number;
  /** Waits to tell what is seen. */
  telling: NodeJS.Timeout | null;
}

/** Keeps all inlets that are on: follows their folders, and begins what was waited for. */
export class InletKeeper {
  private readonly kept = new Map<string, Kept>();
  /** Those that are being let go: what is read of them is read to its end. */
  private readonly ending = new Map<string, Promise<unknown>>();
  private holder: QueryRunner | null = null;
  private timer: NodeJS.Timeout | null = null;
  private sweeping: Promise<void> = Promise.resolve();
  private ended = false;

  constructor(private readonly tools: KeeperTools) {}

  start(): void {
    const next = (): void => {
      this.sweeping = this.sweep()
        .catch((error: Error) => (isDatabaseAway(error) ? undefined : this.tools.complain(error)))
        .finally(() => {
          if (!this.ended) this.timer = setTimeout(next, sweepMs);
        });
    };
    next();
  }

  async close(): Promise<void> {
    this.ended = true;
    if (this.timer) clearTimeout(this.timer);
    await this.sweeping;
    this.dropAll();
    await Promise.all(this.ending.values());
    await this.holder?.release().catch(() => undefined);
  }

  private async sweep(): Promise<void> {
    if (!(await this.isOurs())) {
      this.dropAll();
      return;
    }
    const rows = await this.tools.db.manager.find(inlet);
    const on = new Map(rows.filter(({ paused }) => !paused).map((row) => [row.id, row]));
    for (const [id, { row }] of this.kept) {
      const now = on.get(id);
      if (now?.version !== row.version || now.stirs !== row.stirs) this.drop(id);
    }
    for (const row of on.values()) if (!this.kept.has(row.id) && !this.ending.has(row.id)) await this.take(row);
    for (const row of on.values()) await this.beginWaiting(row);
  }

  /** Begins what an inlet waited for: rolls, decisions. What one cannot begin holds up no other. */
  private async beginWaiting(row: InletRow): Promise<void> {
    try {
      await forgetLost(this.tools.db, row);
      await beginRolls(this.tools, row);
      await beginDecided(this.tools, row);
      await this.endOf(row);
    } catch (error) {
      if (error instanceof RecipeGone) await standStill(this.tools.db, row, recipeGone);
      else if (isDatabaseAway(error)) throw error;
      else this.tools.complain(error as Error);
    }
  }

  /** Says how things ended, and tells it once nothing more is in hand. */
  private async endOf(row: InletRow): Promise<void> {
    const kept = this.kept.get(row.id);
    const from = performance.now();
    if (!kept || from < kept.endsDueMs) return;
    const { db, stores } = this.tools;
    const byPlace = new Map(kept.folders.map(({ followed }) => [followed.at.place, followed]));
    const ends = await endThings({ db, stores, followed: (place) => byPlace.get(place) }, row);
    // Of ten thousand things it takes a while: making them comes first.
    const now = performance.now();
    kept.endsDueMs = now + (now - from) * restsPerEnding;
    const before = kept.ends;
    kept.ends = { made: before.made + ends.made, eyes: before.eyes + ends.eyes, left: before.left + ends.left };
    if (ends.made + ends.eyes + ends.left > 0)
      await tell(db, { kind: 'changed', what: 'clips', production: row.productionId });
    const { made, left, eyes } = kept.ends;
    if (made + left + eyes === 0 || kept.folders.some(({ now }) => now.waiting > 0)) return;
    if (await db.manager.existsBy(inletThing, { inletId: row.id, endedAt: IsNull() })) return;
    kept.ends = noEnds();
    const { id: inletId, productionId: production, definition } = row;
    await tell(db, {
      kind: 'inlet',
      production,
      inlet: inletId,
      name: definition.name,
      made,
      left,
      eyes,
    });
  }

  /** Whether this process keeps the inlets: the lock goes with its connection, if that breaks or the process dies. */
  private async isOurs(): Promise<boolean> {
    try {
      this.holder ??= await this.connect();
      const [row] = (await this.holder.query(
        `SELECT EXISTS (
           SELECT 1 FROM pg_locks WHERE locktype = 'advisory' AND pid = pg_backend_pid() AND granted
         ) OR pg_try_advisory_lock(hashtext($1)) AS ours`,
        [lock],
      )) as { ours: boolean }[];
      return row?.ours ?? false;
    } catch (error) {
      await this.holder?.release().catch(() => undefined);
      this.holder = null;
      this.dropAll();
      throw error;
    }
  }

  private async connect(): Promise<QueryRunner> {
    const runner = this.tools.db.createQueryRunner();
    await runner.connect();
    return runner;
  }

  /** Begins to keep an inlet; one whose store is not known here is tried again with the next sweep. */
  private async take(row: InletRow): Promise<void> {
    const { source } = row.definition;
    const places = await Promise.all(
      (source.kind === 'folders' ? source.folders : []).map(async ({ store, folder }) => ({
        id: store,
        folder,
        store: await this.tools.stores.get(store),
      })),
    );
    const unknown = places.find(({ store }) => !store);
    if (unknown) {
      const what = `There is no store ${unknown.id} any more`;
      await standStill(this.tools.db, row, { what, remedy: 'Choose another folder for the inlet' });
      return;
    }
    const kept: Kept = { row, folders: [], ends: noEnds(), endsDueMs: 0, telling: null };
    this.kept.set(row.id, kept);
    await this.tools.coming.load(this.tools.db, row.id);
    const onNow = (): void => {
      kept.telling ??= setTimeout(() => {
        kept.telling = null;
        void keepNow(this.tools.db, row, kept.folders).catch(() => undefined);
      }, tellMs);
    };
    for (const { store, folder } of places)
      if (store) kept.folders.push(await FollowedFolder.begin(this.tools, row, { store, folder }, onNow));
    await keepNow(this.tools.db, row, kept.folders);
  }

  private dropAll(): void {
    for (const id of [...this.kept.keys()]) this.drop(id);
  }

  /** Lets an inlet go. Nothing waits for it but whoever would keep it again: a lot of files may be half read. */
  private drop(id: string): void {
    const kept = this.kept.get(id);
    this.kept.delete(id);
    if (!kept) return;
    if (kept.telling) clearTimeout(kept.telling);
    const ended = Promise.all(kept.folders.map((folder) => folder.end()))
      .catch((error: Error) => this.tools.complain(error))
      .finally(() => this.ending.delete(id));
    this.ending.set(id, ended);
  }
}

/** Says why an inlet begins nothing, where that is not said already. */
async function standStill(db: DataSource, { id, productionId, now }: InletRow, problem: Problem): Promise<void> {
  if (now.problem?.what === problem.what) return;
  await db.manager.update(inlet, { id }, { now: { ...nothingNow, problem }, lookedAt: new Date() });
  await tell(db, { kind: 'changed', what: 'inlets', production: productionId });
}
