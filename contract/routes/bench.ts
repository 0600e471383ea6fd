import { z } from 'zod';
import { benchAnswer, benchGroup, chainedClip, colourRequest } from '../bench.ts';
import { correctionsChanged } from '../corrections.ts';
import { file, json, row } from './route.ts';

/** The bench: what a clip is worked on with, its frames in full depth, chains said. */
export const benchRows = {
  bench: row({ method: 'GET', path: '/clips/:clip/bench', who: 'assistant', answer: json(benchAnswer) }),
  frame: row({
    method: 'GET',
    path: '/clips/:clip/frame',
    who: 'assistant',
    query: z.object({
      frame: z.coerce.number().int().min(0).max(1e8).default(0),
      width: z.coerce.number().int().min(16).max(16_384).default(2048),
    }),
    answer: file,
  }),
  groups: row({
    method: 'GET',
    path: '/productions/:production/bench',
    who: 'assistant',
    answer: json(z.array(benchGroup)),
  }),
  chained: row({
    method: 'GET',
    path: '/productions/:production/colour',
    who: 'assistant',
    query: z.discriminatedUnion('scope', [
      z.object({ scope: z.literal('roll'), key: z.string().max(200) }),
      z.object({ scope: z.literal('group'), key: z.string().max(400) }),
      z.object({ scope: z.literal('production') }),
    ]),
    answer: json(z.array(chainedClip)),
  }),
  sayChain: row({
    method: 'POST',
    path: '/productions/:production/colour',
    who: 'assistant',
    body: colourRequest,
    answer: json(correctionsChanged),
    carries: 'lists',
  }),
};
