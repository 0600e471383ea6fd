import type { JoinedCopyLine } from '@relay/contract/runs';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { folderName } from '@relay/core/naming/paths';
import { planJoinedCopy, type JoinedCopyPart, type JoinedCopyPlan } from '@relay/core/recipe/joinedCopy';
import { wrappers } from '@relay/core/recipe/wrappers';
import { toNumber } from '@relay/core/time/rational';
import { fail, type Problem, type Result } from '@relay/core/result';
import { isRefusal } from '@relay/core/clip/description';
import { describeFile } from '@relay/media/describe/describe';
import { unlikeSound } from '@relay/media/joinedCopy/heard';
import { joinCopies, picturesOf } from '@relay/media/joinedCopy/join';
import type { DataSource } from 'typeorm';
import { tell } from '../live/notify.ts';
import { diskProblem } from '@relay/work/disk/diskProblem';
import { hashFile, hashOutput, outputBytes } from '@relay/work/disk/hash';
import { holding, pathOf } from '@relay/work/disk/held';
import { placeIn } from '@relay/work/disk/store';
import {
  discard,
  discardLeftovers,
  exists,
  flush,
  freeBytes,
  giveName,
  NameTaken,
  partBeside,
  type Part,
} from '@relay/work/disk/place';
import type { Stores } from '../stores/stores.ts';
import { beating } from '@relay/work/heart';
import { byItsClock } from '../db/entities/columns.ts';
import { joinedCopy } from '../db/entities/runs.ts';

/** Joined copies: proved outputs of a run joined, on purpose, into one file. All SQL about them stands here. */

interface JoinedCopyWork {
  id: string;
  productionId: string;
  store: string;
  folder: string;
  plan: JoinedCopyPlan;
  xxh3s: string[];
}

/** The joined copy of a run's deliverable: its proved outputs in the run's order, without recipients' copies. */
async function joinedCopyOf(
  db: DataSource,
  run: string,
  deliverable: string,
): Promise<{ plan: Result<JoinedCopyPlan>; xxh3s: string[] }> {
  const rows = await db.query<{ path: string; xxh3: string; title: string; plan: LegPlan; name: string }[]>(
    `SELECT o.path, o.xxh3, clip.stem AS title, leg.plan, run.name
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     JOIN clip ON clip.id = leg.clip_id
     JOIN run ON run.id = leg.run_id
     WHERE leg.run_id = $1 AND o.deliverable = $2 AND o.state = 'proved'
     ORDER BY leg.ordinal, o.path`,
    [run, deliverable],
  );
  const parts = rows.flatMap(({ path, title, plan }): JoinedCopyPart[] => {
    const output = plan.outputs.find((one) => one.path === path);
    return output && output.recipient === undefined ? [{ path, title, output }] : [];
  });
  const first = parts[0];
  if (!first)
    return { plan: fail(`No output of ${deliverable} is proved`, 'Wait until the run has made them'), xxh3s: [] };
  const xxh3s = rows.filter(({ path }) => parts.some((part) => part.path === path)).map(({ xxh3 }) => xxh3);
  return { plan: planJoinedCopy(parts, joinedCopyPath(first.output, rows[0]?.name ?? 'run')), xxh3s };
}

function joinedCopyPath(output: OutputPlan, run: string): string {
  const top = output.path.slice(0, Math.max(0, output.path.indexOf('/')));
  return [top, `${folderName(run) || 'run'}-joined.${wrappers[output.wrapper].ending}`]
    .filter((part) => part !== '')
    .join('/');
}

/** Writes a joined copy down to be made; a failed one of the same path begins anew. Answers its id, or why it cannot be. */
export async function orderJoinedCopy(db: DataSource, run: string, deliverable: string): Promise<Result<string>> {
  const { plan, xxh3s } = await joinedCopyOf(db, run, deliverable);
  if (!plan.ok) return plan;
  const [row] = await db.query<{ id: string }[]>(
    `INSERT INTO reel (run_id, deliverable, path, plan, xxh3s)
     VALUES ($1, $2, $3, $4, $5)
     ON CONFLICT (run_id, path) DO UPDATE SET
       state = 'waiting', plan = excluded.plan, xxh3s = excluded.xxh3s, problem = NULL, created_at = now()
     WHERE reel.state = 'failed'
     RETURNING id`,
    [run, deliverable, plan.value.path, JSON.stringify(plan.value), xxh3s],
  );
  return row
    ? { ok: true, value: row.id }
    : fail(`${plan.value.path} is made already`, "Look for it in the run's folder");
}

export async function joinedCopyLines(db: DataSource, run: string): Promise<JoinedCopyLine[]> {
  return await db.query<JoinedCopyLine[]>(
    `SELECT id, deliverable, path, state, problem, size_bytes::float AS "sizeBytes", xxh3,
       jsonb_array_length(plan->'parts') AS parts
     FROM reel
     WHERE run_id = $1
     ORDER BY created_at`,
    [run],
  );
}

/** Joined copies whose worker is gone, or whose job is lost. */
export async function orphanedJoinedCopies(db: DataSource): Promise<string[]> {
  const rows = await db.query<{ id: string }[]>(
    `SELECT id
     FROM reel
     WHERE (state = 'running' AND beat_at < now() - interval '20 seconds') OR (
       state = 'waiting' AND created_at < now() - interval '10 seconds' AND NOT EXISTS (
         SELECT 1
         FROM pgboss.job
         WHERE job.name = 'reel' AND job.state IN ('created', 'retry') AND job.data->>'joinedCopy' = reel.id::text
       )
     )`,
  );
  return rows.map(({ id }) => id);
}

/** The place of its own that a joined copy's deliverable has, if it has one: it lies beside its parts. */
const placeOf = `(SELECT d->'place' FROM jsonb_array_elements(run.recipe->'deliverables') d WHERE d->>'name' = reel.deliverable LIMIT 1)`;

/** Makes one joined copy: joined, held picture by picture against its parts, and only then named. */
export async function carryOutJoinedCopy(
  db: DataSource,
  stores: Stores,
  id: string,
  signal: AbortSignal,
): Promise<void> {
  const [rows] = await db.query<[JoinedCopyWork[], number]>(
    `UPDATE reel
     SET state = 'running', beat_at = now()
     FROM run
     WHERE reel.id = $1
       AND run.id = reel.run_id
       AND (reel.state = 'waiting' OR (reel.state = 'running' AND reel.beat_at < now() - interval '20 seconds'))
     RETURNING reel.id, run.production_id AS "productionId", coalesce(${placeOf}->>'store', run.store_id) AS store,
       coalesce(${placeOf}->>'folder', run.folder) AS folder, reel.plan, reel.xxh3s`,
    [id],
  );
  const work = rows[0];
  if (!work) return;
  const heart = beating(3_000, () => db.manager.update(joinedCopy, { id }, { beatAt: byItsClock }));
  try {
    const made = await makeJoinedCopy(work, stores, signal);
    if (signal.aborted) {
      await db.manager.update(joinedCopy, { id }, { state: 'waiting' });
      return;
    }
    const { problem, sizeBytes, xxh3 } = made;
    await db.manager.update(joinedCopy, { id }, { state: problem ? 'failed' : 'proved', problem, sizeBytes, xxh3 });
    await tell(db, { kind: 'changed', what: 'runs', production: work.productionId });
  } finally {
    heart.stop();
  }
}

interface MadeJoinedCopy {
  problem: Problem | null;
  sizeBytes: number;
  xxh3: string | null;
}

async function makeJoinedCopy(
  { id, store: storeId, folder, plan, xxh3s }: JoinedCopyWork,
  stores: Stores,
  signal: AbortSignal,
): Promise<MadeJoinedCopy> {
  const failed = (problem: Problem): MadeJoinedCopy => ({ problem, sizeBytes: 0, xxh3: null });
  const store = await stores.get(storeId);
  if (!store)
    return failed({ what: 'The store of this run is no longer known', remedy: 'Add it again, then join again' });
  return holding(async (held) => {
    let part: Part | null = null;
    try {
      const root = placeIn(store, folder);
      const paths = await Promise.all(plan.parts.map(({ path }) => held.file(root, path)));
      for (const [index, path] of paths.entries()) {
        const name = plan.parts[index]?.path ?? '';
        if ((await hashOutput(path).catch(() => '')) !== xxh3s[index])
          return failed({
            what: `${name} is not what was proved (any more)`,
            remedy: 'Retry its leg, then join again',
          });
      }
      const target = await held.place(root, plan.path, true);
      if (await exists(target)) throw new NameTaken(target);
      const need = (await Promise.all(paths.map(outputBytes))).reduce((a, b) => a + b, 0);
      if ((await freeBytes(pathOf(root))) < need * 1.05)
        return failed({ what: `Too little space for ${plan.path}`, remedy: 'Free space, then join again' });
      // What a worker that was killed in the middle left of it.
      await discardLeftovers(root, [plan.path], `reel.${id}`);
      part = await partBeside(target, `reel.${id}`);
      await joinCopies(plan, paths, part.path, signal);
      await flush(part);
      const wrong = await unlike(plan, paths, part.path, signal);
      if (wrong)
        return failed({
          what: `${plan.path} is not what was planned: ${wrong}`,
          remedy: 'Nothing was left under its name; look at its parts',
        });
      const made = { problem: null, sizeBytes: await outputBytes(part.path), xxh3: await hashFile(part.path) };
      await giveName(part, target);
      return made;
    } catch (error) {
      return failed(diskProblem(error, plan.path));
    } finally {
      if (part) await discard(part);
    }
  });
}

/** What of a joined file is not as its parts are; null when nothing is. */
async function unlike(
  plan: JoinedCopyPlan,
  paths: readonly string[],
  made: string,
  signal: AbortSignal,
): Promise<string | null> {
  const found = await describeFile(made, plan.path);
  if (isRefusal(found)) return found.problem.what;
  const { video, sound } = plan.output;
  if (!found.video?.rateConstant || found.video.rate.num !== video.rate.num || found.video.rate.den !== video.rate.den)
    return 'its rate is not even';
  if (toNumber(found.video.start) !== 0) return `its pictures begin ${toNumber(found.video.start).toFixed(3)} s late`;
  if (found.video.frames !== video.frames) return `it has ${found.video.frames} frames, not ${video.frames}`;
  if (found.audio.length !== sound.tracks.length)
    return `it has ${found.audio.length} sound tracks, not ${sound.tracks.length}`;
  const [parts, whole] = [await picturesOf(paths, signal), await picturesOf([made], signal)];
  if (parts.frames !== whole.frames || parts.digest !== whole.digest) return 'its pictures are not those of its parts';
  return unlikeSound(plan, paths, made, signal);
}
