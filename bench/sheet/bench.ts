import { randomUUID } from 'node:crypto';
import { mkdtemp, rm, chmod } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort, startPostgres } from '@relay/cli/site/postgres';
import type { ClipsAnswer } from '@relay/contract/clips';
import { sampleClip } from '@relay/core/clip/sample';
import { rational } from '@relay/core/time/rational';
import { framesToTimecode } from '@relay/core/time/timecode';
import { startServer } from '@relay/server/app';
import { refreshClips } from '@relay/server/clips/refresh';
import { openDatabase } from '@relay/server/db/dataSource';
import { prepareQueue } from '@relay/server/queue/boss';
import { median, secondsSince } from '../numbers.ts';

const clips = 10_000;
const rounds = 15;

/** A production of ten thousand invented clips on a database and server of its own; what the sheet asks, measured at the server's door. */
export async function benchSheet(): Promise<void> {
  const home = await mkdtemp(join(tmpdir(), 'relay-bench-'));
  await chmod(home, 0o755);
  const postgres = await startPostgres({ dataFolder: join(home, 'database'), secretFile: join(home, 'secret'), logFolder: join(home, 'log') });
  const db = await openDatabase(postgres.url, true);
  await prepareQueue(postgres.url);
  const port = await freePort();
  const server = await startServer({ databaseUrl: postgres.url, storesFile: join(home, 'stores.json'), cacheFolder: join(home, 'cache'), webFolder: join(home, 'none'), port });
  try {
    const [row] = (await db.query(`INSERT INTO production (name) VALUES ('Ten thousand') RETURNING id`)) as { id: string }[];
    const production = row?.id as string;
    let from = performance.now();
    for (let at = 0; at < clips; at += 500) await db.query(
      `INSERT INTO clip (id, production_id, store_id, root, path, stem, roll, description, size_bytes, looked_at)
       SELECT id, $1, 'raid', 'cards', path, stem, roll, description, size_bytes, now() FROM jsonb_to_recordset($2::jsonb) AS r(id uuid, path text, stem text, roll text, description jsonb, size_bytes bigint)`,
      [production, JSON.stringify(Array.from({ length: 500 }, (_, index) => invented(at + index)))],
    );
    console.log(`${clips} clips written in ${secondsSince(from).toFixed(1)} s`);
    from = performance.now();
    await refreshClips(db, production);
    console.log(`findings of all worked out in ${secondsSince(from).toFixed(1)} s`);
    await db.query('ANALYZE clip');

    const questions: readonly (readonly [string, string])[] = [
      ['first rows, by group', ''], ['sorted by name', 'sort=name'], ['sorted by what is to know', 'sort=notes'], ['sorted by scene', 'sort=scene&direction=down'], ['filtered: interlaced', 'filter=interlaced'],
      ['filtered: one clip', 'filter=B017C042'], ['filtered: decide -h.264', 'filter=decide%20-h.264'], ['filtered and sorted', 'filter=2160&sort=starts'],
    ];
    for (const [name, query] of questions) {
      const times: number[] = [];
      let answer: ClipsAnswer | null = null;
      for (let round = 0; round < rounds; round += 1) {
        from = performance.now();
        answer = (await (await fetch(`http://127.0.0.1:${port}/api/productions/${production}/clips?${query}`)).json()) as ClipsAnswer;
        times.push((performance.now() - from));
      }
      console.log(`${name.padEnd(28)} ${median(times).toFixed(0).padStart(4)} ms median, ${Math.max(...times).toFixed(0).padStart(4)} ms worst of ${rounds}; ${answer?.ids.length ?? 0} clips, ${answer?.groups.length ?? 0} groups (aim: 150 ms)`);
    }
    const { ids } = (await (await fetch(`http://127.0.0.1:${port}/api/productions/${production}/clips?`)).json()) as ClipsAnswer;
    const times: number[] = [];
    for (let page = 0; page < 30; page += 1) {
      from = performance.now();
      await (await fetch(`http://127.0.0.1:${port}/api/productions/${production}/clips/lines`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ clips: ids.slice(page * 300, page * 300 + 100) }) })).json();
      times.push(performance.now() - from);
    }
    console.log(`${'a page of 100 lines'.padEnd(28)} ${median(times).toFixed(0).padStart(4)} ms median, ${Math.max(...times).toFixed(0).padStart(4)} ms worst of ${times.length}`);
  } finally {
    await server.close();
    await db.destroy();
    await postgres.stop();
    await rm(home, { recursive: true, force: true });
  }
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
    { path: `day-${Math.floor(roll / 4)}/${camera}${String(roll).padStart(3, '0')}/${stem}.mov`, stem, sizeBytes: 50_000_000 + index * 1000, timecode: index % 37 === 0 || !start.ok ? null : { start: start.value.text, dropFrame: false }, reel: index % 11 === 0 ? null : stem.slice(0, 4) },
    { rate, frames, duration: rational(frames * rate.den, rate.num), raster: roll % 3 === 0 ? { width: 3840, height: 2160 } : { width: 1920, height: 1080 }, scan: roll % 5 === 0 ? 'top-field-first' : 'progressive', codec: roll % 2 ? 'H.264' : 'ProRes', codecId: roll % 2 ? 'h264' : 'prores' },
  );
  return { id: randomUUID(), path: description.path, stem, roll: stem.slice(0, 4), description, size_bytes: description.sizeBytes };
}
