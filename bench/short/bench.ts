import { join } from 'node:path';
import { isRefusal, type ClipDescription } from '@relay/core/clip/description';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { tuneLeg } from '@relay/media/leg/tune';
import { clipsToRun, planClips } from '@relay/server/runs/plans';
import { inLanes } from '@relay/work/lanes';
import { filesBelow } from '@relay/work/disk/walk';
import { readFiles } from '@relay/work/read/readFiles';
import { median, secondsSince } from '../numbers.ts';
import { productionOf, runToEnd, withWorker } from '../ordered.ts';
import { withSite, type BenchSite } from '../site.ts';
import { paintDay, shortDays, type ShortDay } from './originals.ts';
import { tunedScript, type TunedClip } from './tuned.ts';

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
    ours.push(await runToEnd(site, production, planned, `ours-${day.clips}-${round}`));
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
    await withWorker(site, async () => {
      for (const day of chosen) await benchDay(site, day, rounds);
    });
  });
}
