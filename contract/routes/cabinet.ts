import { z } from 'zod';
import { largestLutBytes, lutAnswer, lutChange, lutFromStore, lutLine } from '../colour.ts';
import { file, json, made, nothing, row } from './route.ts';

/** LUTs and CDLs, kept and examined. */
export const cabinetRows = {
  luts: row({ method: 'GET', path: '/luts', who: 'assistant', answer: json(z.array(lutLine)) }),
  add: row({
    method: 'POST',
    path: '/luts',
    who: 'assistant',
    query: z.object({ name: z.string().min(1).max(255) }),
    answer: made(lutAnswer),
    carries: { bytes: largestLutBytes },
  }),
  addFromStore: row({
    method: 'POST',
    path: '/luts/from-store',
    who: 'assistant',
    body: lutFromStore,
    answer: made(lutAnswer),
  }),
  lut: row({ method: 'GET', path: '/luts/:hash', who: 'assistant', answer: json(lutAnswer) }),
  file: row({ method: 'GET', path: '/luts/:hash/file', who: 'assistant', answer: file }),
  change: row({ method: 'POST', path: '/luts/:hash', who: 'assistant', body: lutChange, answer: json(lutAnswer) }),
  putAway: row({ method: 'DELETE', path: '/luts/:hash', who: 'assistant', answer: nothing }),
};
