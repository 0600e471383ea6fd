import type { DeliverableForecast } from '@relay/contract/forecast';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import type { Recipe } from '@relay/core/recipe/recipe';
import { outputWarnings } from '@relay/core/recipe/warnings';
import { addEstimates } from '@relay/core/size/estimate';
import type { EstimateOf } from './history.ts';

/** What plans come to, deliverable by deliverable. */
export function forecastOf(plans: readonly LegPlan[], recipe: Recipe, estimate: EstimateOf): DeliverableForecast[] {
  return recipe.deliverables.map(({ name }) => {
    const all = plans.flatMap((plan) =>
      plan.outputs.filter((output) => output.deliverable === name).map((output) => ({ plan, output })),
    );
    const { bytes, known } = addEstimates(all.map(({ output }) => estimate(output)));
    const warnings = new Map<string, number>();
    for (const { plan, output } of all)
      for (const text of outputWarnings(plan.original, output)) warnings.set(text, (warnings.get(text) ?? 0) + 1);
    return {
      deliverable: name,
      outputs: all.length,
      bytes,
      known,
      warnings: [...warnings]
        .map(([text, count]) => (count < all.length ? `${text} (${count} of ${all.length})` : text))
        .slice(0, 6),
    };
  });
}
