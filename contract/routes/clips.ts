import { z } from 'zod';
import {
  clipAnswer,
  clipIds,
  clipLine,
  clipQuery,
  clipsAnswer,
  commonAnswer,
  lookAnswer,
  someClipIds,
} from '../clips.ts';
import { file, json, row } from './route.ts';

/** The clips sheet, one clip with all that is known of it, its pictures and its sound. */
export const clipRows = {
  sheet: row({
    method: 'GET',
    path: '/productions/:production/clips',
    who: 'assistant',
    query: clipQuery,
    answer: json(clipsAnswer),
  }),
  lines: row({
    method: 'POST',
    path: '/productions/:production/clips/lines',
    who: 'assistant',
    body: someClipIds,
    answer: json(z.array(clipLine)),
    carries: 'lists',
  }),
  common: row({
    method: 'POST',
    path: '/productions/:production/clips/common',
    who: 'assistant',
    body: clipIds,
    answer: json(commonAnswer),
    carries: 'lists',
  }),
  clip: row({ method: 'GET', path: '/clips/:clip', who: 'assistant', answer: json(clipAnswer) }),
  poster: row({ method: 'GET', path: '/clips/:clip/poster', who: 'assistant', answer: file }),
  strip: row({ method: 'GET', path: '/clips/:clip/strip', who: 'assistant', answer: file }),
  look: row({ method: 'GET', path: '/clips/:clip/look', who: 'assistant', answer: json(lookAnswer) }),
  play: row({
    method: 'GET',
    path: '/clips/:clip/play',
    who: 'assistant',
    query: z.object({
      from: z.coerce.number().min(0).max(1e6).default(0),
      channel: z.coerce.number().int().min(0).max(63).optional(),
    }),
    answer: file,
  }),
};
