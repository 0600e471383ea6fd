import type { RecipeAnswer } from '@relay/contract/api';
import { deliverableChange } from '@relay/contract/recipe';
import type { Deliverable } from '@relay/core/recipe/recipe';
import express, { Router } from 'express';
import type { Context } from '../context.ts';
import { checked, idOf, notThere } from '../http.ts';
import { imageOf, keepImage, largestImageBytes } from './images.ts';

/** Recipes, as data, and the pictures that their burn-ins lay over. */
export function recipeRoutes(context: Context): Router {
  const { db } = context;
  const router = Router();
  router.get('/recipes', async (_request, response) => {
    response.json((await db.query('SELECT id, definition FROM recipe ORDER BY created_at')) as RecipeAnswer[]);
  });
  router.post('/recipes/:id/deliverable', async (request, response) => {
    const { folder, burn, ...change } = checked(deliverableChange, request.body);
    // One statement at a time may change a recipe: what two people say of two deliverables is kept.
    const row = await db.transaction(async (tx) => {
      const [found] = (await tx.query('SELECT id, definition FROM recipe WHERE id = $1 FOR UPDATE', [idOf(request)])) as RecipeAnswer[];
      if (!found?.definition.deliverables.some((one) => one.folder === folder)) throw notThere('The deliverable');
      const changed = (one: Deliverable): Deliverable => {
        const { burn: before, ...rest } = { ...one, ...change };
        const after = burn === undefined ? before : burn;
        return { ...rest, ...(after ? { burn: after } : {}) };
      };
      const definition = { ...found.definition, deliverables: found.definition.deliverables.map((one) => (one.folder === folder ? changed(one) : one)) };
      await tx.query('UPDATE recipe SET definition = $2 WHERE id = $1', [found.id, JSON.stringify(definition)]);
      return { id: found.id, definition };
    });
    response.json(row satisfies RecipeAnswer);
  });
  router.post('/images', express.raw({ type: () => true, limit: largestImageBytes }), async (request, response) => {
    response.status(201).json(await keepImage(db, request.body as Buffer, String(request.query.name ?? 'image')));
  });
  router.get('/images/:hash', async (request, response) => {
    const bytes = await imageOf(db, String(request.params.hash));
    if (!bytes) throw notThere('The image');
    response.type('png').set('Cache-Control', 'private, max-age=31536000, immutable').send(bytes);
  });
  return router;
}
