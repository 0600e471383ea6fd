import type { DeliverableForecast, RecipePreview } from '@relay/contract/api';
import { examinePaths } from '@relay/core/recipe/batch';
import type { LegPlan } from '@relay/core/recipe/plan';
import type { Recipe } from '@relay/core/recipe/recipe';
import { outputWarnings } from '@relay/core/recipe/warnings';
import { addEstimates, estimateOutput } from '@relay/core/size/estimate';
import type { DataSource } from 'typeorm';
import { batchOf, clipsToRun, planClips } from '../runs/plans.ts';

/** Paths that are sent: those that clash first, then as many as one looks at. */
const mostPaths = 300;

/** What plans come to, deliverable by deliverable. */
export function forecastOf(plans: readonly LegPlan[], recipe: Recipe): DeliverableForecast[] {
  return recipe.deliverables.map(({ name }) => {
    const all = plans.flatMap((plan) => plan.outputs.filter((output) => output.deliverable === name).map((output) => ({ plan, output })));
    const { bytes, known } = addEstimates(all.map(({ output }) => estimateOutput(output)));
    const warnings = new Map<string, number>();
    for (const { plan, output } of all) for (const text of outputWarnings(plan.original, output)) warnings.set(text, (warnings.get(text) ?? 0) + 1);
    return { deliverable: name, outputs: all.length, bytes, known, warnings: [...warnings].map(([text, count]) => (count < all.length ? `${text} (${count} of ${all.length})` : text)).slice(0, 6) };
  });
}

/** What a recipe would make of some clips of a production, or of all where none is named. */
export async function previewRecipe(db: DataSource, production: string, ids: readonly string[], recipe: Recipe): Promise<RecipePreview> {
  const wanted = ids.length > 0 ? ids : ((await db.query('SELECT id FROM clip WHERE production_id = $1', [production])) as { id: string }[]).map(({ id }) => id);
  const clips = await clipsToRun(db, production, wanted);
  const { paths, clashes, remedy } = examinePaths(batchOf(clips), recipe, []);
  const planned = planClips(clips, recipe);
  const clashing = new Map(clashes.map((clash) => [JSON.stringify([clash.original, clash.deliverable, clash.path]), clash.what]));
  const rows = paths.map((one) => ({ ...one, clash: clashing.get(JSON.stringify([one.original, one.deliverable, one.path])) ?? null }));
  const named = new Set(clashes.map(({ original }) => original));
  return {
    clips: clips.length, total: rows.length, clashes: clashes.length, remedy: remedy ? { text: remedy.text, definition: remedy.recipe } : null,
    paths: [...rows].sort((a, b) => Number(b.clash !== null) - Number(a.clash !== null)).slice(0, mostPaths),
    refused: planned.flatMap(({ clip, plan }) => (plan.ok || named.has(clip.path) ? [] : [{ path: clip.path, problem: plan.problem }])).slice(0, 50),
    deliverables: forecastOf(planned.flatMap(({ plan }) => (plan.ok ? [plan.value] : [])), recipe),
  };
}
