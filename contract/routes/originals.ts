import { originalsAnswer, originalsSearch, searchAnswer, takeOver } from '../originals.ts';
import { json, made, nothing, row } from './route.ts';
import { z } from 'zod';

/** Where originals lie, and those that were moved. */
export const originalRows = {
  originals: row({
    method: 'GET',
    path: '/productions/:production/originals',
    who: 'assistant',
    answer: json(originalsAnswer),
  }),
  search: row({
    method: 'POST',
    path: '/productions/:production/originals',
    who: 'assistant',
    carries: 'lists',
    body: originalsSearch,
    answer: made(z.strictObject({ id: z.string() })),
  }),
  found: row({ method: 'GET', path: '/original-searches/:search', who: 'assistant', answer: json(searchAnswer) }),
  take: row({
    method: 'POST',
    path: '/original-searches/:search/take',
    who: 'assistant',
    body: takeOver,
    answer: nothing,
  }),
  undo: row({ method: 'POST', path: '/original-searches/:search/undo', who: 'assistant', answer: nothing }),
};
