import type { MeasuringAnswer } from '@relay/contract/checks';
import { alongCsv, meanPsnr, worstFrames, type Along } from '@relay/core/measure/along';
import { under } from '@relay/core/naming/under';
import type { Problem } from '@relay/core/result';
import { frameLabel } from '@relay/core/time/frameLabel';
import { asShown } from '@relay/media/process/pinned';
import { hashOutput } from '@relay/work/disk/hash';
import { filesOfPart } from '@relay/core/clip/part';
import { holding } from '@relay/work/disk/held';
import { originalIn } from '@relay/work/disk/store';
import { beating } from '@relay/work/heart';
import { measureAlong } from '@relay/work/leg/along';
import { outputIn } from '@relay/work/leg/outputPlace';
import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import { cabinetText } from '../cabinet/cabinet.ts';
import { clip } from '../db/entities/clips.ts';
import { byItsClock } from '../db/entities/columns.ts';
import { measuring, type MeasuringRow } from '../db/entities/measurings.ts';
import { notThere, Refused } from '../http.ts';
import { tell } from '../live/notify.ts';
import { queueMeasurings } from '../queue/boss.ts';
import { keptImage } from '../recipes/images.ts';
import type { Stores } from '../stores/stores.ts';
import { plannedOf, recordOf, type OutputRecord } from './outputs.ts';

/** What is measured along outputs: ordered, carried out by a worker, kept. All SQL about it stands here. */

/** Frames of one output that are kept, at most. */
const mostMeasured = 100_000;

const worstShown = 8;

/** Of outputs as they are: what was made anew under its name is measured anew. */
const isGood = `o.state IN ('proved', 'needs eyes')`;

/** Writes down that outputs are to be measured, but for those that are being measured; answers their measurings. */
async function order(db: DataSource, outputs: readonly string[], every: number, who: string): Promise<string[]> {
  const rows = await db.query<{ id: string }[]>(
    `INSERT INTO measuring (output_id, every, who)
     SELECT o.id, $2, $3
     FROM output o
     WHERE o.id = ANY($1) AND ${isGood}
     ON CONFLICT (output_id) DO UPDATE SET
       every = excluded.every, who = excluded.who, state = 'waiting', frames_done = 0, problem = NULL, created_at = now()
     WHERE measuring.state IN ('measured', 'failed')
     RETURNING id`,
    [outputs, every, who],
  );
  return rows.map(({ id }) => id);
}

interface Ordering {
  db: DataSource;
  boss: PgBoss;
}

async function orderAll(
  { db, boss }: Ordering,
  outputs: readonly string[],
  every: number,
  who: string,
): Promise<number> {
  const ordered = await order(db, outputs, every, who);
  await queueMeasurings(boss, ordered);
  return ordered.length;
}

/** Orders that an output is measured. @throws Refused where it is not there, or too much would be kept of it */
export async function orderMeasuring(at: Ordering, id: string, every: number, who: string): Promise<void> {
  const record = await recordOf(at.db, id);
  if (!record) throw notThere('The output');
  const { frames } = plannedOf(record).video;
  if (frames / every > mostMeasured)
    throw new Refused(400, {
      what: `${record.path} has ${frames} frames: ${Math.ceil(frames / every)} of them would be measured`,
      remedy: `Measure every ${Math.ceil(frames / mostMeasured)}th`,
    });
  if (record.state !== 'proved' && record.state !== 'needs eyes')
    throw new Refused(409, { what: `${record.path} was not made`, remedy: 'Retry its leg, then measure it' });
  await orderAll(at, [id], every, who);
}

/** Orders that all outputs of a run are measured that are not yet, as they are. Answers how many. */
export async function orderMeasuringOfRun(at: Ordering, run: string, every: number, who: string): Promise<number> {
  const rows = await at.db.query<{ id: string; frames: number }[]>(
    `SELECT o.id, coalesce((o.proof->>'frames')::int, leg.frames_total) AS frames
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     LEFT JOIN measuring m ON m.output_id = o.id
     WHERE leg.run_id = $1 AND ${isGood}
       AND (m.id IS NULL OR m.state = 'failed' OR (m.state = 'measured' AND m.xxh3 IS DISTINCT FROM o.xxh3))
     ORDER BY leg.ordinal`,
    [run],
  );
  let ordered = 0;
  // Long ones by fewer frames.
  const bySteps = new Map<number, string[]>();
  for (const { id, frames } of rows) {
    const step = Math.max(every, Math.ceil(frames / mostMeasured));
    bySteps.set(step, [...(bySteps.get(step) ?? []), id]);
  }
  for (const [step, outputs] of bySteps) ordered += await orderAll(at, outputs, step, who);
  return ordered;
}

/** Gives up what waits or is under way: what was found before stands again. What is done is forgotten. */
export async function dropMeasuring(db: DataSource, output: string): Promise<void> {
  await db.query(
    `WITH kept AS (
       UPDATE measuring
       SET state = 'measured', every = (along->>'every')::int, frames_done = (along->>'frames')::int
       WHERE output_id = $1 AND state IN ('waiting', 'running') AND along IS NOT NULL
       RETURNING id
     )
     DELETE FROM measuring WHERE output_id = $1 AND id NOT IN (SELECT id FROM kept)`,
    [output],
  );
}

async function rowOf(db: DataSource, output: string): Promise<MeasuringRow | null> {
  return db.manager.findOneBy(measuring, { outputId: output });
}

/** What is known of an output's measuring; null where none was ordered. */
export async function measuringOf(db: DataSource, output: string): Promise<MeasuringAnswer> {
  const [record, row] = [await recordOf(db, output), await rowOf(db, output)];
  if (!record) throw notThere('The output');
  return {
    frames: plannedOf(record).video.frames,
    measuring: row && {
      state: row.state,
      every: row.every,
      framesDone: row.framesDone,
      problem: row.problem,
      who: row.who,
      at: row.createdAt.toISOString(),
      stale: row.along !== null && row.xxh3 !== record.xxh3,
      along: row.along,
      meanPsnr: row.meanPsnr,
      worst: row.along ? worstFrames(row.along, worstShown) : [],
    },
  };
}

/** All that was measured of an output as a table. @throws Refused where nothing was */
export async function measuredTable(db: DataSource, output: string): Promise<{ name: string; text: string }> {
  const [record, row] = [await recordOf(db, output), await rowOf(db, output)];
  if (!record || !row?.along) throw notThere('What was measured');
  const { video, timecode } = plannedOf(record);
  return {
    name: `${record.path.slice(record.path.lastIndexOf('/') + 1)}.measured.csv`,
    text: alongCsv(row.along, (frame) => frameLabel(frame, video.rate, timecode)),
  };
}

/** Measurings whose worker is gone, or whose job is lost. */
export async function orphanedMeasurings(db: DataSource): Promise<string[]> {
  const rows = await db.query<{ id: string }[]>(
    `SELECT id
     FROM measuring
     WHERE (state = 'running' AND beat_at < now() - interval '20 seconds') OR (
       state = 'waiting' AND created_at < now() - interval '10 seconds' AND NOT EXISTS (
         SELECT 1
         FROM pgboss.job
         WHERE job.name = 'measure' AND job.state IN ('created', 'retry', 'active')
           AND job.data->>'measuring' = measuring.id::text
       )
     )
     LIMIT 500`,
  );
  return rows.map(({ id }) => id);
}

/** Measures one output along its length, and keeps what was found. */
export async function carryOutMeasuring(
  db: DataSource,
  stores: Stores,
  id: string,
  leaving: AbortSignal,
): Promise<void> {
  const [rows] = await db.query<[{ outputId: string; every: number }[], number]>(
    `UPDATE measuring
     SET state = 'running', beat_at = now(), frames_done = 0
     WHERE id = $1 AND (state = 'waiting' OR (state = 'running' AND beat_at < now() - interval '20 seconds'))
     RETURNING output_id AS "outputId", every`,
    [id],
  );
  const work = rows[0];
  const record = work && (await recordOf(db, work.outputId));
  if (!work || !record) return;
  let framesDone = 0;
  const stop = new AbortController();
  const heart = beating(1_500, async () => {
    const { affected } = await db.manager.update(
      measuring,
      { id, state: 'running' },
      { beatAt: byItsClock, framesDone },
    );
    // Nobody wants it any more.
    if (affected === 0) stop.abort();
  });
  try {
    const signal = AbortSignal.any([stop.signal, leaving]);
    const found = await measure(db, stores, record, {
      every: work.every,
      signal,
      onFrame: (frames) => (framesDone = frames),
    });
    if (signal.aborted) {
      await db.manager.update(measuring, { id, state: 'running' }, { state: 'waiting' });
      return;
    }
    await db.manager.update(measuring, { id, state: 'running' }, found);
    const [run] = await db.query<{ production: string }[]>(
      'SELECT production_id AS production FROM run WHERE id = $1',
      [record.runId],
    );
    if (run) await tell(db, { kind: 'changed', what: 'runs', production: run.production });
  } finally {
    heart.stop();
  }
}

type Found = Pick<
  MeasuringRow,
  'state' | 'problem' | 'along' | 'xxh3' | 'worstFrame' | 'worstPsnr' | 'worstSsim' | 'meanPsnr' | 'framesDone'
>;

function foundOf(along: Along, xxh3: string | null): Found {
  const [worst] = worstFrames(along, 1);
  return {
    state: 'measured',
    problem: null,
    along,
    xxh3,
    worstFrame: worst?.frame ?? null,
    worstPsnr: worst?.psnr ?? null,
    worstSsim: worst?.ssim ?? null,
    meanPsnr: meanPsnr(along.psnr),
    framesDone: along.frames,
  };
}

async function measure(
  db: DataSource,
  stores: Stores,
  record: OutputRecord,
  more: { every: number; signal: AbortSignal; onFrame: (frames: number) => void },
): Promise<Partial<Found>> {
  const failed = (problem: Problem): Partial<Found> => ({ state: 'failed', problem });
  const planned = plannedOf(record);
  const shot = await db.manager.findOne(clip, {
    select: { storeId: true, root: true, path: true, description: true },
    where: { id: record.clipId },
  });
  const [store, own] = [await stores.get(record.store), shot && (await stores.get(shot.storeId))];
  if (!store || !own || !shot?.description)
    return failed({ what: `A store of ${record.path} is no longer known`, remedy: 'Add it again, then measure again' });
  const { description, root } = shot;
  const paths = description.chapters.length > 0 ? description.chapters.map(({ path }) => path) : [shot.path];
  return holding(async (held): Promise<Partial<Found>> => {
    try {
      const gone = (what: string) => (): never => {
        throw new Error(`${what} is not there (any more)`);
      };
      const path = await outputIn(held, planned, store.path, under(record.folder, record.path)).catch(gone('it'));
      const files = await Promise.all(
        paths.map((one) => originalIn(held, own, root, one).catch(gone(`its original ${one}`))),
      );
      if (record.xxh3 !== null && (await hashOutput(path)) !== record.xxh3)
        return failed({
          what: `${record.path} is not what was proved (any more)`,
          remedy: 'Retry its leg, then measure again',
        });
      const shown = record.plan.original.part ? record.plan.original : description;
      const along = await measureAlong({
        ...{ plan: record.plan, output: planned, path, clip: shown, files: filesOfPart(shown, description, files) },
        ...{ lutText: cabinetText(db), imageBytes: keptImage(db) },
        ...more,
      });
      return foundOf(along, record.xxh3);
    } catch (error) {
      return failed({
        what: `${record.path} cannot be measured: ${asShown((error as Error).message)}`,
        remedy: 'See that it and its original are there and can be read, then measure again',
      });
    }
  });
}
