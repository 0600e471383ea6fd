import { z } from 'zod';
import { swapAnswer, swapProof } from '../cuts.ts';
import { file, json, row } from './route.ts';

const deliverable = z.string().min(1).max(80).optional();

/** Cuts on what runs pulled for them. */
export const swapRows = {
  /** The cut on what was pulled for it. */
  swap: row({
    method: 'GET',
    path: '/runs/:run/swap',
    who: 'assistant',
    query: z.object({ deliverable }),
    answer: json(swapAnswer),
  }),
  /** The same as a list, or as a table of paths. */
  written: row({
    method: 'GET',
    path: '/runs/:run/swap/list',
    who: 'assistant',
    query: z.object({ deliverable, to: z.enum(['edl', 'otio', 'paths']) }),
    answer: file,
  }),
  proof: row({
    method: 'GET',
    path: '/runs/:run/swap/proof',
    who: 'assistant',
    query: z.object({ deliverable }),
    answer: json(swapProof),
  }),
};
