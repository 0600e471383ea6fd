import type { Problem } from '@relay/core/result';
import type { LegState } from '@relay/contract/states';
import type { DataSource } from 'typeorm';
import type { OutputResult } from '@relay/contract/run';
import { leaseSeconds } from '../pace.ts';
import type { LegPlan } from '@relay/core/recipe/legPlan';

/**
 * Whose a leg is. A worker holds a leg by a lease that it renews while it works; a lease that lapses (the worker was
 * killed, its machine is gone) gives the leg back. All SQL about this stands here.
 */

/**
 * A leg that took its worker down with it so many times, while it was the only one there, or stood still so often, is
 * set aside.
 */
export const mostBlames = 3;
/**
 * One whose worker went away so often, whatever it ran beside, is run alone from then on: so it is seen whose doing it
 * is.
 */
const lapsesUntilAlone = 2;

export interface ClaimedLeg {
  id: string;
  runId: string;
  clipId: string;
  plan: LegPlan;
  /** How often it stood still, or took its worker down while it ran alone. */
  blames: number;
  /** Every store that its outputs go to. */
  stores: string[];
  /** Where its run goes: what has no place of its own lies there. */
  outStore: string;
  outFolder: string;
  sourceStore: string;
  sourceRoot: string;
  /** What its folder was called when it was read, where it has moved since. */
  readAs: string | null;
}

/** What a worker can do; null for everything. */
export interface Abilities {
  /** Stores that are there on its machine. */
  stores: readonly string[] | null;
  codecs: readonly string[] | null;
}

const anything: Abilities = { stores: null, codecs: null };

/**
 * The foremost leg that waits and may begin: what was put before others by hand, then by its run's priority, wave by
 * wave, in the runs' order. Each run's own foremost is found by its index, so that ten thousand that wait cost no more
 * than ten.
 */
const foremost = `SELECT first.id
  FROM run
  CROSS JOIN LATERAL (
    SELECT leg.id, leg.hand, leg.wave, leg.ordinal
    FROM leg
    JOIN clip ON clip.id = leg.clip_id
    WHERE leg.run_id = run.id
      AND leg.state = 'waiting'
      AND leg.plan IS NOT NULL
      AND ($3::text[] IS NULL OR (clip.store_id = ANY($3) AND leg.stores <@ $3))
      AND ($4::text[] IS NULL OR leg.codecs <@ $4)
      AND (
        leg.lapses < $5 OR NOT EXISTS (
          SELECT 1
          FROM leg mine
          WHERE mine.worker = $1 AND mine.state IN ('running', 'proving')
        )
      )
    ORDER BY leg.hand DESC, leg.wave, leg.ordinal
    LIMIT 1
    FOR UPDATE OF leg SKIP LOCKED
  ) first
  WHERE run.not_before IS NULL OR run.not_before <= now()
  ORDER BY first.hand DESC, run.priority DESC, run.created_at, first.wave, first.ordinal
  LIMIT 1`;

const claimed = `leg.id, leg.run_id AS "runId", leg.clip_id AS "clipId", leg.plan, leg.stores, leg.blames, run.store_id AS "outStore", run.folder AS "outFolder", clip.store_id AS "sourceStore", clip.root AS "sourceRoot", clip.read_as AS "readAs"`;

/** Whether a worker has a leg that must be the only one there. */
const keptApart = `SELECT 1
  FROM leg mine
  WHERE mine.worker = $1 AND mine.state IN ('running', 'proving') AND mine.lapses >= $2`;

export async function runsOneAlone(db: DataSource, worker: string): Promise<boolean> {
  return (await db.query<unknown[]>(keptApart, [worker, lapsesUntilAlone])).length > 0;
}

/**
 * Takes the foremost leg that waits and that `worker` can do; null when there is none. A job of the queue says that
 * there is work, not which. A worker's slots claim one after the other, so that it is known what ran beside what.
 */
export async function claimForemost(
  db: DataSource,
  worker: string,
  { stores, codecs }: Abilities = anything,
): Promise<ClaimedLeg | null> {
  return db.transaction(async (tx) => {
    await tx.query('SELECT pg_advisory_xact_lock(hashtext($1))', [`claims ${worker}`]);
    if ((await tx.query<unknown[]>(keptApart, [worker, lapsesUntilAlone])).length > 0) return null;
    const [rows] = await tx.query<[ClaimedLeg[], number]>(
      `UPDATE leg
       SET state = 'running', worker = $1, lease_until = now() + make_interval(secs => $2), attempts = attempts + 1,
         alone = NOT EXISTS (SELECT 1 FROM leg mine WHERE mine.worker = $1 AND mine.state IN ('running', 'proving')),
         started_at = now(), ended_at = NULL, frames_done = 0, speed = NULL, problem = NULL
       FROM run, clip
       WHERE leg.id = (${foremost})
         AND leg.state = 'waiting'
         AND leg.plan IS NOT NULL
         AND run.id = leg.run_id
         AND clip.id = leg.clip_id
       RETURNING ${claimed}`,
      [worker, leaseSeconds, stores, codecs, lapsesUntilAlone],
    );
    const leg = rows[0] ?? null;
    if (leg)
      await tx.query(
        `UPDATE leg SET alone = false WHERE worker = $1 AND id <> $2 AND alone AND state IN ('running', 'proving')`,
        [worker, leg.id],
      );
    return leg;
  });
}

/** Whether any leg waits and may begin, for whichever worker. */
export async function anyWaiting(db: DataSource): Promise<boolean> {
  const rows = await db.query<unknown[]>(
    `SELECT 1
     FROM leg
     JOIN run ON run.id = leg.run_id
     WHERE leg.state = 'waiting' AND leg.plan IS NOT NULL AND (run.not_before IS NULL OR run.not_before <= now())
     LIMIT 1`,
  );
  return rows.length > 0;
}

export type Hold = 'kept' | 'stop' | 'lost';

/** Renews the lease and tells how far the leg is; says whether the leg is still ours and still wanted. */
export async function renewLease(
  db: DataSource,
  legId: string,
  worker: string,
  progress: { state: LegState; framesDone: number; framesTotal: number; speed: number | null },
): Promise<Hold> {
  const [rows] = await db.query<[{ stop_wanted: boolean }[], number]>(
    `UPDATE leg
     SET lease_until = now() + make_interval(secs => $3), state = $4, frames_done = $5, frames_total = $6, speed = $7
     WHERE id = $1 AND worker = $2 AND state IN ('running', 'proving')
     RETURNING stop_wanted`,
    [legId, worker, leaseSeconds, progress.state, progress.framesDone, progress.framesTotal, progress.speed],
  );
  if (!rows[0]) return 'lost';
  return rows[0].stop_wanted ? 'stop' : 'kept';
}

/** Whether `worker` still holds the leg. */
export async function stillOurs(db: DataSource, legId: string, worker: string): Promise<boolean> {
  const rows = await db.query<unknown[]>(
    `SELECT 1 FROM leg WHERE id = $1 AND worker = $2 AND state IN ('running', 'proving')`,
    [legId, worker],
  );
  return rows.length > 0;
}

/** What came of a leg. */
interface LegEnd {
  state: LegState;
  problem: Problem | null;
  outputs: readonly OutputResult[];
  log?: readonly string[];
}

/** Ends a leg with what came of it, if it is still ours. */
export async function endLeg(
  db: DataSource,
  legId: string,
  worker: string,
  { state, problem, outputs, log = [] }: LegEnd,
): Promise<boolean> {
  return db.transaction(async (tx) => {
    const [, count] = await tx.query<[unknown[], number]>(
      `UPDATE leg
       SET state = $3, problem = $4, ended_at = now(), lease_until = NULL, stop_wanted = false,
         log = right(log || $5, 60000),
         frames_done = CASE WHEN $3 IN ('proved', 'needs eyes') THEN frames_total ELSE frames_done END
       WHERE id = $1 AND worker = $2 AND state IN ('running', 'proving')`,
      [legId, worker, state, problem ? JSON.stringify(problem) : null, log.map((line) => `${line}\n`).join('')],
    );
    if (count === 0) return false;
    for (const output of outputs) {
      await tx.query(
        `INSERT INTO output (
           leg_id, deliverable, role, path, state, already_there, size_bytes, xxh3, proof, problem, store_id, folder
         )
         SELECT $1, $2, $3, $4, $5, $6, $7, $8, $9, $10,
           coalesce(planned.value->'place'->>'store', run.store_id),
           coalesce(planned.value->'place'->>'folder', run.folder)
         FROM leg
         JOIN run ON run.id = leg.run_id
         LEFT JOIN LATERAL json_array_elements(leg.plan->'outputs') planned ON planned.value->>'path' = $4
         WHERE leg.id = $1
         LIMIT 1
         ON CONFLICT (leg_id, path) DO UPDATE SET
           state = excluded.state, already_there = excluded.already_there, size_bytes = excluded.size_bytes,
           xxh3 = excluded.xxh3, proof = excluded.proof, problem = excluded.problem`,
        [
          legId,
          output.deliverable,
          output.role,
          output.path,
          output.state,
          output.alreadyThere,
          output.sizeBytes,
          output.xxh3,
          output.proof ? JSON.stringify(output.proof) : null,
          output.problem ? JSON.stringify(output.problem) : null,
        ],
      );
    }
    return true;
  });
}

/**
 * Gives a leg back that its worker could not bring forward; its log stays. `blameless` where it was not the leg's
 * doing.
 */
export async function giveBack(
  db: DataSource,
  legId: string,
  worker: string,
  log: readonly string[],
  blameless = false,
): Promise<void> {
  await db.query(
    `UPDATE leg
     SET state = 'waiting', worker = NULL, lease_until = NULL, frames_done = 0, speed = NULL, queued_at = now(),
       blames = blames + CASE WHEN $4 THEN 0 ELSE 1 END, log = right(log || $3, 60000)
     WHERE id = $1 AND worker = $2`,
    [legId, worker, log.map((line) => `${line}\n`).join(''), blameless],
  );
}

/** Workers are named so that another one on the same machine can tell whether they still live. */
export function workerName(host: string, pid: number, startedAt: number): string {
  return `${host}/${pid}/${startedAt.toString(36)}`;
}

/** Ends the leases of workers of this machine that are dead, so that nobody has to wait for them to lapse. */
export async function endLeasesOfTheDead(
  db: DataSource,
  host: string,
  isAlive: (pid: number) => boolean,
): Promise<void> {
  const rows = await db.query<{ worker: string }[]>(
    `SELECT DISTINCT worker FROM leg WHERE state IN ('running', 'proving') AND starts_with(worker, $1)`,
    [`${host}/`],
  );
  const dead = rows.map((row) => row.worker).filter((worker) => !isAlive(Number(worker.split('/').at(-2))));
  if (dead.length > 0)
    await db.query(
      `UPDATE leg
       SET lease_until = now() - interval '1 second'
       WHERE state IN ('running', 'proving') AND worker = ANY($1)`,
      [dead],
    );
}

/**
 * Legs whose worker is gone, given back. Whose doing it was is not known of those that ran beside others: they are not
 * blamed, and run alone when it happens again. Those that broke too many while alone are set aside. Returns the ones to
 * queue again, with their run.
 */
export async function takeBackLapsed(db: DataSource): Promise<{ id: string; runId: string; state: LegState }[]> {
  // A clock that was set back leaves leases that end too far ahead: none is longer than it is given.
  await db.query(
    `UPDATE leg
     SET lease_until = now() + make_interval(secs => $1)
     WHERE state IN ('running', 'proving') AND lease_until > now() + make_interval(secs => $1 + 1)`,
    [leaseSeconds],
  );
  const [rows] = await db.query<[{ id: string; runId: string; state: LegState }[], number]>(
    `UPDATE leg
     SET worker = NULL, lease_until = NULL, frames_done = 0, speed = NULL, lapses = lapses + 1,
       blames = blames + alone::int, alone = false,
       state = CASE WHEN stop_wanted THEN 'stopped' WHEN blames + alone::int >= $1 THEN 'failed' ELSE 'waiting' END,
       ended_at = CASE WHEN stop_wanted OR blames + alone::int >= $1 THEN now() END, stop_wanted = false,
       queued_at = now(), problem = CASE WHEN blames + alone::int >= $1 AND NOT stop_wanted THEN $2::jsonb END
     WHERE state IN ('running', 'proving') AND lease_until < now()
     RETURNING id, run_id AS "runId", state`,
    [
      mostBlames,
      JSON.stringify({
        what: `The worker broke off ${mostBlames} times while it made this clip and nothing else`,
        remedy: "Look at the original; retry when the worker's log shows why",
      }),
    ],
  );
  return rows;
}

/**
 * Waiting legs that the queue holds too few jobs for: a job was taken by a worker that died before it claimed one, or
 * legs became free to begin, or a clock was set back so that jobs lie ahead of it. Any leg's id does: whoever takes the
 * job takes the foremost leg.
 */
export async function orphanedLegs(db: DataSource): Promise<string[]> {
  const rows = await db.query<{ id: string }[]>(
    `SELECT leg.id
     FROM leg
     JOIN run ON run.id = leg.run_id
     WHERE leg.state = 'waiting'
       AND leg.plan IS NOT NULL
       AND (leg.queued_at < now() - interval '10 seconds' OR leg.queued_at > now())
       AND (run.not_before IS NULL OR run.not_before <= now())
     ORDER BY leg.ordinal
     LIMIT least(
       500,
       greatest(
         0,
         (
           SELECT count(*)
           FROM leg
           JOIN run ON run.id = leg.run_id
           WHERE leg.state = 'waiting'
             AND leg.plan IS NOT NULL
             AND (run.not_before IS NULL OR run.not_before <= now())
         ) - (
           SELECT count(*)
           FROM pgboss.job
           WHERE job.name = 'leg'
             AND job.state IN ('created', 'retry')
             AND job.start_after <= now() + interval '1 second'
         )
       )
     )`,
  );
  return rows.map((row) => row.id);
}
