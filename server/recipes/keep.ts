import type { RecipeAnswer, RecipeVersion } from '@relay/contract/recipes';
import type { deliverableChange } from '@relay/contract/recipe';
import type { Deliverable, Recipe } from '@relay/core/recipe/recipe';
import type { DataSource, EntityManager } from 'typeorm';
import type { z } from 'zod';
import { notThere, Refused } from '../http.ts';

const columns = `id, definition, grp AS "group", note, owner, version, changed_at AS "changedAt"`;

/** All recipes, group by group. */
export async function recipes(db: DataSource): Promise<RecipeAnswer[]> {
  return await db.query<RecipeAnswer[]>(
    `SELECT ${columns} FROM recipe ORDER BY min(created_at) OVER (PARTITION BY grp), created_at`,
  );
}

export async function addRecipe(
  db: DataSource | EntityManager,
  recipe: { definition: Recipe; group: string; note: string },
  who: string,
): Promise<RecipeAnswer> {
  const [row] = await db.query<RecipeAnswer[]>(
    `INSERT INTO recipe (definition, grp, note, owner) VALUES ($1, $2, $3, $4) RETURNING ${columns}`,
    [JSON.stringify(recipe.definition), recipe.group, recipe.note, who],
  );
  return row as RecipeAnswer;
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
    const [found] = await tx.query<RecipeAnswer[]>(`SELECT ${columns} FROM recipe WHERE id = $1 FOR UPDATE`, [id]);
    if (!found) throw notThere('The recipe');
    if (seen !== undefined && seen !== found.version)
      throw new Refused(409, {
        what: `${found.definition.name} was changed by somebody else meanwhile`,
        remedy: 'Look at it as it is now, then say your change again',
      });
    const { definition, group, note } = change(found.definition);
    const same = JSON.stringify(definition) === JSON.stringify(found.definition);
    if (!same)
      await tx.query(
        'INSERT INTO recipe_version (recipe_id, version, definition, who, at) VALUES ($1, $2, $3, $4, $5)',
        [id, found.version, JSON.stringify(found.definition), who, found.changedAt],
      );
    const [rows] = await tx.query<[RecipeAnswer[], number]>(
      `UPDATE recipe SET definition = $2, grp = $3, note = $4, version = version + $5, changed_at = CASE WHEN $5 = 1 THEN now() ELSE changed_at END WHERE id = $1 RETURNING ${columns}`,
      [id, JSON.stringify(definition), group ?? found.group, note ?? found.note, same ? 0 : 1],
    );
    return rows[0] as RecipeAnswer;
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
  return await db.query<RecipeVersion[]>(
    'SELECT version, definition, who, at FROM recipe_version WHERE recipe_id = $1 ORDER BY version DESC LIMIT 100',
    [id],
  );
}

/** Takes a recipe away; runs keep what they were made with. The last one stays. */
export async function removeRecipe(db: DataSource, id: string): Promise<void> {
  const [, removed] = await db.query<[unknown, number]>(
    'DELETE FROM recipe WHERE id = $1 AND (SELECT count(*) FROM recipe) > 1',
    [id],
  );
  if (removed > 0) return;
  const [there] = await db.query<unknown[]>('SELECT 1 FROM recipe WHERE id = $1', [id]);
  if (!there) throw notThere('The recipe');
  throw new Refused(409, { what: 'This is the last recipe', remedy: 'Make another one first' });
}
