import type { ByteRange } from '@relay/contract/forecast';
import type { RunCheck } from '@relay/contract/runs';
import type { BurnFacts } from '@relay/core/burn/plan';
import type { ClipDescription } from '@relay/core/clip/description';
import { fromFields } from '@relay/core/corrections/fields';
import type { Finding } from '@relay/core/findings/finding';
import { standingOf, type Decision } from '@relay/core/findings/findings';
import { pathRemedy, planClashing, type BatchClip } from '@relay/core/recipe/batch';
import { planMark } from '@relay/core/recipe/mark';
import { addEstimates } from '@relay/core/size/estimate';
import type { Clash } from '@relay/core/naming/clashes';
import { soundKeptOut } from '@relay/core/recipe/soundAlone';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { byPlace } from '@relay/core/recipe/places';
import type { OutputPlace, Recipe } from '@relay/core/recipe/recipe';
import type { Result } from '@relay/core/result';
import { legBytesAtMost } from '@relay/core/size/forecast';
import { dayOf } from '@relay/core/time/day';
import { basename } from 'node:path';
import type { DataSource } from 'typeorm';
import { recordedMarks } from './recorded.ts';
import { estimatesBy, foretold, siteHistory } from './history.ts';
import { forecastOf } from './deliverables.ts';
import { correctionsInForce, inForceOfClip, type InForceRows } from '../clips/inForce.ts';
import { liveWorkers } from '../queue/roster.ts';
import { fileSystemOf, freeBytes, takenAmong } from '@relay/work/disk/place';
import { promisedBytes } from './queries.ts';
import { isThere, type Store } from '@relay/work/disk/store';

export interface ClipToRun {
  id: string;
  storeId: string;
  root: string;
  /** What that folder was called when it was read, where it has moved since. */
  readAs: string | null;
  path: string;
  description: ClipDescription;
  /** Reel as people or sidecars have it, where they do. */
  reel: string | null;
  scene: string | null;
  take: string | null;
  camera: string | null;
  /** Name of its production. */
  production: string;
  /** The corrections that hold for it. */
  inForce: InForceRows;
  looked: boolean;
  findings: Finding[];
  decisions: Decision[];
}

/** The clips that a run was asked for (null: all), in the order of their paths. Refused files are not among them. */
export async function clipsToRun(
  db: DataSource,
  production: string,
  ids: readonly string[] | null,
): Promise<ClipToRun[]> {
  return await db.query<ClipToRun[]>(
    `SELECT clip.id, store_id AS "storeId", root, read_as AS "readAs", path, description, in_force.fields AS "inForce",
       coalesce(said->>'reel', sidecar_said->>'reel') AS reel,
       coalesce(said->>'scene', sidecar_said->>'scene') AS scene,
       coalesce(said->>'take', sidecar_said->>'take') AS take,
       coalesce(said->>'camera', sidecar_said->>'camera') AS camera,
       (SELECT name FROM production WHERE production.id = clip.production_id) AS production,
       looked_at IS NOT NULL AS looked, findings,
       coalesce(
         (
           SELECT json_agg(json_build_object('rule', rule, 'answer', answer, 'note', note, 'by', who, 'at', at))
           FROM decision
           WHERE decision.clip_id = clip.id
         ),
         '[]'
       ) AS decisions
     FROM clip ${inForceOfClip}
     WHERE production_id = $1 AND ($2::uuid[] IS NULL OR clip.id = ANY($2)) AND jsonb_typeof(description) = 'object'
     ORDER BY root, path`,
    [production, ids],
  );
}

export interface PlannedClip {
  clip: ClipToRun;
  plan: Result<LegPlan>;
}

function factsOf({ scene, take, camera, production }: ClipToRun): BurnFacts {
  return { scene, take, camera, production, date: dayOf(new Date()) };
}

/** Clips as core plans them. */
export function batchOf(clips: readonly ClipToRun[]): BatchClip[] {
  return clips.map((clip) => ({
    clip: clip.reel ? { ...clip.description, reel: clip.reel } : clip.description,
    whole: clip.readAs ?? basename(clip.root),
    corrections: fromFields(correctionsInForce(clip.inForce).fields),
    facts: factsOf(clip),
  }));
}

export function planClips(clips: readonly ClipToRun[], recipe: Recipe): PlannedClip[] {
  return planAndClash(clips, recipe).planned;
}

/** The same, with what clashes among their paths. */
export function planAndClash(
  clips: readonly ClipToRun[],
  recipe: Recipe,
): { planned: PlannedClip[]; clashes: readonly Clash[] } {
  const { plans, clashes } = planClashing(batchOf(clips), recipe, []);
  return { planned: clips.map((clip, index) => ({ clip, plan: plans[index] as Result<LegPlan> })), clashes };
}

/** Those that a recipe makes anything of: recorders' files are for deliverables of sound alone. */
export function takenBy(clips: readonly ClipToRun[], recipe: Recipe): ClipToRun[] {
  return clips.filter(({ description }) => soundKeptOut(description, recipe) === null);
}

/** Clips as the recipe, findings and decisions leave them: those that run, and those kept out, with the reason. */
export function sortOut(
  all: readonly ClipToRun[],
  recipe: Recipe,
): { runs: ClipToRun[]; keptOut: RunCheck['keptOut']; toDecide: RunCheck['toDecide'] } {
  const clips = takenBy(all, recipe);
  const unheard = all.flatMap((clip) => {
    const why = soundKeptOut(clip.description, recipe);
    return why === null ? [] : [{ clip: clip.id, path: clip.path, why }];
  });
  const standings = clips.map((clip) => ({ clip, standing: standingOf(clip.findings, clip.decisions) }));
  return {
    runs: standings.filter(({ standing }) => standing.runs).map(({ clip }) => clip),
    keptOut: [
      ...standings.flatMap(({ clip, standing }) =>
        standing.runs ? [] : [{ clip: clip.id, path: clip.path, why: standing.why ?? '' }],
      ),
      ...unheard,
    ],
    toDecide: standings.flatMap(({ clip, standing }) =>
      standing.runs && standing.toDecide.length > 0
        ? [
            {
              clip: clip.id,
              path: clip.path,
              findings: standing.toDecide.map(({ rule, text, remedy }) => ({ rule, text, remedy })),
            },
          ]
        : [],
    ),
  };
}

/** Clips sorted out and planned, and what clashes among the paths of what they make. */
export interface Readied {
  sorted: ReturnType<typeof sortOut>;
  planned: readonly PlannedClip[];
  clashes: readonly Clash[];
}

/** What a run would make, need and meet. */
export async function checkRun(
  db: DataSource,
  recipe: Recipe,
  { sorted, planned, clashes }: Readied,
  { own, stores }: { own: OutputPlace; stores: readonly Store[] },
): Promise<Omit<RunCheck, 'gone' | 'pull'>> {
  const good = planned.flatMap(({ plan }) => (plan.ok ? [plan.value] : []));
  const history = await siteHistory(db);
  const outputs = good.flatMap((plan) => plan.outputs.map((output) => ({ plan, output, ...placeIn(output) })));
  const { taken, superseded } = await meets(db, own, stores, outputs);
  const lanes = (await liveWorkers(db)).reduce((sum, { slots }) => sum + slots, 0);
  const remedy = pathRemedy(batchOf(sorted.runs), recipe, [], clashes);
  const estimate = estimatesBy(history);
  const bytesOf = (some: readonly OutputPlan[]): ByteRange => addEstimates(some.map(estimate)).bytes;
  return {
    clips: good.length,
    outputs: outputs.length,
    stores: await roomOn(db, own, stores, good, bytesOf),
    refused: planned.flatMap(({ clip, plan }) =>
      plan.ok ? [] : [{ clip: clip.id, path: clip.path, problem: plan.problem }],
    ),
    taken,
    keptOut: sorted.keptOut,
    toDecide: sorted.toDecide,
    notLooked: sorted.runs.filter((clip) => !clip.looked).length,
    deliverables: forecastOf(good, recipe, estimate),
    bytes: bytesOf(outputs.map(({ output }) => output)),
    seconds: foretold(good, history, Math.max(1, lanes)),
    clashes: clashes.length,
    remedy: remedy ? { text: remedy.text, definition: remedy.recipe } : null,
    superseded,
  };
}

/** An output's place as something that outputs are parted by. */
function placeIn({ place }: OutputPlan): { place?: OutputPlace } {
  return place ? { place } : {};
}

/** What lies already where outputs go, place by place, and how many of it were made to another plan. */
async function meets(
  db: DataSource,
  own: OutputPlace,
  stores: readonly Store[],
  wanted: readonly { plan: LegPlan; output: OutputPlan; place?: OutputPlace }[],
): Promise<{ taken: string[]; superseded: number }> {
  const taken: string[] = [];
  let superseded = 0;
  for (const { place, outputs } of byPlace(wanted, own)) {
    const store = stores.find(({ id }) => id === place.store);
    if (!store) continue;
    const here = await takenAmong(
      { root: store.path, folder: place.folder },
      outputs.map(({ output }) => output.path),
    );
    const marks = await recordedMarks(db, place, here);
    taken.push(...here);
    superseded += outputs.filter(
      ({ plan, output }) => marks.has(output.path) && marks.get(output.path) !== planMark(plan, output),
    ).length;
  }
  return { taken, superseded };
}

/** What plans will take of each store, and what there is. */
async function roomOn(
  db: DataSource,
  own: OutputPlace,
  stores: readonly Store[],
  plans: readonly LegPlan[],
  bytesOf: (outputs: readonly OutputPlan[]) => ByteRange,
): Promise<RunCheck['stores']> {
  const promised = await promisedBytes(db);
  return Promise.all(
    stores.map(async (store) => {
      const parts = plans
        .map((plan) => ({
          ...plan,
          outputs: plan.outputs.filter(({ place }) => (place ?? own).store === store.id),
        }))
        .filter(({ outputs }) => outputs.length > 0);
      const there = await isThere(store);
      return {
        id: store.id,
        name: store.name,
        there,
        disk: await fileSystemOf(store.path),
        bytes: bytesOf(parts.flatMap(({ outputs }) => outputs)),
        bytesAtMost: parts.reduce((sum, plan) => sum + legBytesAtMost(plan), 0),
        freeBytes: there ? await freeBytes(store.path) : 0,
        promisedBytes: promised.get(store.id) ?? 0,
      };
    }),
  );
}
