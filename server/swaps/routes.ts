import type { SwapProof } from '@relay/contract/cuts';
import type { swapRows } from '@relay/contract/routes/swaps';
import { asAsked } from '../asked.ts';
import { gone, type Handlers } from '../bind.ts';
import type { Context } from '../context.ts';
import type { swapTasks } from './deskTasks.ts';
import { proveSwap } from './proof.ts';

/** Cuts on what runs pulled for them: counted, written, proved. */
export function swapHandlers(context: Context): Handlers<typeof swapRows> {
  const desk = context.desk.of<typeof swapTasks>();
  return {
    swap: async ({ params, query }) => desk.json('swapAnswer', params.run, query.deliverable),
    written: async ({ params, query, response }) => {
      const { name, text } = await desk.do('swapWritten', params.run, query.to, query.deliverable);
      response
        .attachment(name)
        .type(query.to === 'paths' ? 'text/csv' : 'text/plain')
        .send(text);
    },
    proof: async ({ params, query, response }) => {
      const proved: SwapProof[] = [];
      await asAsked('swap', response, async (unwanted) => {
        proved.push(await proveSwap(context, params.run, query.deliverable, unwanted));
      });
      return proved[0] ?? gone;
    },
  };
}
