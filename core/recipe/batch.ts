import type { ClipDescription } from '../clip/description.ts';
import { rollOf } from '../clip/roll.ts';
import { correctionsFor, type ClipCorrections, type CorrectionRule } from '../corrections/corrections.ts';
import { findClashes, type Clash, type ClashKind, type WantedPath } from '../naming/clashes.ts';
import { mirrored } from '../naming/pathPattern.ts';
import { fail, type Result } from '../result.ts';
import { longestPath } from './members.ts';
import type { LegPlan } from './legPlan.ts';
import { planLeg, type LegFacts } from './plan.ts';
import type { Recipe } from './recipe.ts';

/** Something handed to a run: a clip, and the name of the folder it was read from (its roll if it has no other). */
export interface BatchClip {
  clip: ClipDescription;
  whole: string;
  /** What holds for this clip beyond the rules. */
  corrections?: ClipCorrections;
  /** What is known of it beyond what the file says. */
  facts?: LegFacts;
}

const remedies: Readonly<Record<ClashKind, string>> = {
  'same path': 'Run the clips into separate folders, put what tells them apart into the path pattern, or leave one out',
  'same but for case or accents':
    'Put what tells them apart into the path pattern, or leave one out: some systems take both names for one',
  'name refused by some systems': 'Let the path pattern replace such characters',
  'name too long': 'Shorten the path pattern',
  'path too long': 'Shorten the path pattern, or raise its limit',
  'a file where a folder is wanted': 'Put what tells them apart into the path pattern',
};

function planAll(clips: readonly BatchClip[], recipe: Recipe, rules: readonly CorrectionRule[]): Result<LegPlan>[] {
  return clips.map(({ clip, whole, corrections, facts }, index) => {
    const roll = rollOf(clip.path, whole);
    return planLeg(
      clip,
      recipe,
      { ...correctionsFor(clip, roll, rules), ...corrections },
      { roll, counter: index + 1, ...facts },
    );
  });
}

/** Every path that plans would make. */
export function wantedPaths(plans: readonly Result<LegPlan>[]): WantedPath[] {
  return plans.flatMap((plan) =>
    plan.ok
      ? plan.value.outputs.map((output) => ({
          path: output.path,
          longest: longestPath(output),
          deliverable: output.deliverable,
          original: plan.value.original.path,
        }))
      : [],
  );
}

function clashesOf(plans: readonly Result<LegPlan>[], recipe: Recipe): Clash[] {
  const limits = recipe.deliverables.map((one) => one.path?.limit).filter((limit) => limit !== undefined);
  return findClashes(wantedPaths(plans), limits.length > 0 ? Math.min(...limits) : undefined);
}

/**
 * Plans for many clips at once, in their order. Beyond each plan's own problems, clips whose outputs cannot all be made
 * are refused, all sides of a clash: which of them should keep the name that relinks is for a person to say.
 */
export function planBatch(
  clips: readonly BatchClip[],
  recipe: Recipe,
  rules: readonly CorrectionRule[],
): Result<LegPlan>[] {
  return planClashing(clips, recipe, rules).plans;
}

/** The same, with what clashes beside them. */
export function planClashing(
  clips: readonly BatchClip[],
  recipe: Recipe,
  rules: readonly CorrectionRule[],
): { plans: Result<LegPlan>[]; clashes: Clash[] } {
  const plans = planAll(clips, recipe, rules);
  const clashes = clashesOf(plans, recipe);
  const first = new Map<string, Clash>();
  for (const clash of clashes) if (!first.has(clash.original)) first.set(clash.original, clash);
  return {
    clashes,
    plans: plans.map((plan) => {
      const clash = plan.ok ? first.get(plan.value.original.path) : undefined;
      return clash ? fail(clash.what, remedies[clash.kind]) : plan;
    }),
  };
}

/**
 * Every clip's own plan, what keeps a batch's paths from being made, and the smallest change of the recipe that would
 * let them all be.
 */
export function examinePaths(
  clips: readonly BatchClip[],
  recipe: Recipe,
  rules: readonly CorrectionRule[],
): {
  plans: Result<LegPlan>[];
  paths: WantedPath[];
  clashes: Clash[];
  remedy: { text: string; recipe: Recipe } | null;
} {
  const plans = planAll(clips, recipe, rules);
  const clashes = clashesOf(plans, recipe);
  return { plans, paths: wantedPaths(plans), clashes, remedy: pathRemedy(clips, recipe, rules, clashes) };
}

/** The smallest change of the recipe that lets all paths be made; null where nothing clashes, or none helps. */
export function pathRemedy(
  clips: readonly BatchClip[],
  recipe: Recipe,
  rules: readonly CorrectionRule[],
  clashes: readonly Clash[],
): { text: string; recipe: Recipe } | null {
  const touched = new Set(clashes.map(({ deliverable }) => deliverable));
  const changed = (add: (pattern: string) => string, more: { replace?: '-' } = {}): Recipe => ({
    ...recipe,
    deliverables: recipe.deliverables.map((one) =>
      touched.has(one.name)
        ? { ...one, path: { ...(one.path ?? mirrored), ...more, pattern: add((one.path ?? mirrored).pattern) } }
        : one,
    ),
  });
  const tries: { text: string; recipe: () => Recipe }[] = [
    { text: 'Replace such characters with -', recipe: () => changed((pattern) => pattern, { replace: '-' }) },
    { text: "Add the original's ending to the name", recipe: () => changed((pattern) => `${pattern}_[ending]`) },
    { text: 'Add the roll to the name', recipe: () => changed((pattern) => `${pattern}_[roll]`) },
    { text: "Mirror the original's folders", recipe: () => changed((pattern) => `[source]/${pattern}`) },
    { text: 'Add a counter to the name', recipe: () => changed((pattern) => `${pattern}_[counter]`) },
    {
      text: 'Add a counter to the name, and replace such characters with -',
      recipe: () => changed((pattern) => `${pattern}_[counter]`, { replace: '-' }),
    },
  ];
  const helps =
    clashes.length === 0
      ? undefined
      : tries.find(({ recipe: made }) => clashesOf(planAll(clips, made(), rules), made()).length === 0);
  return helps ? { text: helps.text, recipe: helps.recipe() } : null;
}
