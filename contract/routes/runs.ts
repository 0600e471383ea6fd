import { z } from 'zod';
import { sampledForecast } from '../forecast.ts';
import { recipePreviewRequest } from '../recipes.ts';
import {
  lastChoice,
  legAnswer,
  legMove,
  newJoinedCopy,
  newRun,
  runAnswer,
  runChange,
  runCheck,
  runCheckRequest,
  runLine,
  runQuestion,
  whatIsNew,
} from '../runs.ts';
import { json, made, nothing, row } from './route.ts';

/** How many legs something was done to. */
const legs = json(z.strictObject({ legs: z.number() }));

/** Runs and their legs: checked, begun, watched, held, stopped, tried again. */
export const runRows = {
  check: row({
    method: 'POST',
    path: '/productions/:production/run-check',
    who: 'assistant',
    body: runCheckRequest,
    answer: json(runCheck),
    carries: 'lists',
  }),
  lastChoice: row({
    method: 'GET',
    path: '/productions/:production/last-choice',
    who: 'assistant',
    answer: json(lastChoice),
  }),
  whatIsNew: row({
    method: 'GET',
    path: '/productions/:production/what-is-new',
    who: 'assistant',
    answer: json(whatIsNew),
  }),
  forecast: row({
    method: 'POST',
    path: '/productions/:production/run-forecast',
    who: 'assistant',
    body: runCheckRequest,
    answer: json(sampledForecast),
    carries: 'lists',
  }),
  forecastRecipe: row({
    method: 'POST',
    path: '/productions/:production/recipe-forecast',
    who: 'assistant',
    body: recipePreviewRequest,
    answer: json(sampledForecast),
    carries: 'lists',
  }),
  begin: row({
    method: 'POST',
    path: '/productions/:production/runs',
    who: 'assistant',
    body: newRun,
    answer: made(runLine),
    carries: 'lists',
  }),
  runs: row({
    method: 'GET',
    path: '/productions/:production/runs',
    who: 'assistant',
    answer: json(z.array(runLine)),
  }),
  run: row({ method: 'GET', path: '/runs/:run', who: 'assistant', query: runQuestion, answer: json(runAnswer) }),
  change: row({ method: 'POST', path: '/runs/:run', who: 'assistant', body: runChange, answer: nothing }),
  /** Forgets a run, its legs and proofs; its outputs stay where they lie. */
  remove: row({ method: 'DELETE', path: '/runs/:run', who: 'assistant', answer: nothing }),
  stop: row({ method: 'POST', path: '/runs/:run/stop', who: 'assistant', answer: nothing }),
  retry: row({ method: 'POST', path: '/runs/:run/retry', who: 'assistant', answer: legs }),
  hold: row({ method: 'POST', path: '/runs/:run/hold', who: 'assistant', answer: legs }),
  release: row({ method: 'POST', path: '/runs/:run/release', who: 'assistant', answer: legs }),
  makeJoinedCopy: row({
    method: 'POST',
    path: '/runs/:run/joined-copies',
    who: 'assistant',
    body: newJoinedCopy,
    answer: made(z.strictObject({ id: z.string() })),
  }),
  leg: row({ method: 'GET', path: '/legs/:leg', who: 'assistant', answer: json(legAnswer) }),
  log: row({
    method: 'GET',
    path: '/legs/:leg/log',
    who: 'assistant',
    answer: json(z.strictObject({ log: z.string().nullable() })),
  }),
  stopLeg: row({ method: 'POST', path: '/legs/:leg/stop', who: 'assistant', answer: nothing }),
  retryLeg: row({ method: 'POST', path: '/legs/:leg/retry', who: 'assistant', answer: legs }),
  holdLeg: row({ method: 'POST', path: '/legs/:leg/hold', who: 'assistant', answer: legs }),
  releaseLeg: row({ method: 'POST', path: '/legs/:leg/release', who: 'assistant', answer: legs }),
  firstLeg: row({ method: 'POST', path: '/legs/:leg/first', who: 'assistant', answer: nothing }),
  moveLeg: row({ method: 'POST', path: '/legs/:leg/move', who: 'assistant', body: legMove, answer: nothing }),
};
