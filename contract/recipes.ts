import { problem } from './description.ts';
import { deliverableForecast } from './forecast.ts';
import { clipIdList } from './ids.ts';
import { pathPattern, recipe } from './recipe.ts';
import { z } from 'zod';

/** Recipes as they are kept, and what they would make. */

export const recipeAnswer = z.strictObject({
  id: z.string(),
  definition: recipe,
  group: z.string(),
  note: z.string(),
  owner: z.string(),
  version: z.number(),
  changedAt: z.string(),
});
export type RecipeAnswer = z.infer<typeof recipeAnswer>;

/** A recipe said anew: what it was is kept as a version. `seen` is the version that its editor had before them. */
export const keptRecipe = z.strictObject({
  definition: recipe,
  group: z.string().trim().min(1, 'a group is needed').max(60),
  note: z.string().trim().max(600),
  seen: z.number().int().positive(),
});

export const newRecipe = keptRecipe.omit({ seen: true });

export const recipeVersion = z.strictObject({
  version: z.number(),
  definition: recipe,
  who: z.string(),
  at: z.string(),
});
export type RecipeVersion = z.infer<typeof recipeVersion>;

/** A path pattern that is kept by name, for any deliverable to take. */
export const newPattern = z.strictObject({
  name: z.string().trim().min(1, 'a name is needed').max(60),
  pattern: pathPattern,
});
export const keptPattern = newPattern.extend({ id: z.string() });
export type KeptPattern = z.infer<typeof keptPattern>;

export const recipePreviewRequest = z.strictObject({ clips: clipIdList(0), definition: recipe });

/** What a recipe would make of clips: paths, and what keeps them from being made. */
export const recipePreview = z.strictObject({
  clips: z.number(),
  paths: z.array(
    z.strictObject({ original: z.string(), deliverable: z.string(), path: z.string(), clash: z.string().nullable() }),
  ),
  total: z.number(),
  clashes: z.number(),
  remedy: z.strictObject({ text: z.string(), definition: recipe }).nullable(),
  refused: z.array(z.strictObject({ path: z.string(), problem: problem })),
  deliverables: z.array(deliverableForecast),
});
export type RecipePreview = z.infer<typeof recipePreview>;
