import { spawn } from 'node:child_process';
import type { ClipDescription } from '@relay/core/clip/description';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { openQueue } from '@relay/server/queue/boss';
import { liveWorkers } from '@relay/server/queue/roster';
import type { PlannedClip } from '@relay/server/runs/plans';
import { startRun } from '@relay/server/runs/service';
import type { DataSource } from 'typeorm';
import { secondsSince } from './numbers.ts';
import type { BenchSite } from './site.ts';

/** What a site's own server and a worker do for a measurement. */

/** Calls `work` while a worker waits for legs. */
export async function withWorker(site: BenchSite, work: () => Promise<void>): Promise<void> {
  const worker = spawn(
    process.execPath,
    ['build/relay.mjs', 'worker', '--name', 'bench', '--slots', '2', '--store', `raid=${site.store}`],
    { env: { ...process.env, RELAY_DATABASE: site.databaseUrl }, stdio: ['ignore', 'ignore', 'inherit'] },
  );
  try {
    while ((await liveWorkers(site.db)).length < 1) await new Promise((resolve) => setTimeout(resolve, 100));
    await work();
  } finally {
    worker.kill('SIGTERM');
    await new Promise((resolve) => worker.once('close', resolve));
  }
}

/** A production of a folder's clips, described and not looked at. */
export async function productionOf(
  db: DataSource,
  name: string,
  root: string,
  clips: readonly ClipDescription[],
): Promise<string> {
  const [production] = await db.query<{ id: string }[]>('INSERT INTO production (name) VALUES ($1) RETURNING id', [
    name,
  ]);
  for (const clip of clips)
    await db.query(
      `INSERT INTO clip (production_id, store_id, root, path, stem, roll, description, size_bytes)
       VALUES ($1, 'raid', $2, $3, $4, 'D001', $5, $6)`,
      [production?.id, root, clip.path, clip.stem, JSON.stringify(clip), clip.sizeBytes],
    );
  return production?.id as string;
}

/** Runs a recipe over a production by a worker that waits for it; the seconds from order to end. */
export async function runToEnd(
  { db, databaseUrl }: BenchSite,
  production: string,
  planned: readonly PlannedClip[],
  folder: string,
  recipe: Recipe = finishAndCut,
): Promise<number> {
  const boss = await openQueue(databaseUrl, () => undefined);
  try {
    const from = performance.now();
    const run = await startRun(
      db,
      boss,
      { production, name: folder, recipe, from: null, store: 'raid', folder },
      planned,
    );
    for (;;) {
      await new Promise((resolve) => setTimeout(resolve, 50));
      const [open] = await db.query<{ n: number }[]>(
        `SELECT count(*)::int AS n FROM leg WHERE run_id = $1 AND state IN ('waiting', 'running', 'proving')`,
        [run],
      );
      if (open?.n === 0) break;
    }
    const took = secondsSince(from);
    const odd = await db.query<{ problem: { what: string } | null }[]>(
      `SELECT problem FROM leg WHERE run_id = $1 AND state <> 'proved'`,
      [run],
    );
    if (odd.length > 0) throw new Error(`${odd.length} were not proved: ${odd[0]?.problem?.what ?? ''}`);
    return took;
  } finally {
    await boss.stop({ graceful: false, wait: true });
  }
}
