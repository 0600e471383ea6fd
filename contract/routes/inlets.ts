import { z } from 'zod';
import { inletAnswer, inletChange, inletDefinition, inletLine, inletPause } from '../inlets.ts';
import { json, made, nothing, row } from './route.ts';

/** Inlets: made, changed, paused, looked at. */
export const inletRows = {
  inlets: row({
    method: 'GET',
    path: '/productions/:production/inlets',
    who: 'assistant',
    answer: json(z.array(inletLine)),
  }),
  add: row({
    method: 'POST',
    path: '/productions/:production/inlets',
    who: 'assistant',
    body: inletDefinition,
    answer: made(inletAnswer),
  }),
  inlet: row({ method: 'GET', path: '/inlets/:inlet', who: 'assistant', answer: json(inletAnswer) }),
  change: row({
    method: 'PUT',
    path: '/inlets/:inlet',
    who: 'assistant',
    body: inletChange,
    answer: json(inletAnswer),
  }),
  pause: row({ method: 'POST', path: '/inlets/:inlet/pause', who: 'assistant', body: inletPause, answer: nothing }),
  /** Forgets an inlet and what it took up; originals, runs and outputs stay. */
  remove: row({ method: 'DELETE', path: '/inlets/:inlet', who: 'assistant', answer: nothing }),
  /** Has what was left of a thing looked at again. */
  again: row({ method: 'POST', path: '/things/:thing/again', who: 'assistant', answer: nothing }),
  /** Drops a painted card into the demo's inlet, slowly. */
  drop: row({ method: 'POST', path: '/inlets/:inlet/drop', who: 'assistant', answer: nothing }),
};
