import { recipe as recipeSchema } from '@relay/contract/recipe';
import { recipeRows } from '@relay/contract/routes/recipes';
import type { RecipeAnswer } from '@relay/contract/recipes';
import { ask, Refused } from '../api/client.ts';

/** A name that no recipe has yet. */
export function freeName(name: string, recipes: readonly RecipeAnswer[]): string {
  const taken = new Set(recipes.map((one) => one.definition.name));
  for (let number = 1; ; number += 1) {
    const tried = number === 1 ? name : `${name} ${number}`;
    if (!taken.has(tried)) return tried;
  }
}

/**
 * Brings a recipe in from its file.
 * @throws Refused where the file holds none, with what is wrong in it
 */
export async function takeRecipe(file: File, recipes: readonly RecipeAnswer[]): Promise<RecipeAnswer> {
  const parsed = recipeSchema.safeParse(
    await file
      .text()
      .then((text) => JSON.parse(text) as unknown)
      .catch(() => null),
  );
  if (!parsed.success) {
    const [first] = parsed.error.issues;
    throw new Refused(
      {
        what: `${file.name} is no recipe`,
        remedy: `${first?.path.join('.') || 'The file'}: ${first?.message ?? 'not as expected'}`,
      },
      400,
    );
  }
  return ask(recipeRows.add, {
    body: {
      definition: { ...parsed.data, name: freeName(parsed.data.name, recipes) },
      group: 'Brought in',
      note: `From ${file.name}`,
    },
  });
}
