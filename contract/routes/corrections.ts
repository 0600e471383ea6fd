import { z } from 'zod';
import { clipIds } from '../clips.ts';
import { commonCorrections, correctionsChanged, correctionsRequest } from '../corrections.ts';
import { file, json, nothing, row } from './route.ts';

const strength = z.coerce
  .number<number | string>()
  .pipe(z.union([z.literal(1), z.literal(2), z.literal(3)]))
  .optional();

/** Corrections said of clips, rolls, groups and productions, what a selection shares, undo, and a repair tried. */
export const correctionRows = {
  say: row({
    method: 'POST',
    path: '/productions/:production/corrections',
    who: 'assistant',
    body: correctionsRequest,
    answer: json(correctionsChanged),
    carries: 'lists',
  }),
  common: row({
    method: 'POST',
    path: '/productions/:production/corrections/common',
    who: 'assistant',
    body: clipIds,
    answer: json(commonCorrections),
    carries: 'lists',
  }),
  undo: row({ method: 'POST', path: '/correction-changes/:change/undo', who: 'assistant', answer: nothing }),
  repaired: row({
    method: 'GET',
    path: '/clips/:clip/repaired',
    who: 'assistant',
    query: z.object({
      denoise: strength,
      stabilise: strength,
      from: z.coerce.number().min(0).max(1e6).default(0),
      pixels: z.enum(['yes', 'no']).default('no'),
    }),
    answer: file,
  }),
};
