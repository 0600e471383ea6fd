import { z } from 'zod';
import {
  changesAnswer,
  cutArriving,
  cutFromStore,
  cutLine,
  cutVersion,
  eventAnswer,
  largestListBytes,
  rehearsalAnswer,
} from '../cuts.ts';
import { file, json, made, nothing, row } from './route.ts';

/** Cuts that came back: their lists kept, tried against the originals, answered. */
export const cutRows = {
  cuts: row({
    method: 'GET',
    path: '/productions/:production/cuts',
    who: 'assistant',
    answer: json(z.array(cutLine)),
  }),
  add: row({
    method: 'POST',
    path: '/productions/:production/cuts',
    who: 'assistant',
    query: cutArriving,
    answer: made(cutVersion),
    carries: { bytes: largestListBytes },
  }),
  addFromStore: row({
    method: 'POST',
    path: '/productions/:production/cuts/from-store',
    who: 'assistant',
    body: cutFromStore,
    answer: made(cutVersion),
  }),
  forget: row({ method: 'DELETE', path: '/cuts/:cut', who: 'assistant', answer: nothing }),
  rehearsal: row({
    method: 'GET',
    path: '/cut-versions/:version/rehearsal',
    who: 'assistant',
    answer: json(rehearsalAnswer),
  }),
  answer: row({
    method: 'POST',
    path: '/cut-versions/:version/answer',
    who: 'assistant',
    body: eventAnswer,
    answer: nothing,
  }),
  changes: row({
    method: 'GET',
    path: '/cut-versions/:version/changes',
    who: 'assistant',
    answer: json(changesAnswer.nullable()),
  }),
  /** The list as it came. */
  list: row({ method: 'GET', path: '/cut-versions/:version/list', who: 'assistant', answer: file }),
  /** The list in another form. */
  rewritten: row({
    method: 'GET',
    path: '/cut-versions/:version/rewritten',
    who: 'assistant',
    query: z.object({ to: z.enum(['edl', 'otio', 'csv']) }),
    answer: file,
  }),
  /** Reels that are wanted, with timecode, for whoever looks for the drive. */
  missing: row({
    method: 'GET',
    path: '/cut-versions/:version/missing',
    who: 'assistant',
    query: z.object({ to: z.enum(['csv', 'text']) }),
    answer: file,
  }),
  /** A small picture of an original at a frame. */
  picture: row({
    method: 'GET',
    path: '/clips/:clip/picture',
    who: 'assistant',
    query: z.object({ frame: z.coerce.number().int().min(0).max(1e8) }),
    answer: file,
  }),
};
