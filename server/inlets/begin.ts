import type { InletDefinition } from '@relay/contract/inlets';
import type { Finding } from '@relay/core/findings/finding';
import { standingOf } from '@relay/core/findings/findings';
import { minutesUntilWork, minuteOfDay } from '@relay/core/site/quietHours';
import { planMark } from '@relay/core/recipe/mark';
import { byPlace, placesNamed, withPlaces } from '@relay/core/recipe/places';
import type { Recipe } from '@relay/core/recipe/recipe';
import { fail, type Problem } from '@relay/core/result';
import { takenAmong } from '@relay/work/disk/place';
import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import { decide, decided } from '../clips/decisions.ts';
import { recipe as recipeRow } from '../db/entities/recipes.ts';
import { clipsToRun, planAndClash, takenBy, type ClipToRun, type PlannedClip } from '../runs/plans.ts';
import { addToRun, queueRun, writeRun, type Beside, type RunToStart } from '../runs/service.ts';
import type { Stores } from '../stores/stores.ts';

/** What an inlet's runs are begun with. */
export interface Beginning {
  db: DataSource;
  boss: PgBoss;
  stores: Stores;
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
  /** Those that wait for a person, and why. */
  wait: { clip: ClipToRun; problem: Problem }[];
  /** Findings that are answered with *as it is* by the inlet. */
  answered: { clip: string; rules: string[] }[];
}

/** Which clips may be made, by their findings, what was decided on them, and what the inlet says of such. */
export function sortByFindings(
  clips: readonly ClipToRun[],
  { decide: usual, decideRules }: Pick<InletDefinition, 'decide' | 'decideRules'>,
): SortedOut {
  const sorted: SortedOut = { go: [], wait: [], answered: [] };
  for (const clip of clips) {
    const { runs, why, toDecide } = standingOf(clip.findings, clip.decisions);
    const waits = toDecide.filter(({ rule }) => (decideRules[rule] ?? usual) === 'wait');
    const [first] = waits;
    if (!runs)
      sorted.wait.push({
        clip,
        problem: { what: `${clip.path} is kept out: ${why ?? ''}`, remedy: remedyOf(clip.findings) },
      });
    else if (first)
      sorted.wait.push({
        clip,
        problem: { what: `${clip.path} waits for a decision: ${first.text}`, remedy: first.remedy },
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

/** Recipes of an inlet that are gone. */
export class RecipeGone extends Error {}

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
  /** Clips that wait for a person. */
  waiting: string[];
}

/**
 * Begins what is to be made of clips: a run for each recipe, or more legs of the one that this batch has already.
 * `beside` is written down together with the first, or not at all.
 */
export async function beginMaking(
  beginning: Beginning,
  inlet: BeginningFor,
  clips: readonly string[],
  {
    open,
    at,
    beside,
  }: { open: OpenRuns; at: string | null; beside: (tx: Parameters<Beside>[0], begun: Begun) => Promise<void> },
): Promise<Begun> {
  const { db, boss } = beginning;
  const recipes = await recipesOf(db, inlet.definition);
  const all = clips.length === 0 ? [] : await clipsToRun(db, inlet.production, clips);
  const { go, wait, answered } = sortByFindings(all, inlet.definition);
  await decide({ db }, inlet.production, answered, 'as it is', `by the inlet ${inlet.definition.name}`);
  const begun: Begun = { runs: [], problems: [], waiting: wait.map(({ clip }) => clip.id) };
  const prepared = await Promise.all(
    recipes.map(async (one, index) => ({ one, index, planned: await plan(beginning, one, go, begun) })),
  );
  const written: Awaited<ReturnType<typeof writeRun>>[] = [];
  const work = prepared.filter(({ planned }) => planned.length > 0);
  for (const { one, index, planned } of work) {
    const wanted = runOf(inlet, one, recipes.length, at);
    const last = index === work.at(-1)?.index;
    const also: Beside = async (tx, run) => {
      begun.runs.push(run);
      if (last) await beside(tx, begun);
    };
    const into = open.get(index);
    const run =
      (into && (await addToRun(db, into, wanted, planned, also))) || (await writeRun(db, wanted, planned, also));
    open.set(index, run.id);
    written.push(run);
  }
  if (work.length === 0) await db.transaction((tx) => beside(tx, begun));
  for (const run of written) await queueRun(db, boss, run);
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
  clips: readonly ClipToRun[],
  begun: Begun,
): Promise<PlannedClip[]> {
  const { planned } = planAndClash(takenBy(clips, recipe), recipe);
  const taken = await othersAt(beginning, planned, { store: from.store, folder: from.folder });
  return planned.flatMap(({ clip, plan: made }) => {
    const other = made.ok
      ? made.value.outputs.map(({ path }) => taken.get(path)).find((one) => one !== undefined)
      : undefined;
    const result =
      other === undefined || other === clip.id
        ? made
        : fail(
            `${clip.path} would take the name of what was made of another original`,
            'Put what tells them apart into the path pattern, or rename one',
          );
    if (result.ok) return [{ clip, plan: result }];
    begun.problems.push({ path: clip.path, ...result.problem });
    return [];
  });
}

/** Clips of which outputs lie where plans would put theirs, by the outputs' paths; a clip's own are not told. */
async function othersAt(
  { db, stores }: Beginning,
  planned: readonly PlannedClip[],
  own: { store: string; folder: string },
): Promise<Map<string, string>> {
  const outputs = planned.flatMap(({ clip, plan: made }) =>
    made.ok
      ? made.value.outputs.map((output) => ({
          clip: clip.id,
          path: output.path,
          mark: planMark(made.value, output),
          ...(output.place ? { place: output.place } : {}),
        }))
      : [],
  );
  const found = new Map<string, string>();
  for (const { place, outputs: there } of byPlace(outputs, own)) {
    const store = await stores.get(place.store);
    if (!store) continue;
    const lies = await takenAmong(
      { root: store.path, folder: place.folder },
      there.map(({ path }) => path),
    );
    if (lies.length === 0) continue;
    const rows = await db.query<{ path: string; clip: string }[]>(
      `SELECT DISTINCT ON (output.path) output.path, leg.clip_id AS clip
       FROM output
       JOIN leg ON leg.id = output.leg_id
       WHERE output.store_id = $1 AND output.folder = $2 AND output.path = ANY($3) AND output.xxh3 IS NOT NULL
       ORDER BY output.path, output.created_at DESC`,
      [place.store, place.folder, lies],
    );
    for (const { path, clip } of rows)
      if (there.some((output) => output.path === path && output.clip !== clip)) found.set(path, clip);
  }
  return found;
}
