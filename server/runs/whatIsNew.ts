import type { WhatIsNew } from '@relay/contract/runs';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { planMark } from '@relay/core/recipe/mark';
import { byPlace, placesAgain, withPlaces } from '@relay/core/recipe/places';
import type { OutputPlace, Recipe } from '@relay/core/recipe/recipe';
import type { DataSource } from 'typeorm';
import type { Tools } from '../desk/tools.ts';
import { recipe as recipeRow } from '../db/entities/recipes.ts';
import { run } from '../db/entities/runs.ts';
import { recordedMarks } from './recorded.ts';
import { clipsToRun, planClips, sortOut, type PlannedClip } from './plans.ts';
import { lastChoiceOf } from './queries.ts';

/** What became of clips in runs of one recipe. */
interface RunsOfClip {
  clip: string;
  /** Whether any leg of it waits or is under way. */
  open: boolean;
}

/** Clips that a recipe was run with in a production. */
async function runWith(db: DataSource, production: string, recipe: string): Promise<Map<string, RunsOfClip>> {
  const rows = await db.query<RunsOfClip[]>(
    `SELECT leg.clip_id AS clip, bool_or(leg.state IN ('waiting', 'held', 'running', 'proving')) AS open
     FROM leg
     JOIN run ON run.id = leg.run_id
     WHERE run.production_id = $1 AND run.recipe_id = $2 AND run.pull IS NULL
     GROUP BY leg.clip_id`,
    [production, recipe],
  );
  return new Map(rows.map((row) => [row.clip, row]));
}

/** The recipe that was run last, as it is kept now; as it was then where it is kept no more. */
async function lastRecipe(
  db: DataSource,
  production: string,
  id: string,
): Promise<{ definition: Recipe; version: number | null } | null> {
  const kept = await db.manager.findOne(recipeRow, { select: { definition: true, version: true }, where: { id } });
  if (kept) return kept;
  const last = await db.manager.findOne(run, {
    select: { recipe: true, recipeVersion: true },
    where: { productionId: production, recipeId: id },
    order: { createdAt: 'DESC' },
  });
  return last && { definition: last.recipe, version: last.recipeVersion };
}

interface Planned {
  clip: string;
  path: string;
  mark: string;
  place?: OutputPlace;
}

/** Every output that clips would come to, with the mark of its plan. */
function outputsOf(planned: readonly PlannedClip[]): Planned[] {
  const placeIn = ({ place }: OutputPlan): { place?: OutputPlace } => (place ? { place } : {});
  return planned.flatMap(({ clip, plan }) =>
    plan.ok
      ? plan.value.outputs.map((output) => ({
          clip: clip.id,
          path: output.path,
          mark: planMark(plan.value, output),
          ...placeIn(output),
        }))
      : [],
  );
}

/**
 * Clips that the recipe which was run last was never run with, and those of which it would make something else now: the
 * clip, its corrections or the recipe changed since. What waits or is under way is neither. Before anything was run,
 * all are new.
 */
export async function whatIsNew({ db }: Tools, production: string): Promise<WhatIsNew> {
  const last = await lastChoiceOf(db, production);
  const now = last?.recipe ? await lastRecipe(db, production, last.recipe) : null;
  const clips = await clipsToRun(db, production, null);
  if (!last?.recipe || !now) return { recipe: null, never: clips.map(({ id }) => id), changed: [] };
  const own = { store: last.store, folder: last.folder };
  const places = placesAgain(now.definition, now.version ?? 0, last);
  const recipe = withPlaces(now.definition, own, places);
  const { runs } = sortOut(clips, recipe);
  const known = await runWith(db, production, last.recipe);
  const settled = runs.filter(({ id }) => known.get(id)?.open === false);
  const changed = new Set<string>();
  for (const { place, outputs } of byPlace(outputsOf(planClips(settled, recipe)), own)) {
    const marks = await recordedMarks(
      db,
      place,
      outputs.map(({ path }) => path),
    );
    for (const { clip, path, mark } of outputs) if (marks.has(path) && marks.get(path) !== mark) changed.add(clip);
  }
  return {
    recipe: recipe.name,
    never: runs.filter(({ id }) => !known.has(id)).map(({ id }) => id),
    changed: [...changed],
  };
}
