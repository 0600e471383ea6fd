import { z } from 'zod';
import { imageAnswer, largestImageBytes } from '../burn.ts';
import { deliverableChange } from '../recipe.ts';
import {
  keptPattern,
  keptRecipe,
  newPattern,
  newRecipe,
  recipeAnswer,
  recipePreview,
  recipePreviewRequest,
  recipeVersion,
} from '../recipes.ts';
import { file, json, made, nothing, row } from './route.ts';

/** Recipes with all their versions, what they would make, and the pictures that their burn-ins lay over. */
export const recipeRows = {
  recipes: row({ method: 'GET', path: '/recipes', who: 'assistant', answer: json(z.array(recipeAnswer)) }),
  add: row({
    method: 'POST',
    path: '/recipes',
    who: 'assistant',
    body: newRecipe,
    answer: made(recipeAnswer),
    carries: 'lists',
  }),
  change: row({
    method: 'PUT',
    path: '/recipes/:recipe',
    who: 'assistant',
    body: keptRecipe,
    answer: json(recipeAnswer),
    carries: 'lists',
  }),
  remove: row({ method: 'DELETE', path: '/recipes/:recipe', who: 'assistant', answer: nothing }),
  versions: row({
    method: 'GET',
    path: '/recipes/:recipe/versions',
    who: 'assistant',
    answer: json(z.array(recipeVersion)),
  }),
  changeDeliverable: row({
    method: 'POST',
    path: '/recipes/:recipe/deliverable',
    who: 'assistant',
    body: deliverableChange,
    answer: json(recipeAnswer),
    carries: 'lists',
  }),
  preview: row({
    method: 'POST',
    path: '/productions/:production/recipe-preview',
    who: 'assistant',
    body: recipePreviewRequest,
    answer: json(recipePreview),
    carries: 'lists',
  }),
  patterns: row({ method: 'GET', path: '/patterns', who: 'assistant', answer: json(z.array(keptPattern)) }),
  keepPattern: row({
    method: 'POST',
    path: '/patterns',
    who: 'assistant',
    body: newPattern,
    answer: made(keptPattern),
  }),
  dropPattern: row({ method: 'DELETE', path: '/patterns/:pattern', who: 'assistant', answer: nothing }),
  addImage: row({
    method: 'POST',
    path: '/images',
    who: 'assistant',
    query: z.object({ name: z.string().max(1000).default('image') }),
    answer: made(imageAnswer),
    carries: { bytes: largestImageBytes },
  }),
  image: row({ method: 'GET', path: '/images/:hash', who: 'assistant', answer: file }),
};
