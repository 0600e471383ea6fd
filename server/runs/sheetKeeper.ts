import type { OutputPlace } from '@relay/core/recipe/recipe';
import type { RelinkRow } from '@relay/core/relink/sheet';
import type { DataSource } from 'typeorm';
import { holding } from '@relay/work/disk/held';
import { isThere, placeIn } from '@relay/work/disk/store';
import type { Stores } from '../stores/stores.ts';
import { mergeIntoSheet } from '@relay/work/leg/sheet';

/** The lines of every output that stands in a folder of a store, as the database knows them. */
export async function relinkRows(db: DataSource, { store, folder }: OutputPlace): Promise<RelinkRow[]> {
  const rows = await db.query<{ relink: RelinkRow }[]>(
    `SELECT DISTINCT ON (output.path) output.relink
     FROM output
     WHERE store_id = $1 AND folder = $2 AND relink IS NOT NULL AND state IN ('proved', 'needs eyes')
     ORDER BY path, created_at DESC`,
    [store, folder],
  );
  return rows.map((row) => row.relink);
}

/**
 * So many times as long as writing took, nothing is written again, up to a minute: sheets of thousands of lines take a
 * second each time.
 */
const [restsPerWriting, longestRestMs] = [60, 60_000];

/**
 * Writes relink sheets beside the outputs, a little behind the legs, so that ten thousand legs do not write ten
 * thousand sheets. Several workers take turns by a lock in the database.
 */
export class SheetKeeper {
  private readonly stale = new Set<string>();
  private readonly timer: NodeJS.Timeout;
  private writing: Promise<void> = Promise.resolve();
  private restsUntil = 0;

  constructor(
    private readonly db: DataSource,
    private readonly stores: Stores,
    private readonly complain: (error: Error) => void,
  ) {
    this.timer = setInterval(() => {
      if (performance.now() >= this.restsUntil) void this.writeStale();
    }, 1_500);
  }

  add(store: string, folder: string): void {
    this.stale.add(JSON.stringify([store, folder]));
  }

  /** Sheets that a worker which was killed may have left behind their outputs. */
  async addRecent(): Promise<void> {
    const rows = await this.db.query<{ store: string; folder: string }[]>(
      `SELECT DISTINCT output.store_id AS store, output.folder
       FROM output
       JOIN leg ON leg.id = output.leg_id
       WHERE leg.started_at > now() - interval '2 days'`,
    );
    rows.forEach((row) => this.add(row.store, row.folder));
  }

  writeStale(): Promise<void> {
    this.writing = this.writing.then(async () => {
      const begun = performance.now();
      for (const key of [...this.stale]) {
        this.stale.delete(key);
        const [store, folder] = JSON.parse(key) as [string, string];
        await this.writeOne(store, folder).catch((error: Error) => {
          this.stale.add(key);
          this.complain(error);
        });
      }
      this.restsUntil = performance.now() + Math.min(longestRestMs, (performance.now() - begun) * restsPerWriting);
    });
    return this.writing;
  }

  private async writeOne(storeId: string, folder: string): Promise<void> {
    const store = await this.stores.get(storeId);
    if (!store) return;
    // Where it is not mounted, a folder would be made on another disk: it is written when the store is back.
    if (!(await isThere(store))) throw new Error(`${store.name} is not there`);
    await this.db.transaction(async (tx) => {
      await tx.query('SELECT pg_advisory_xact_lock(hashtext($1))', [`relink ${storeId} ${folder}`]);
      const rows = await relinkRows(this.db, { store: storeId, folder });
      if (rows.length === 0) return;
      await holding(async (held) => mergeIntoSheet(await held.folder(placeIn(store, folder), '', true), rows));
    });
  }

  async close(): Promise<void> {
    clearInterval(this.timer);
    await this.writeStale();
  }
}
