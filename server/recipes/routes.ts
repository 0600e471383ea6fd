import type { recipeRows } from '@relay/contract/routes/recipes';
import type { Handlers } from '../bind.ts';
import type { Context } from '../context.ts';
import { notThere } from '../http.ts';
import type { recipeTasks } from './deskTasks.ts';
import { imageOf, keepImage } from './images.ts';
import { dropPattern, keepPattern, keptPatterns } from './patterns.ts';
import { addRecipe, changeDeliverable, changeRecipe, recipes, removeRecipe, versionsOf } from './keep.ts';

/** Recipes with all their versions, what they would make, and the pictures that their burn-ins lay over. */
export function recipeHandlers(context: Context): Handlers<typeof recipeRows> {
  const { db } = context;
  const desk = context.desk.of<typeof recipeTasks>();
  return {
    recipes: async () => recipes(db),
    add: async ({ body, who }) => addRecipe(db, body, who),
    change: async ({ params, body: { seen, ...change }, who }) =>
      changeRecipe(db, params.recipe, who, () => change, seen),
    remove: async ({ params }) => removeRecipe(db, params.recipe),
    versions: async ({ params }) => versionsOf(db, params.recipe),
    changeDeliverable: async ({ params, body, who }) => changeDeliverable(db, params.recipe, who, body),
    preview: async ({ params, body }) => desk.json('previewRecipe', params.production, body.clips, body.definition),
    patterns: async () => keptPatterns(db),
    keepPattern: async ({ body }) => keepPattern(db, body.name, body.pattern),
    dropPattern: async ({ params }) => dropPattern(db, params.pattern),
    addImage: async ({ query, body }) => keepImage(db, body, query.name),
    image: async ({ params, response }) => {
      const bytes = await imageOf(db, params.hash);
      if (!bytes) throw notThere('The image');
      response.type('png').set('Cache-Control', 'private, max-age=31536000, immutable').send(bytes);
    },
  };
}
