import type { OutputLine } from '@relay/contract/checks';
import type { LastChoice, LegLine, RunAnswer, RunLine } from '@relay/contract/runs';
import type { LegState } from '@relay/contract/states';
import { placesNamed } from '@relay/core/recipe/places';
import { IsNull, type DataSource } from 'typeorm';
import { run } from '../db/entities/runs.ts';
import { joinedCopyLines } from './joinedCopies.ts';
import { liveWorkers } from '../queue/roster.ts';

const runColumns = `
  run.id, run.name, run.recipe->>'name' AS "recipeName", run.store_id AS store, run.folder, run.created_at AS "createdAt", run.priority, run.not_before AS "notBefore", run.wanted_by AS "wantedBy",
  (SELECT coalesce(json_agg(json_build_object('deliverable', d->>'name', 'store', d->'place'->>'store', 'folder', d->'place'->>'folder')), '[]') FROM jsonb_array_elements(run.recipe->'deliverables') d WHERE d ? 'place') AS places,
  (SELECT CASE WHEN bool_and(leg.ended_at IS NOT NULL) THEN max(leg.ended_at) END FROM leg WHERE leg.run_id = run.id) AS "endedAt",
  (SELECT coalesce(json_object_agg(s.state, s.n), '{}') FROM (SELECT state, count(*) AS n FROM leg WHERE leg.run_id = run.id GROUP BY state) s) AS legs,
  (SELECT coalesce(sum(o.size_bytes), 0)::float FROM output o JOIN leg ON leg.id = o.leg_id WHERE leg.run_id = run.id) AS bytes,
  (SELECT json_build_object('version', v.id, 'cut', c.name, 'number', v.number) FROM cut_version v JOIN cut c ON c.id = v.cut_id WHERE run.pull IS NOT NULL AND v.id = (run.pull->>'version')::uuid) AS pull`;

export async function runLines(db: DataSource, production: string): Promise<RunLine[]> {
  return await db.query<RunLine[]>(
    `SELECT ${runColumns} FROM run WHERE production_id = $1 ORDER BY created_at DESC LIMIT 500`,
    [production],
  );
}

/** One run, without its legs; null where it is gone. */
export async function runLineOf(db: DataSource, id: string): Promise<RunLine | null> {
  const [line] = await db.query<RunLine[]>(`SELECT ${runColumns} FROM run WHERE run.id = $1`, [id]);
  return line ?? null;
}

/** What was said last of an output as it is now; beside rows called `o`. */
export const lookOfOutput = `
  (
    SELECT CASE WHEN k.verdict <> 'taken back' THEN
      json_build_object('verdict', k.verdict, 'note', k.note, 'frame', k.frame, 'who', k.who, 'at', k.at)
    END
    FROM output_look k
    WHERE k.output_id = o.id AND k.xxh3 IS NOT DISTINCT FROM o.xxh3
    ORDER BY k.at DESC
    LIMIT 1
  )`;

export const outputColumns = `
  o.id, o.deliverable, o.role, o.path, o.state, o.already_there AS "alreadyThere", o.size_bytes::float AS "sizeBytes", o.xxh3, o.proof, o.problem,
  ${lookOfOutput} AS look`;

interface LegRecord extends Omit<LegLine, 'outputs'> {
  outputs: OutputLine[] | null;
  state: LegState;
}

/** Legs of a run (`only` some of them), or the one leg, with what they made. */
export async function legLines(
  db: DataSource,
  where: { run: string; only?: readonly string[] } | { leg: string },
): Promise<LegLine[]> {
  const [column, value, only] = 'run' in where ? ['run_id', where.run, where.only ?? null] : ['id', where.leg, null];
  const rows = await db.query<LegRecord[]>(
    `SELECT leg.id, leg.clip_id AS "clipId", clip.stem, clip.path, clip.roll, leg.ordinal, leg.wave, leg.hand, leg.makes,
       leg.state, leg.frames_done AS "framesDone", leg.frames_total AS "framesTotal",
       coalesce(
         CASE WHEN run.pull IS NULL
           THEN (clip.description->'video'->'duration'->>'num')::float / (clip.description->'video'->'duration'->>'den')::float
           ELSE leg.frames_total * (clip.description->'video'->'rate'->>'den')::float / (clip.description->'video'->'rate'->>'num')::float
         END,
         0
       ) AS seconds,
       coalesce(
         (clip.description->'video'->'raster'->>'width')::float * (clip.description->'video'->'raster'->>'height')::float * leg.frames_total,
         0
       ) AS samples,
       leg.speed, leg.worker, leg.problem, leg.started_at AS "startedAt", leg.ended_at AS "endedAt",
       (
         SELECT json_agg(
           json_build_object(
             'id', o.id, 'deliverable', o.deliverable, 'role', o.role, 'path', o.path, 'state', o.state,
             'alreadyThere', o.already_there, 'sizeBytes', o.size_bytes, 'xxh3', o.xxh3, 'proof', null, 'problem',
             o.problem, 'look', ${lookOfOutput}
           ) ORDER BY o.role,
           o.path
         )
         FROM output o
         WHERE o.leg_id = leg.id
       ) AS outputs
     FROM leg
     JOIN clip ON clip.id = leg.clip_id
     JOIN run ON run.id = leg.run_id
     WHERE leg.${column} = $1 AND ($2::uuid[] IS NULL OR leg.id = ANY($2))
     ORDER BY CASE WHEN leg.state IN ('waiting', 'held') THEN leg.hand ELSE 2147483647 END DESC, leg.wave, leg.ordinal`,
    [value, only],
  );
  return rows.map((row) => ({ ...row, outputs: row.outputs ?? [] }));
}

/** A run with its legs, or with `only` some of them. */
export async function runAnswer(db: DataSource, id: string, only?: readonly string[]): Promise<RunAnswer | null> {
  const line = await runLineOf(db, id);
  return line
    ? {
        ...line,
        legLines: await legLines(db, { run: id, ...(only ? { only } : {}) }),
        now: new Date().toISOString(),
        lacks: await lacking(db, id),
        joinedCopies: await joinedCopyLines(db, id),
      }
    : null;
}

/**
 * What a run's waiting legs lack where no worker that is there can take any of them: in words; null where some can, or
 * none wait.
 */
async function lacking(db: DataSource, run: string): Promise<string | null> {
  const wanted = await db.query<{ source: string; stores: string[]; codecs: string[] }[]>(
    `SELECT DISTINCT clip.store_id AS source, leg.stores, leg.codecs
     FROM leg
     JOIN clip ON clip.id = leg.clip_id
     WHERE leg.run_id = $1 AND leg.state = 'waiting'`,
    [run],
  );
  if (wanted.length === 0) return null;
  const workers = await liveWorkers(db);
  if (workers.length === 0) return 'No worker is there';
  const reasons = wanted.map(({ source, stores: ofOutputs, codecs }) => {
    const needed = [source, ...ofOutputs];
    const missing = needed.find((one) => !workers.some(({ stores }) => stores.includes(one)));
    if (missing) return `The store ${missing} is not there on any worker's machine`;
    return workers.some(
      (worker) =>
        needed.every((one) => worker.stores.includes(one)) &&
        (worker.codecs === null || codecs.every((codec) => worker.codecs?.includes(codec))),
    )
      ? null
      : `No worker has its stores and takes ${codecs.join(', ')}`;
  });
  return reasons.every((reason) => reason !== null) ? (reasons[0] ?? null) : null;
}

/** Bytes that legs which are queued or under way will still put on each store, likely. */
export async function promisedBytes(db: DataSource): Promise<Map<string, number>> {
  const rows = await db.query<{ store: string; bytes: number }[]>(
    `SELECT share.key AS store, sum(share.value::float) AS bytes
     FROM leg
     CROSS JOIN LATERAL jsonb_each_text(leg.bytes_by_store) share
     WHERE leg.state IN ('waiting', 'held', 'running', 'proving')
     GROUP BY share.key`,
  );
  return new Map(rows.map(({ store, bytes }) => [store, bytes]));
}

/** What a person ran last in a production; null before anybody did. */
export async function lastChoiceOf(db: DataSource, production: string): Promise<LastChoice> {
  const last = await db.manager.findOne(run, {
    select: { id: true, recipeId: true, recipeVersion: true, storeId: true, folder: true, recipe: true },
    where: { productionId: production, inletId: IsNull(), pull: IsNull() },
    order: { createdAt: 'DESC' },
  });
  return (
    last && {
      recipe: last.recipeId,
      version: last.recipeVersion,
      store: last.storeId,
      folder: last.folder,
      places: placesNamed(last.recipe),
    }
  );
}
