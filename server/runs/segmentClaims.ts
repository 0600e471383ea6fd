import type { Segment } from '@relay/core/recipe/segments';
import type { Tuning } from '@relay/media/leg/encoders';
import type { SegmentEnd, SegmentNow, SegmentToMake } from '@relay/work/leg/segments';
import type { DataSource } from 'typeorm';
import { workerHeardSeconds } from '../queue/roster.ts';
import type { Abilities } from './claims.ts';

/** All SQL about segments stands here: who makes which, and whether they still do. */

/** A segment whose maker was not heard of for so long is made by another. */
const heardSeconds = 15;

export interface ClaimedSegment extends SegmentToMake {
  place: number;
  outStore: string;
  outFolder: string;
  sourceStore: string;
  sourceRoot: string;
}

/** A clip's picture samples: how heavy its legs are, roughly. */
const samplesOf = (clip: string): string =>
  `(${clip}.description->'video'->'raster'->>'width')::float * (${clip}.description->'video'->'raster'->>'height')::float`;

/**
 * Slots on other machines than `host`, of workers that have the leg's stores and codecs, that stand idle or soon will:
 * what keeps them busy has less than half of this leg's work left. Less the legs that wait. On its own machine FFmpeg
 * uses every core already: there a second one would only decode more.
 */
export async function idleSlots(db: DataSource, leg: string, host: string): Promise<number> {
  const [row] = await db.query<{ idle: number }[]>(
    `SELECT (
       SELECT coalesce(
         sum(
           greatest(
             0,
             worker.slots - (
               SELECT count(*)
               FROM leg own
               JOIN clip theirs ON theirs.id = own.clip_id
               WHERE own.worker = worker.name
                 AND own.state IN ('running', 'proving')
                 AND (own.frames_total - own.frames_done) * ${samplesOf('theirs')} >= leg.frames_total * ${samplesOf('clip')} / 2
             ) - (
               SELECT count(*)
               FROM segment
               WHERE segment.worker = worker.name AND segment.state = 'running'
             )
           )
         ),
         0
       )
       FROM worker
       WHERE worker.host <> $2
         AND beat_at > now() - make_interval(secs => $3)
         AND leg.stores <@ worker.stores
         AND clip.store_id = ANY(worker.stores)
         AND (worker.codecs IS NULL OR leg.codecs <@ worker.codecs)
     )::int - (SELECT count(*) FROM leg open WHERE open.state = 'waiting')::int AS idle
     FROM leg
     JOIN clip ON clip.id = leg.clip_id
     WHERE leg.id = $1`,
    [leg, host, workerHeardSeconds],
  );
  return Math.max(0, row?.idle ?? 0);
}

/** Deals a leg's segments out anew; whoever works on earlier ones finds them gone. */
export async function dealSegments(
  db: DataSource,
  leg: string,
  segments: readonly Segment[],
  tunings: readonly Tuning[],
): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.query('DELETE FROM segment WHERE leg_id = $1', [leg]);
    await tx.query(
      `INSERT INTO segment (leg_id, place, first_frame, frames, tunings)
       SELECT $1, place, first_frame, frames, $3
       FROM jsonb_to_recordset($2::jsonb) AS s(place int, first_frame int, frames int)`,
      [
        leg,
        JSON.stringify(segments.map(({ from, frames }, place) => ({ place, first_frame: from, frames }))),
        JSON.stringify(tunings),
      ],
    );
  });
}

/** Drops a leg's segments, if the leg is still this worker's; returns the files that were made of them. */
export async function dropSegments(db: DataSource, leg: string, worker: string): Promise<string[][]> {
  const [rows] = await db.query<[{ parts: string[] }[], number]>(
    `DELETE
     FROM segment USING leg
     WHERE leg.id = segment.leg_id AND leg.id = $1 AND leg.worker = $2
     RETURNING segment.parts`,
    [leg, worker],
  );
  return rows.map(({ parts }) => parts);
}

/**
 * The next segment of its own leg for the leg's worker, from the front; what another left lying, or could not make, is
 * its own too.
 */
export async function claimOwnSegment(db: DataSource, leg: string, worker: string): Promise<number | null> {
  const [rows] = await db.query<[{ place: number }[], number]>(
    `UPDATE segment
     SET state = 'running', worker = $2, beat_at = now(), frames_done = 0
     WHERE leg_id = $1
       AND place = (
         SELECT place
         FROM segment
         WHERE leg_id = $1
           AND (
             state = 'waiting' OR (state = 'running' AND beat_at < now() - make_interval(secs => $3)) OR (state = 'failed' AND worker <> $2)
           )
         ORDER BY place
         LIMIT 1
         FOR UPDATE SKIP LOCKED
       )
     RETURNING place`,
    [leg, worker, heardSeconds],
  );
  return rows[0]?.place ?? null;
}

/**
 * A segment of some leg that runs on another machine, for a worker that has nothing else to do: the last of its leg,
 * since its own worker begins at the front.
 */
export async function claimSegment(
  db: DataSource,
  worker: string,
  host: string,
  { stores, codecs }: Abilities,
): Promise<ClaimedSegment | null> {
  const [rows] = await db.query<[ClaimedSegment[], number]>(
    `UPDATE segment
     SET state = 'running', worker = $1, beat_at = now(), frames_done = 0
     FROM leg, run, clip
     WHERE leg.id = segment.leg_id
       AND run.id = leg.run_id
       AND clip.id = leg.clip_id
       AND (segment.leg_id, segment.place) = (
         SELECT s.leg_id, s.place
         FROM segment s
         JOIN leg l ON l.id = s.leg_id
         JOIN run r ON r.id = l.run_id
         JOIN clip c ON c.id = l.clip_id
         WHERE s.state = 'waiting'
           AND l.state = 'running'
           AND NOT l.stop_wanted
           AND NOT starts_with(l.worker, $4)
           AND ($2::text[] IS NULL OR (l.stores <@ $2 AND c.store_id = ANY($2)))
           AND ($3::text[] IS NULL OR l.codecs <@ $3)
         ORDER BY r.priority DESC, l.started_at, s.place DESC
         LIMIT 1
         FOR UPDATE OF s SKIP LOCKED
       )
     RETURNING segment.leg_id AS leg, segment.place, segment.first_frame AS "from", segment.frames, segment.tunings, leg.plan,
       run.store_id AS "outStore", run.folder AS "outFolder", clip.store_id AS "sourceStore",
       clip.root AS "sourceRoot"`,
    [worker, stores, codecs, `${host}/`],
  );
  return rows[0] ?? null;
}

/** Says that a segment is still worked on; false where it is no longer wanted, or another's. */
export async function beatSegment(
  db: DataSource,
  leg: string,
  place: number,
  worker: string,
  framesDone: number,
): Promise<boolean> {
  const [, count] = await db.query<[unknown[], number]>(
    `UPDATE segment
     SET beat_at = now(), frames_done = $4
     FROM leg
     WHERE leg.id = segment.leg_id
       AND segment.leg_id = $1
       AND segment.place = $2
       AND segment.worker = $3
       AND segment.state = 'running'
       AND leg.state = 'running'
       AND NOT leg.stop_wanted`,
    [leg, place, worker, framesDone],
  );
  return count > 0;
}

/** Ends a segment, if it is still this worker's. Said twice, because the first answer was lost, it holds. */
export async function endSegment(
  db: DataSource,
  leg: string,
  place: number,
  worker: string,
  end: SegmentEnd,
): Promise<boolean> {
  const [parts, seen] = end.state === 'done' ? [end.parts, end.seen] : [[], null];
  const [, count] = await db.query<[unknown[], number]>(
    `UPDATE segment
     SET state = $4, problem = $5, parts = $6, seen = $7, frames_done = CASE WHEN $4 = 'done' THEN frames ELSE 0 END
     WHERE leg_id = $1 AND place = $2 AND worker = $3 AND (state = 'running' OR (state = $4 AND parts = $6))`,
    [leg, place, worker, end.state, end.state === 'failed' ? end.problem : null, parts, seen],
  );
  return count > 0;
}

export async function segmentsOf(db: DataSource, leg: string): Promise<SegmentNow[]> {
  return await db.query<SegmentNow[]>(
    `SELECT place, state, worker, frames_done AS "framesDone", parts, seen, problem
     FROM segment
     WHERE leg_id = $1
     ORDER BY place`,
    [leg],
  );
}

/** Waiting segments for which the queue holds no job, by their legs. */
export async function unqueuedSegments(db: DataSource): Promise<string[]> {
  const rows = await db.query<{ leg: string }[]>(
    `SELECT segment.leg_id AS leg
     FROM segment
     JOIN leg ON leg.id = segment.leg_id
     WHERE segment.state = 'waiting' AND leg.state = 'running'
     LIMIT greatest(
       0, 8 - (SELECT count(*) FROM pgboss.job WHERE job.name = 'leg' AND job.state IN ('created', 'retry'))::int
     )`,
  );
  return rows.map(({ leg }) => leg);
}
