import type { ChecksAnswer, OutputAnswer, OutputLine } from '@relay/contract/checks';
import { hasPicture } from '@relay/core/recipe/codecs';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { membersOf } from '@relay/core/recipe/members';
import { sayPlan } from '@relay/core/recipe/sentence';
import type { DataSource } from 'typeorm';
import { notThere } from '../http.ts';
import { lookOfOutput, outputColumns } from '../runs/queries.ts';

/** An output with its leg's plan, and where it lies. */
export interface OutputRecord extends OutputLine {
  legId: string;
  runId: string;
  clipId: string;
  clipPath: string;
  plan: LegPlan;
  store: string;
  folder: string;
  /** When its leg ended, and what its original's contents were then; empty where nobody read them. */
  madeAt: Date;
  originalXxh3: string | null;
}

/** Null when there is none of that id. */
export async function recordOf(db: DataSource, id: string): Promise<OutputRecord | null> {
  const [row] = await db.query<OutputRecord[]>(
    `SELECT ${outputColumns}, o.leg_id AS "legId", run.id AS "runId", clip.id AS "clipId", clip.path AS "clipPath",
       leg.plan, o.store_id AS store, o.folder, o.created_at AS "madeAt",
       o.relink->>'originalXxh3' AS "originalXxh3"
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     JOIN run ON run.id = leg.run_id
     JOIN clip ON clip.id = leg.clip_id
     WHERE o.id = $1`,
    [id],
  );
  return row ?? null;
}

/** What was planned for an output. */
export function plannedOf({ plan, path }: OutputRecord): OutputPlan {
  const planned = plan.outputs.find((output) => output.path === path);
  if (!planned) throw notThere("The output's plan");
  return planned;
}

/** A production's outputs, those that need somebody first. */
export async function finishedOutputs(db: DataSource, production: string): Promise<ChecksAnswer['outputs']> {
  return db.query<ChecksAnswer['outputs']>(
    `SELECT ${outputColumns.replace('o.proof', 'NULL AS proof')}, run.id AS "runId", clip.id AS "clipId",
       clip.path AS "clipPath", clip.stem, clip.size_bytes::float AS "originalBytes",
       clip.seconds, o.created_at AS "createdAt"
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     JOIN run ON run.id = leg.run_id
     JOIN clip ON clip.id = leg.clip_id
     WHERE run.production_id = $1
     ORDER BY array_position(
         ARRAY['sent back', 'needs eyes', 'failed', 'stopped', 'accepted', 'proved'],
         coalesce((${lookOfOutput})->>'verdict', o.state)
       ), run.created_at DESC,
       leg.ordinal, o.role
     LIMIT 20000`,
    [production],
  );
}

function lineOf(record: OutputRecord): OutputLine {
  const { id, deliverable, role, path, state, alreadyThere, sizeBytes, xxh3, proof, problem, look } = record;
  return { id, deliverable, role, path, state, alreadyThere, sizeBytes, xxh3, proof, problem, look };
}

/** An output as the checks show it; null when there is none of that id. */
export async function outputAnswer(db: DataSource, id: string): Promise<OutputAnswer | null> {
  const record = await recordOf(db, id);
  if (!record) return null;
  const planned = plannedOf(record);
  const { plan, legId, runId, clipId, clipPath } = record;
  return {
    ...lineOf(record),
    legId,
    runId,
    clipId,
    clipPath,
    store: record.store,
    folder: record.folder,
    oneFile: membersOf(planned) === null,
    said: sayPlan(plan),
    frames: record.proof?.frames ?? planned.video.frames,
    pictured: hasPicture(planned),
    rate: planned.video.rate,
    raster: planned.video.raster,
    start: planned.timecode,
    original: plan.original,
  };
}
