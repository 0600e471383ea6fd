import { z } from 'zod';
import { handoffLine } from '../checks.ts';
import { file, json, row } from './route.ts';

/** What can be handed to the edit team: finished outputs, and the relink sheet that leads back from them. */
export const handoffRows = {
  handoffs: row({
    method: 'GET',
    path: '/productions/:production/handoffs',
    who: 'assistant',
    answer: json(z.array(handoffLine)),
  }),
  relink: row({ method: 'GET', path: '/runs/:run/relink.:format', who: 'assistant', answer: file }),
};
