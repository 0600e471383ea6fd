import { DataSource } from 'typeorm';
import { entities } from './entities/all.ts';
import { FirstLeg1763900000000 } from './migrations/1763900000000-firstLeg.ts';
import { Arrivals1764000000000 } from './migrations/1764000000000-arrivals.ts';
import { Colour1764100000000 } from './migrations/1764100000000-colour.ts';
import { Corrections1764200000000 } from './migrations/1764200000000-corrections.ts';
import { Images1764300000000 } from './migrations/1764300000000-images.ts';
import { Recipes1764400000000 } from './migrations/1764400000000-recipes.ts';
import { Runs1764500000000 } from './migrations/1764500000000-runs.ts';
import { Workers1764600000000 } from './migrations/1764600000000-workers.ts';
import { ManyLegs1764700000000 } from './migrations/1764700000000-manyLegs.ts';
import { Segments1764800000000 } from './migrations/1764800000000-segments.ts';
import { Blame1764900000000 } from './migrations/1764900000000-blame.ts';
import { PlansAsText1765000000000 } from './migrations/1765000000000-plansAsText.ts';
import { SheetFromIndex1765100000000 } from './migrations/1765100000000-sheetFromIndex.ts';
import { GroupsByCamera1765200000000 } from './migrations/1765200000000-groupsByCamera.ts';
import { DisksOfCopies1765300000000 } from './migrations/1765300000000-disksOfCopies.ts';
import { Places1765400000000 } from './migrations/1765400000000-places.ts';
import { Patterns1765500000000 } from './migrations/1765500000000-patterns.ts';
import { Inlets1765600000000 } from './migrations/1765600000000-inlets.ts';
import { Looks1765700000000 } from './migrations/1765700000000-looks.ts';
import { Measurings1765800000000 } from './migrations/1765800000000-measurings.ts';
import { Cuts1765900000000 } from './migrations/1765900000000-cuts.ts';
import { Handoffs1766100000000 } from './migrations/1766100000000-handoffs.ts';
import { OriginalSearches1766200000000 } from './migrations/1766200000000-originalSearches.ts';
import { Removals1766300000000 } from './migrations/1766300000000-removals.ts';
import { LostDrives1766400000000 } from './migrations/1766400000000-lostDrives.ts';
import { Pulls1766000000000 } from './migrations/1766000000000-pulls.ts';

/**
 * What every session begins with. Plans and descriptions are kept compressed: by LZ4 ten thousand plans were
 * written in 0.8 and 1.1 s, in 16 MB; as PostgreSQL does by itself, in 1.4 and 1.7, in 14. Ten thousand clips are sorted
 * in 32 MB, where 4 have them go through a file.
 */
const options = '-c default_toast_compression=lz4 -c work_mem=32MB';

/** The connection pool and the tables. Migrations run when `migrate` is true; only one process should. */
export async function openDatabase(url: string, migrate = false, connections = 10): Promise<DataSource> {
  const db = new DataSource({
    type: 'postgres',
    url,
    synchronize: false,
    migrationsRun: migrate,
    entities,
    migrations: [
      FirstLeg1763900000000,
      Arrivals1764000000000,
      Colour1764100000000,
      Corrections1764200000000,
      Images1764300000000,
      Recipes1764400000000,
      Runs1764500000000,
      Workers1764600000000,
      ManyLegs1764700000000,
      Segments1764800000000,
      Blame1764900000000,
      PlansAsText1765000000000,
      SheetFromIndex1765100000000,
      GroupsByCamera1765200000000,
      DisksOfCopies1765300000000,
      Places1765400000000,
      Patterns1765500000000,
      Inlets1765600000000,
      Looks1765700000000,
      Measurings1765800000000,
      Cuts1765900000000,
      Pulls1766000000000,
      Handoffs1766100000000,
      OriginalSearches1766200000000,
      Removals1766300000000,
      LostDrives1766400000000,
    ],
    extra: { max: connections, connectionTimeoutMillis: 5_000, options },
    poolErrorHandler: () => undefined, // A lost connection shows up at the next query, which is tried again.
  });
  return db.initialize();
}

const gone = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ENOTFOUND',
  '57P01',
  '57P02',
  '57P03',
  '08006',
  '08001',
  '08003',
  '53300',
]);

/** Whether an error means that the database is away for a moment, rather than that the query is wrong. */
export function isDatabaseAway(error: unknown): boolean {
  const { code, message } = error as { code?: string; message?: string };
  return (
    (code !== undefined && gone.has(code)) ||
    /Connection terminated|timeout exceeded when trying to connect|terminating connection|the database system is/i.test(
      message ?? '',
    )
  );
}

/** What the database's clock shows. */
export async function clockOf(db: DataSource): Promise<Date> {
  const [row] = await db.query<{ now: Date }[]>('SELECT now()');
  return row?.now ?? new Date();
}

/** Tries again, for up to `patienceMs`, while the database restarts. */
export async function patiently<T>(work: () => Promise<T>, patienceMs = 120_000): Promise<T> {
  const until = Date.now() + patienceMs;
  for (let pause = 200; ; pause = Math.min(3_000, pause * 2)) {
    try {
      return await work();
    } catch (error) {
      if (!isDatabaseAway(error) || Date.now() > until) throw error;
      await new Promise((resolve) => setTimeout(resolve, pause));
    }
  }
}
