import type { RecipeAnswer } from '@relay/contract/api';
import { Router } from 'express';
import type { Context } from '../context.ts';

/** Recipes, as data. */
export function recipeRoutes(context: Context): Router {
  const router = Router();
  router.get('/recipes', async (_request, response) => {
    response.json((await context.db.query('SELECT id, definition FROM recipe ORDER BY created_at')) as RecipeAnswer[]);
  });
  return router;
}
