import { z } from 'zod';
import {
  comeBack,
  removalAnswer,
  removalLine,
  removalOrder,
  spaceAnswer,
  spaceChoice,
  spaceEffect,
  spaceQuery,
} from '../space.ts';
import { json, made, nothing, row } from './route.ts';

/** Getting space back: what may go, what went, and how it comes back. */
export const spaceRows = {
  space: row({
    method: 'GET',
    path: '/productions/:production/space',
    who: 'assistant',
    query: spaceQuery,
    answer: json(spaceAnswer),
  }),
  effect: row({
    method: 'POST',
    path: '/productions/:production/space/effect',
    who: 'assistant',
    carries: 'lists',
    body: spaceChoice,
    answer: json(spaceEffect),
  }),
  remove: row({
    method: 'POST',
    path: '/productions/:production/removals',
    who: 'assistant',
    carries: 'lists',
    body: removalOrder,
    answer: made(z.strictObject({ id: z.string() })),
  }),
  removals: row({
    method: 'GET',
    path: '/productions/:production/removals',
    who: 'assistant',
    answer: json(z.array(removalLine)),
  }),
  removal: row({ method: 'GET', path: '/removals/:removal', who: 'assistant', answer: json(removalAnswer) }),
  stopRemoval: row({ method: 'POST', path: '/removals/:removal/stop', who: 'assistant', answer: nothing }),
  /** Goes on with what it had not come to. */
  resumeRemoval: row({ method: 'POST', path: '/removals/:removal/go-on', who: 'assistant', answer: nothing }),
  comeBack: row({
    method: 'POST',
    path: '/removals/:removal/again',
    who: 'assistant',
    carries: 'lists',
    body: comeBack,
    answer: made(z.strictObject({ runs: z.number(), files: z.number() })),
  }),
  clearCache: row({
    method: 'POST',
    path: '/cache/clear',
    who: 'assistant',
    answer: json(z.strictObject({ bytes: z.number() })),
  }),
};
