import type { RecipeAnswer, RecipeVersion } from '@relay/contract/recipes';
import type { deliverableChange } from '@relay/contract/recipe';
import type { Deliverable, Recipe } from '@relay/core/recipe/recipe';
import type { DataSource } from 'typeorm';
import { byItsClock } from '../db/entities/columns.ts';
import { recipe, recipeVersion, type RecipeRow } from '../db/entities/recipes.ts';
import type { z } from 'zod';
import { notThere, Refused } from '../http.ts';

function answerOf({ id, definition, group, note, owner, version, changedAt }: RecipeRow): RecipeAnswer {
  return { id, definition, group, note, owner, version, changedAt: changedAt.toISOString() };
}

/** All recipes, group by group. */
export async function recipes(db: DataSource): Promise<RecipeAnswer[]> {
  const rows = await db.manager.find(recipe, { order: { createdAt: 'ASC' } });
  // Groups stand in the order of their first recipes.
  const groups = [...new Set(rows.map(({ group }) => group))];
  return groups.flatMap((group) => rows.filter((row) => row.group === group)).map(answerOf);
}

export async function addRecipe(
  db: DataSource,
  said: { definition: Recipe; group: string; note: string },
  who: string,
): Promise<RecipeAnswer> {
  const { id } = await db.manager.save(recipe, { ...said, owner: who });
  return answerOf(await db.manager.findOneByOrFail(recipe, { id }));
}

/** What is said of a recipe anew. */
export interface RecipeChange {
  definition: Recipe;
  group?: string;
  note?: string;
}

/**
 * Says a recipe anew: what it was stays as a version, so that what an old run was made with can be had again. One
 * change at a time; `seen` is the version that its editor knew.
 */
export async function changeRecipe(
  db: DataSource,
  id: string,
  who: string,
  change: (before: Recipe) => RecipeChange,
  seen?: number,
): Promise<RecipeAnswer> {
  return db.transaction(async (tx) => {
    const found = await tx.findOne(recipe, { where: { id }, lock: { mode: 'pessimistic_write' } });
    if (!found) throw notThere('The recipe');
    if (seen !== undefined && seen !== found.version)
      throw new Refused(409, {
        what: `${found.definition.name} was changed by somebody else meanwhile`,
        remedy: 'Look at it as it is now, then say your change again',
      });
    const { definition, group, note } = change(found.definition);
    const same = JSON.stringify(definition) === JSON.stringify(found.definition);
    if (!same) {
      const { version, changedAt } = found;
      await tx.insert(recipeVersion, { recipeId: id, version, definition: found.definition, who, at: changedAt });
    }
    await tx.update(
      recipe,
      { id },
      {
        definition,
        group: group ?? found.group,
        note: note ?? found.note,
        ...(same ? {} : { version: found.version + 1, changedAt: byItsClock }),
      },
    );
    return answerOf(await tx.findOneByOrFail(recipe, { id }));
  });
}

/** Says one deliverable of a recipe anew, named by its folder; a burn-in of null takes it away. */
export async function changeDeliverable(
  db: DataSource,
  id: string,
  who: string,
  { folder, burn, ...change }: z.output<typeof deliverableChange>,
): Promise<RecipeAnswer> {
  const changed = (one: Deliverable): Deliverable => {
    const { burn: was, ...rest } = { ...one, ...change };
    const after = burn === undefined ? was : burn;
    return { ...rest, ...(after ? { burn: after } : {}) };
  };
  return changeRecipe(db, id, who, (before) => {
    if (!before.deliverables.some((one) => one.folder === folder)) throw notThere('The deliverable');
    const deliverables = before.deliverables.map((one) => (one.folder === folder ? changed(one) : one));
    return { definition: { ...before, deliverables } };
  });
}

/** What a recipe was before, the newest first. */
export async function versionsOf(db: DataSource, id: string): Promise<RecipeVersion[]> {
  const rows = await db.manager.find(recipeVersion, {
    where: { recipeId: id },
    order: { version: 'DESC' },
    take: 100,
  });
  return rows.map(({ version, definition, who, at }) => ({ version, definition, who, at: at.toISOString() }));
}

/** Takes a recipe away; runs keep what they were made with. The last one stays. */
export async function removeRecipe(db: DataSource, id: string): Promise<void> {
  const [, removed] = await db.query<[unknown, number]>(
    'DELETE FROM recipe WHERE id = $1 AND (SELECT count(*) FROM recipe) > 1',
    [id],
  );
  if (removed > 0) return;
  if (!(await db.manager.existsBy(recipe, { id }))) throw notThere('The recipe');
  throw new Refused(409, { what: 'This is the last recipe', remedy: 'Make another one first' });
}
