import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { isRefusal, type ClipDescription } from '@relay/core/clip/description';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { tuneLeg } from '@relay/media/leg/tune';
import { openQueue } from '@relay/server/queue/boss';
import { liveWorkers } from '@relay/server/queue/roster';
import { clipsToRun, planClips, type PlannedClip } from '@relay/server/runs/plans';
import { startRun } from '@relay/server/runs/service';
import { inLanes } from '@relay/work/lanes';
import { filesBelow } from '@relay/work/disk/walk';
import { readFiles } from '@relay/work/read/readFiles';
import type { DataSource } from 'typeorm';
import { median, secondsSince } from '../numbers.ts';
import { withSite, type BenchSite } from '../site.ts';
import { paintDay, shortDays, type ShortDay } from './originals.ts';
import { tunedScript, type TunedClip } from './tuned.ts';

/** A production of a folder's clips, described and not looked at. */
async function productionOf(
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

/** Runs the default recipe over a production by a worker that waits for it; the seconds from order to end. */
async function ourWay(
  { db, databaseUrl }: BenchSite,
  production: string,
  planned: readonly PlannedClip[],
  folder: string,
): Promise<number> {
  const boss = await openQueue(databaseUrl, () => undefined);
  try {
    const from = performance.now();
    const run = await startRun(
      db,
      boss,
      { production, name: folder, recipe: finishAndCut, from: null, store: 'raid', folder },
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

/** One day, ours and the tuned script alternating; prints the medians and their ratio. */
async function benchDay(site: BenchSite, day: ShortDay, rounds: number): Promise<void> {
  const root = `cards/day-${day.clips}`;
  const folder = join(site.store, root);
  await paintDay(day, folder);
  const entries = await readFiles((await filesBelow(folder)).files);
  const clips = entries.filter((entry): entry is ClipDescription => !isRefusal(entry));
  const production = await productionOf(site.db, day.name, root, clips);
  const planned = planClips(await clipsToRun(site.db, production, null), finishAndCut);
  const plans = planned.flatMap(({ plan }): LegPlan[] => (plan.ok ? [plan.value] : []));
  if (plans.length !== day.clips) throw new Error(`${day.clips} clips were painted, ${plans.length} have a plan`);
  const tuned: TunedClip[] = await inLanes(plans, 2, async (plan) => {
    const source = join(folder, plan.original.path);
    return { plan, source, tunings: await tuneLeg(plan, { clip: plan.original, paths: [source] }) };
  });
  const [ours, theirs]: [number[], number[]] = [[], []];
  for (let round = 0; round < rounds; round += 1) {
    const from = performance.now();
    await tunedScript(tuned, join(site.store, `tuned-${day.clips}-${round}`));
    theirs.push(secondsSince(from));
    ours.push(await ourWay(site, production, planned, `ours-${day.clips}-${round}`));
    const [mine, other] = [ours.at(-1) as number, theirs.at(-1) as number];
    console.log(
      `${day.name}, round ${round + 1}: tuned script and decode ${other.toFixed(1)} s, ours ${mine.toFixed(1)} s, ${(mine / other).toFixed(3)}`,
    );
  }
  console.log(
    `${day.name}: median ${(median(ours) / median(theirs)).toFixed(3)} of the tuned script with its decode (aim ${day.aim})`,
  );
}

/**
 * Short clips, and long ones beside them, by a worker as it is: sampling, making, proving, checksums, sheet; against a
 * tuned script that makes the same and decodes it. Arguments: rounds (5), and which of the days (0, 1, 2; all).
 */
export async function benchShort(args: readonly string[]): Promise<void> {
  const rounds = Math.max(1, Number(args[0] ?? 5));
  const chosen = args[1] === undefined ? shortDays : shortDays.filter((_, index) => args.slice(1).includes(`${index}`));
  await withSite(async (site) => {
    const worker = spawn(
      process.execPath,
      ['build/relay.mjs', 'worker', '--name', 'bench', '--slots', '2', '--store', `raid=${site.store}`],
      { env: { ...process.env, RELAY_DATABASE: site.databaseUrl }, stdio: ['ignore', 'ignore', 'inherit'] },
    );
    try {
      while ((await liveWorkers(site.db)).length < 1) await new Promise((resolve) => setTimeout(resolve, 100));
      for (const day of chosen) await benchDay(site, day, rounds);
    } finally {
      worker.kill('SIGTERM');
      await new Promise((resolve) => worker.once('close', resolve));
    }
  });
}
