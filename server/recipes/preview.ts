import type { RecipePreview } from '@relay/contract/recipes';
import { examinePaths } from '@relay/core/recipe/batch';
import type { Recipe } from '@relay/core/recipe/recipe';
import type { DataSource } from 'typeorm';
import { forecastOf } from '../runs/deliverables.ts';
import { estimatesBy, siteHistory } from '../runs/history.ts';
import { batchOf, clipsToRun } from '../runs/plans.ts';

/** Paths that are sent: those that clash first, then as many as one looks at. */
const mostPaths = 300;

/** What a recipe would make of some clips of a production, or of all where none is named. */
export async function previewRecipe(
  db: DataSource,
  production: string,
  ids: readonly string[],
  recipe: Recipe,
): Promise<RecipePreview> {
  const clips = await clipsToRun(db, production, ids.length > 0 ? ids : null);
  const { plans, paths, clashes, remedy } = examinePaths(batchOf(clips), recipe, []);
  const clashing = new Map(
    clashes.map((clash) => [JSON.stringify([clash.original, clash.deliverable, clash.path]), clash.what]),
  );
  // A folder of files is shown as one.
  const rows = paths.map(({ longest, ...one }) => ({
    ...one,
    path: longest === undefined || longest === one.path ? one.path : `${one.path}/`,
    clash: clashing.get(JSON.stringify([one.original, one.deliverable, one.path])) ?? null,
  }));
  return {
    clips: clips.length,
    total: rows.length,
    clashes: clashes.length,
    remedy: remedy ? { text: remedy.text, definition: remedy.recipe } : null,
    paths: [...rows].sort((a, b) => Number(b.clash !== null) - Number(a.clash !== null)).slice(0, mostPaths),
    refused: plans
      .flatMap((plan, index) => (plan.ok ? [] : [{ path: clips[index]?.path ?? '', problem: plan.problem }]))
      .slice(0, 50),
    deliverables: forecastOf(
      plans.flatMap((plan) => (plan.ok ? [plan.value] : [])),
      recipe,
      estimatesBy(await siteHistory(db)),
    ),
  };
}
