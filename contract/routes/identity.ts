import { z } from 'zod';
import {
  csvRequest,
  decisionRequest,
  filterAnswer,
  identityChanged,
  identityPreview,
  identityRequest,
  newFilter,
  patternApply,
  patternRequest,
} from '../clips.ts';
import { file, json, made, nothing, row } from './route.ts';

/** What people say and decide about clips: identity by hand, by pattern, by CSV; answers to findings; kept filters. */
export const identityRows = {
  say: row({
    method: 'POST',
    path: '/productions/:production/identity',
    who: 'assistant',
    body: identityRequest,
    answer: json(identityChanged),
    carries: 'lists',
  }),
  previewPattern: row({
    method: 'POST',
    path: '/productions/:production/identity/preview',
    who: 'assistant',
    body: patternRequest,
    answer: json(identityPreview),
    carries: 'lists',
  }),
  sayPattern: row({
    method: 'POST',
    path: '/productions/:production/identity/pattern',
    who: 'assistant',
    body: patternApply,
    answer: json(identityChanged),
    carries: 'lists',
  }),
  csv: row({
    method: 'GET',
    path: '/productions/:production/clips.csv',
    who: 'assistant',
    query: z.object({ filter: z.string().max(200).default('') }),
    answer: file,
  }),
  previewCsv: row({
    method: 'POST',
    path: '/productions/:production/identity/csv/preview',
    who: 'assistant',
    body: csvRequest,
    answer: json(identityPreview),
    carries: 'aside',
  }),
  sayCsv: row({
    method: 'POST',
    path: '/productions/:production/identity/csv',
    who: 'assistant',
    body: csvRequest,
    answer: json(identityChanged),
    carries: 'aside',
  }),
  undo: row({
    method: 'POST',
    path: '/identity-changes/:change/undo',
    who: 'assistant',
    answer: json(z.strictObject({ clips: z.number() })),
  }),
  decide: row({
    method: 'POST',
    path: '/productions/:production/decisions',
    who: 'assistant',
    body: decisionRequest,
    answer: nothing,
    carries: 'lists',
  }),
  filters: row({
    method: 'GET',
    path: '/productions/:production/filters',
    who: 'assistant',
    answer: json(z.array(filterAnswer)),
  }),
  keepFilter: row({
    method: 'POST',
    path: '/productions/:production/filters',
    who: 'assistant',
    body: newFilter,
    answer: made(filterAnswer),
  }),
  dropFilter: row({ method: 'DELETE', path: '/filters/:filter', who: 'assistant', answer: nothing }),
};
