import type { RecipeAnswer } from '@relay/contract/api';
import { Router } from 'express';
import { recipeColour } from '@relay/contract/recipe';
import type { Context } from '../context.ts';
import { checked, idOf, notThere } from '../http.ts';

/** Recipes, as data. */
export function recipeRoutes(context: Context): Router {
  const router = Router();
  router.get('/recipes', async (_request, response) => {
    response.json((await context.db.query('SELECT id, definition FROM recipe ORDER BY created_at')) as RecipeAnswer[]);
  });
  router.post('/recipes/:id/colour', async (request, response) => {
    const { folder, colour } = checked(recipeColour, request.body);
    const [row] = (await context.db.query('SELECT id, definition FROM recipe WHERE id = $1', [idOf(request)])) as RecipeAnswer[];
    if (!row?.definition.deliverables.some((one) => one.folder === folder)) throw notThere('The deliverable');
    const definition = { ...row.definition, deliverables: row.definition.deliverables.map((one) => (one.folder === folder ? { ...one, colour } : one)) };
    await context.db.query('UPDATE recipe SET definition = $2 WHERE id = $1', [row.id, JSON.stringify(definition)]);
    response.json({ id: row.id, definition } satisfies RecipeAnswer);
  });
  return router;
}
