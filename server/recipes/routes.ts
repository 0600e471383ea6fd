import { keptRecipe, newRecipe, recipePreviewRequest } from '@relay/contract/api';
import { deliverableChange } from '@relay/contract/recipe';
import type { Deliverable } from '@relay/core/recipe/recipe';
import express, { Router } from 'express';
import { member } from '../clips/decisions.ts';
import type { Context } from '../context.ts';
import { checked, idOf, notThere } from '../http.ts';
import { imageOf, keepImage, largestImageBytes } from './images.ts';
import { addRecipe, changeRecipe, recipes, removeRecipe, versionsOf } from './keep.ts';
import type { recipeTasks } from './deskTasks.ts';

/** Recipes, as data, with all their versions, and the pictures that their burn-ins lay over. */
export function recipeRoutes(context: Context): Router {
  const { db } = context;
  const desk = context.desk.of<typeof recipeTasks>();
  const router = Router();
  router.get('/recipes', async (_request, response) => {
    response.json(await recipes(db));
  });
  router.post('/recipes', async (request, response) => {
    response.status(201).json(await addRecipe(db, checked(newRecipe, request.body), member));
  });
  router.put('/recipes/:id', async (request, response) => {
    const { seen, ...change } = checked(keptRecipe, request.body);
    response.json(await changeRecipe(db, idOf(request), member, () => change, seen));
  });
  router.delete('/recipes/:id', async (request, response) => {
    await removeRecipe(db, idOf(request));
    response.status(204).end();
  });
  router.get('/recipes/:id/versions', async (request, response) => {
    response.json(await versionsOf(db, idOf(request)));
  });
  router.post('/recipes/:id/deliverable', async (request, response) => {
    const { folder, burn, ...change } = checked(deliverableChange, request.body);
    response.json(
      await changeRecipe(db, idOf(request), member, (before) => {
        if (!before.deliverables.some((one) => one.folder === folder)) throw notThere('The deliverable');
        const changed = (one: Deliverable): Deliverable => {
          const { burn: was, ...rest } = { ...one, ...change };
          const after = burn === undefined ? was : burn;
          return { ...rest, ...(after ? { burn: after } : {}) };
        };
        return {
          definition: {
            ...before,
            deliverables: before.deliverables.map((one) => (one.folder === folder ? changed(one) : one)),
          },
        };
      }),
    );
  });
  router.post('/productions/:id/recipe-preview', async (request, response) => {
    const { clips, definition } = checked(recipePreviewRequest, request.body);
    response.type('json').send(await desk.json('previewRecipe', idOf(request), clips, definition));
  });
  router.post('/images', express.raw({ type: () => true, limit: largestImageBytes }), async (request, response) => {
    response
      .status(201)
      .json(
        await keepImage(
          db,
          request.body as Buffer,
          typeof request.query.name === 'string' ? request.query.name : 'image',
        ),
      );
  });
  router.get('/images/:hash', async (request, response) => {
    const bytes = await imageOf(db, request.params.hash);
    if (!bytes) throw notThere('The image');
    response.type('png').set('Cache-Control', 'private, max-age=31536000, immutable').send(bytes);
  });
  return router;
}
