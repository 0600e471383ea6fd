import { randomUUID } from 'node:crypto';
import { chmod, mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort, startPostgres } from '@relay/cli/site/postgres';
import { sampleClip } from '@relay/core/clip/sample';
import { rational } from '@relay/core/time/rational';
import { framesToTimecode } from '@relay/core/time/timecode';
import { startServer } from '@relay/server/app';
import { openDatabase } from '@relay/server/db/dataSource';
import { prepareQueue } from '@relay/server/queue/boss';
import type { DataSource } from 'typeorm';

/** A database and a server of a measurement's own, with one store, *raid*. */
export interface BenchSite {
  db: DataSource;
  databaseUrl: string;
  /** Address of the server. */
  at: string;
  /** Where the store lies. */
  store: string;
}

export async function withSite(work: (site: BenchSite) => Promise<void>, webFolder?: string): Promise<void> {
  const home = await mkdtemp(join(tmpdir(), 'relay-bench-'));
  await chmod(home, 0o755);
  const store = join(home, 'raid');
  await mkdir(join(store, 'cards'), { recursive: true });
  const storesFile = join(home, 'stores.json');
  await writeFile(storesFile, JSON.stringify([{ id: 'raid', name: 'Raid', path: store }]));
  const postgres = await startPostgres({
    dataFolder: join(home, 'database'),
    secretFile: join(home, 'secret'),
    logFolder: join(home, 'log'),
  });
  const db = await openDatabase(postgres.url, true);
  await prepareQueue(postgres.url);
  const port = await freePort();
  const server = await startServer({
    databaseUrl: postgres.url,
    storesFile,
    cacheFolder: join(home, 'cache'),
    webFolder: webFolder ?? join(home, 'none'),
    port,
  });
  try {
    await work({ db, databaseUrl: postgres.url, at: `http://127.0.0.1:${port}`, store });
  } finally {
    await server.close();
    await db.destroy();
    await postgres.stop();
    await rm(home, { recursive: true, force: true });
  }
}

/** A production of so many invented clips; answers its id. */
export async function inventClips(db: DataSource, clips: number): Promise<string> {
  const [row] = await db.query<
    {
      id: string;
    }[]
  >(`INSERT INTO production (name) VALUES ('Ten thousand') RETURNING id`);
  const production = row?.id as string;
  for (let at = 0; at < clips; at += 500)
    await db.query(
      `INSERT INTO clip (id, production_id, store_id, root, path, stem, roll, description, size_bytes, looked_at)
     SELECT id, $1, 'raid', 'cards', path, stem, roll, description, size_bytes, now() FROM jsonb_to_recordset($2::jsonb) AS r(id uuid, path text, stem text, roll text, description jsonb, size_bytes bigint)`,
      [
        production,
        JSON.stringify(Array.from({ length: Math.min(500, clips - at) }, (_, index) => invented(at + index))),
      ],
    );
  return production;
}

/** Clip number `index` of a long show: forty rolls, four cameras, several formats, some trouble. */
function invented(index: number): Record<string, unknown> {
  const roll = Math.floor(index / 250);
  const camera = 'ABCD'[roll % 4] as string;
  const stem = `${camera}${String(roll).padStart(3, '0')}C${String(index % 250).padStart(3, '0')}`;
  const rate = [rational(24_000, 1001), rational(25), rational(50), rational(60_000, 1001)][roll % 4] ?? rational(25);
  const start = framesToTimecode(index * 240, rate);
  const frames = 60 + ((index * 7919) % 900);
  const description = sampleClip(
    {
      path: `day-${Math.floor(roll / 4)}/${camera}${String(roll).padStart(3, '0')}/${stem}.mov`,
      stem,
      sizeBytes: 50_000_000 + index * 1000,
      timecode: index % 37 === 0 || !start.ok ? null : { start: start.value.text, dropFrame: false },
      reel: index % 11 === 0 ? null : stem.slice(0, 4),
    },
    {
      rate,
      frames,
      duration: rational(frames * rate.den, rate.num),
      raster: roll % 3 === 0 ? { width: 3840, height: 2160 } : { width: 1920, height: 1080 },
      scan: roll % 5 === 0 ? 'top-field-first' : 'progressive',
      codec: roll % 2 ? 'H.264' : 'ProRes',
      codecId: roll % 2 ? 'h264' : 'prores',
    },
  );
  return {
    id: randomUUID(),
    path: description.path,
    stem,
    roll: stem.slice(0, 4),
    description,
    size_bytes: description.sizeBytes,
  };
}
