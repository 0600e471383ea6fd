import type { InletDefinition } from '@relay/contract/inlets';
import type { Finding } from '@relay/core/findings/finding';
import { standingOf } from '@relay/core/findings/findings';
import { minutesUntilWork, minuteOfDay } from '@relay/core/site/quietHours';
import { byPlace, placesNamed, withPlaces } from '@relay/core/recipe/places';
import type { OutputPlace, Recipe } from '@relay/core/recipe/recipe';
import type { Problem } from '@relay/core/result';
import { takenAmong } from '@relay/work/disk/place';
import type PgBoss from 'pg-boss';
import type { DataSource, EntityManager } from 'typeorm';
import { decide, decided } from '../clips/decisions.ts';
import type { ClipThatWaits } from '../db/entities/inlets.ts';
import { recipe as recipeRow } from '../db/entities/recipes.ts';
import { clipsToRun, planAndClash, takenBy, type ClipToRun, type PlannedClip } from '../runs/plans.ts';
import { addToRun, queueRun, writeRun, type RunToStart, type WrittenRun } from '../runs/service.ts';
import type { Stores } from '../stores/stores.ts';
import { earlierVersions, type EarlierVersions } from './earlierVersions.ts';
import type { ComingNames } from './comingNames.ts';

/** What an inlet's runs are begun with. */
export interface Beginning {
  db: DataSource;
  boss: PgBoss;
  stores: Stores;
  coming: ComingNames;
}

/** An inlet whose clips are to be made. */
export interface BeginningFor {
  id: string;
  production: string;
  definition: InletDefinition;
}

/** Clips as an inlet's rules for findings have it. */
export interface SortedOut {
  go: ClipToRun[];
  /** Those that wait for a person, and why; those that somebody left out. */
  waits: ClipThatWaits[];
  leftOut: string[];
  /** Findings that are answered with *as it is* by the inlet. */
  answered: { clip: string; rules: string[] }[];
}

/** Which clips may be made, by their findings, what was decided on them, and what the inlet says of such. */
export function sortByFindings(
  clips: readonly ClipToRun[],
  { decide: usual, decideRules }: Pick<InletDefinition, 'decide' | 'decideRules'>,
): SortedOut {
  const sorted: SortedOut = { go: [], waits: [], leftOut: [], answered: [] };
  for (const clip of clips) {
    const { runs, why, toDecide } = standingOf(clip.findings, clip.decisions);
    const waits = toDecide.filter(({ rule }) => (decideRules[rule] ?? usual) === 'wait');
    const [first] = waits;
    const { id, path } = clip;
    if (clip.decisions.some(({ answer }) => answer === 'leave out')) sorted.leftOut.push(id);
    else if (!runs)
      sorted.waits.push({ clip: id, path, what: `${path} is kept out: ${why ?? ''}`, remedy: remedyOf(clip.findings) });
    else if (first)
      sorted.waits.push({
        clip: id,
        path,
        what: `${path} waits for a decision: ${first.text}`,
        remedy: first.remedy,
      });
    else {
      sorted.go.push(clip);
      if (toDecide.length > 0) sorted.answered.push({ clip: clip.id, rules: toDecide.map(({ rule }) => rule) });
    }
  }
  return sorted;
}

function remedyOf(findings: readonly Finding[]): string {
  return findings.find(({ level }) => level === 'stop')?.remedy ?? 'Decide on it under Clips';
}

/** When what is begun now may be made: null for at once. `now` is by this machine's clock, as quiet hours are. */
export function notBefore(
  begin: InletDefinition['begin'],
  quiet: { from: string; until: string } | null,
  now: Date,
): string | null {
  const minute = now.getHours() * 60 + now.getMinutes();
  const inMinutes = (minutes: number): string =>
    new Date(Math.floor(now.getTime() / 60_000) * 60_000 + minutes * 60_000).toISOString();
  switch (begin.kind) {
    case 'at once':
      return null;
    case 'after quiet hours': {
      const until = quiet ? minuteOfDay(quiet.until) : null;
      if (quiet === null || until === null) return null;
      // Within them: when they end. Before them, in the day: when those that come have ended.
      const left = minutesUntilWork(quiet, minute);
      return inMinutes(left > 0 ? left : (until - minute + 1_440) % 1_440);
    }
    case 'at': {
      const wanted = minuteOfDay(begin.time) ?? 0;
      return wanted === minute ? null : inMinutes((wanted - minute + 1_440) % 1_440);
    }
  }
}

/** Runs that more clips of one batch are added to, by the place of their recipe in the inlet. */
export type OpenRuns = Map<number, string>;

/** Thrown where a recipe of an inlet is gone; and what is said of it then. */
export class RecipeGone extends Error {}
export const recipeGone: Problem = {
  what: 'A recipe of this inlet was removed: what arrives waits',
  remedy: 'Choose another recipe for it',
};

interface InletRecipe {
  recipe: Recipe;
  version: number;
  from: InletDefinition['recipes'][number];
}

/** The recipes of an inlet with their places. @throws RecipeGone where one was removed since */
export async function recipesOf(db: DataSource, { recipes }: InletDefinition): Promise<InletRecipe[]> {
  return Promise.all(
    recipes.map(async (from) => {
      const row = await db.manager.findOneBy(recipeRow, { id: from.recipe });
      if (!row) throw new RecipeGone('a recipe of it was removed');
      const own = { store: from.store, folder: from.folder };
      return {
        recipe: withPlaces(row.definition, own, from.places ?? placesNamed(row.definition)),
        version: row.version,
        from,
      };
    }),
  );
}

export interface Begun {
  runs: string[];
  /** What nothing is made of, by its path. */
  problems: (Problem & { path: string })[];
  /** Clips that wait for a person, and of what. */
  waits: ClipThatWaits[];
}

/** Where and when what is begun is written down. */
export interface BeginAt {
  open: OpenRuns;
  /** When it may be made; null for at once. */
  at: string | null;
  /** Written down together with the runs, or not at all. */
  beside: (tx: EntityManager, begun: Begun) => Promise<void>;
}

/** Begins what is to be made of clips: a run for each recipe, or more legs of the one that this batch has already. */
export async function beginMaking(
  beginning: Beginning,
  inlet: BeginningFor,
  clips: readonly string[],
  { open, at, beside }: BeginAt,
): Promise<Begun> {
  const { db, boss } = beginning;
  const recipes = await recipesOf(db, inlet.definition);
  const all = clips.length === 0 ? [] : await clipsToRun(db, inlet.production, clips);
  const { go, waits, answered } = sortByFindings(all, inlet.definition);
  await decide({ db }, inlet.production, answered, 'as it is', `by the inlet ${inlet.definition.name}`);
  const begun: Begun = { runs: [], problems: [], waits };
  const earlier = await earlierVersions(
    db,
    inlet.id,
    go.map(({ id }) => id),
  );
  const prepared = await Promise.all(
    recipes.map(async (one, index) => ({
      one,
      index,
      planned: await plan(beginning, one, { clips: go, earlier }, begun),
    })),
  );
  const written = new Map<number, WrittenRun>();
  await db.transaction(async (tx) => {
    written.clear();
    for (const { one, index, planned } of prepared.filter((each) => each.planned.length > 0)) {
      const wanted = runOf(inlet, one, recipes.length, at);
      const into = open.get(index);
      const added = into === undefined ? null : await addToRun(tx, into, wanted, planned);
      written.set(index, added ?? (await writeRun(tx, wanted, planned)));
    }
    await beside(tx, { ...begun, runs: [...written.values()].map(({ id }) => id) });
  });
  for (const [index, run] of written) {
    open.set(index, run.id);
    await queueRun(db, boss, run);
  }
  void decided({ db }, inlet.production, answered).catch(() => undefined);
  return begun;
}

function runOf(
  { id, production, definition }: BeginningFor,
  { recipe, version, from }: InletRecipe,
  recipes: number,
  at: string | null,
): RunToStart {
  const clock = new Date().toTimeString().slice(0, 5);
  return {
    production,
    name: `${definition.name} ${clock}${recipes > 1 ? `, ${recipe.name}` : ''}`,
    recipe,
    from: { id: from.recipe, version },
    store: from.store,
    folder: from.folder,
    priority: definition.priority,
    notBefore: at,
    inlet: id,
  };
}

/** Plans of clips; what cannot be planned, or would take another original's place, is among the problems. */
async function plan(
  beginning: Beginning,
  { recipe, from }: InletRecipe,
  { clips, earlier }: { clips: readonly ClipToRun[]; earlier: EarlierVersions },
  begun: Begun,
): Promise<PlannedClip[]> {
  const { planned } = planAndClash(takenBy(clips, recipe), recipe);
  const taken = await namesOfOthers(beginning, planned, earlier, { store: from.store, folder: from.folder });
  return planned.flatMap((one) => {
    const { clip, plan: made } = one;
    const problem = made.ok
      ? made.value.outputs.some(({ path }) => taken.has(path)) && nameTaken(clip.path)
      : made.problem;
    if (!problem) return [one];
    begun.problems.push({ path: clip.path, ...problem });
    return [];
  });
}

function nameTaken(path: string): Problem {
  return {
    what: `${path} would take the name of what is made of another original`,
    remedy: 'Put what tells them apart into the path pattern, or rename one',
  };
}

/**
 * Those paths of outputs that are another clip's: what was made of it lies there, or a leg of it that is not done will
 * put it there.
 */
async function namesOfOthers(
  { db, stores, coming }: Beginning,
  planned: readonly PlannedClip[],
  earlier: EarlierVersions,
  own: OutputPlace,
): Promise<Set<string>> {
  const outputs = planned.flatMap(({ clip, plan: made }) =>
    made.ok ? made.value.outputs.map(({ path, place }) => ({ clip: clip.id, path, ...(place ? { place } : {}) })) : [],
  );
  const others = new Set<string>();
  for (const { place, outputs: there } of byPlace(outputs, own)) {
    const clipOf = new Map(there.map(({ path, clip }) => [path, clip]));
    const paths = [...clipOf.keys()];
    const store = await stores.get(place.store);
    const lies = store ? await takenAmong({ root: store.path, folder: place.folder }, paths) : [];
    const isOther = (clip: string | undefined, first: string): boolean =>
      clip !== first && !(clip !== undefined && earlier.get(clip)?.has(first));
    for (const { path, clip } of await madeAt(db, place, lies)) if (isOther(clipOf.get(path), clip)) others.add(path);
    for (const [path, clip] of clipOf) {
      const first = coming.clipOf(place, path);
      if (first === undefined) coming.add(place, path, clip);
      else if (isOther(clip, first)) others.add(path);
    }
  }
  return others;
}

interface ClipAt {
  path: string;
  clip: string;
}

/** Of which clips the outputs are that lie at some paths of a place. */
function madeAt(db: DataSource, { store, folder }: OutputPlace, paths: readonly string[]): Promise<ClipAt[]> {
  return db.query<ClipAt[]>(
    `SELECT DISTINCT ON (output.path) output.path, leg.clip_id AS clip
     FROM output
     JOIN leg ON leg.id = output.leg_id
     WHERE output.store_id = $1 AND output.folder = $2 AND output.path = ANY($3) AND output.xxh3 IS NOT NULL
     ORDER BY output.path, output.created_at DESC`,
    [store, folder, paths],
  );
}
