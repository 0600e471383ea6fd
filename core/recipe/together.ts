import { fail, ok, type Result } from '../result.ts';
import type { Recipe } from './recipe.ts';

/**
 * Several recipes as one, so that one decode makes the deliverables of all. What is called the same in two of them gets
 * its recipe's name behind its own.
 */
export function recipesTogether(recipes: readonly Recipe[]): Result<Recipe> {
  const [first, ...others] = recipes;
  if (!first) return fail('No recipe was given', 'Give one');
  if (others.length === 0) return ok(first);
  const times = new Map<string, number>();
  for (const { name } of recipes.flatMap(({ deliverables }) => deliverables))
    times.set(name, (times.get(name) ?? 0) + 1);
  const deliverables = recipes.flatMap((recipe) =>
    recipe.deliverables.map((one) =>
      (times.get(one.name) ?? 0) > 1 ? { ...one, name: `${one.name} (${recipe.name})` } : one,
    ),
  );
  const names = deliverables.map(({ name }) => name);
  const twice = names.find((name, index) => names.indexOf(name) !== index);
  if (twice !== undefined) return fail(`Two deliverables are called ${twice}`, 'Give one of them another name');
  return ok({ version: 1, name: recipes.map(({ name }) => name).join(' + '), deliverables });
}
