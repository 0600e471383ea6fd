import type { ClipDescription } from '../clip/description.ts';
import type { BurnFacts } from '../burn/plan.ts';
import { rollOf } from '../clip/roll.ts';
import { correctionsFor, type ClipCorrections, type CorrectionRule } from '../corrections/corrections.ts';
import { collisionKey } from '../naming/paths.ts';
import { fail, type Result } from '../result.ts';
import { planLeg, type LegPlan } from './plan.ts';
import type { Recipe } from './recipe.ts';

/** Something handed to a run: a clip, and the name of the folder it was read from (its roll if it has no other). */
export interface BatchClip {
  clip: ClipDescription;
  whole: string;
  /** What holds for this clip beyond the rules. */
  corrections?: ClipCorrections;
  /** What burn-ins tell of it beyond what the file says. */
  facts?: BurnFacts;
}

/**
 * Plans for many clips at once, in their order. Beyond each plan's own problems, clips whose outputs would land on
 * one name (also where case or Unicode form is ignored) are all refused: which of them should keep the name that
 * relinks is for a person to say.
 */
export function planBatch(clips: readonly BatchClip[], recipe: Recipe, rules: readonly CorrectionRule[]): Result<LegPlan>[] {
  const plans = clips.map(({ clip, whole, corrections, facts }) => planLeg(clip, recipe, { ...correctionsFor(clip, rollOf(clip.path, whole), rules), ...corrections }, facts));
  const claims = new Map<string, string[]>();
  for (const plan of plans) {
    if (!plan.ok) continue;
    for (const output of plan.value.outputs) {
      const key = collisionKey(output.path);
      claims.set(key, [...(claims.get(key) ?? []), plan.value.original.path]);
    }
  }
  return plans.map((plan) => {
    if (!plan.ok) return plan;
    for (const output of plan.value.outputs) {
      const others = (claims.get(collisionKey(output.path)) ?? []).filter((path) => path !== plan.value.original.path);
      if (others.length > 0) {
        return fail(`${output.path} would also be made from ${others.join(', ')}`, 'Run the clips into separate folders, or leave one out');
      }
    }
    return plan;
  });
}
