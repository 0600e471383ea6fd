import type { RunCheck } from '@relay/contract/api';
import type { ClipDescription } from '@relay/core/clip/description';
import { notesOn } from '@relay/core/clip/toKnow';
import { planBatch } from '@relay/core/recipe/batch';
import type { LegPlan } from '@relay/core/recipe/plan';
import type { Recipe } from '@relay/core/recipe/recipe';
import type { Result } from '@relay/core/result';
import { legBytesAtMost } from '@relay/core/size/forecast';
import { basename } from 'node:path';
import type { DataSource } from 'typeorm';
import { exists, freeBytes, placeInside } from '../stores/place.ts';
import type { Store } from '../stores/stores.ts';

export interface ClipToRun {
  id: string;
  storeId: string;
  root: string;
  path: string;
  description: ClipDescription;
}

/** The clips that a run was asked for, in the order of their paths. Refused files are not among them, nor sound without a picture, which no deliverable is made of yet. */
export async function clipsToRun(db: DataSource, production: string, ids: readonly string[]): Promise<ClipToRun[]> {
  return (await db.query(
    `SELECT id, store_id AS "storeId", root, path, description FROM clip
     WHERE production_id = $1 AND id = ANY($2) AND jsonb_typeof(description->'video') = 'object' ORDER BY root, path`,
    [production, ids],
  )) as ClipToRun[];
}

export interface PlannedClip {
  clip: ClipToRun;
  plan: Result<LegPlan>;
}

export function planClips(clips: readonly ClipToRun[], recipe: Recipe): PlannedClip[] {
  const plans = planBatch(clips.map((clip) => ({ clip: clip.description, whole: basename(clip.root) })), recipe, []);
  return clips.map((clip, index) => ({ clip, plan: plans[index] as Result<LegPlan> }));
}

/** What a run would make, need and meet. */
export async function checkRun(planned: readonly PlannedClip[], store: Store, folder: string): Promise<RunCheck> {
  const good = planned.flatMap(({ plan }) => (plan.ok ? [plan.value] : []));
  const outRoot = await placeInside(store.path, folder);
  const taken: string[] = [];
  for (const path of good.flatMap((plan) => plan.outputs.map((output) => output.path))) {
    if (await exists(await placeInside(outRoot, path))) taken.push(path);
  }
  return {
    clips: good.length,
    outputs: good.reduce((sum, plan) => sum + plan.outputs.length, 0),
    bytesAtMost: good.reduce((sum, plan) => sum + legBytesAtMost(plan), 0),
    freeBytes: await freeBytes(outRoot),
    refused: planned.flatMap(({ clip, plan }) => (plan.ok ? [] : [{ clip: clip.id, path: clip.path, problem: plan.problem }])),
    taken,
    toDecide: good.flatMap(({ original }) => {
      const notes = notesOn(original).filter((note) => note.level === 'decide').map((note) => note.text);
      return notes.length > 0 ? [{ path: original.path, notes }] : [];
    }),
  };
}
