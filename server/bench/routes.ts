import type { benchRows } from '@relay/contract/routes/bench';
import type { Handlers } from '../bind.ts';
import type { Context } from '../context.ts';
import type { correctionTasks } from '../corrections/deskTasks.ts';
import { sendFrame } from './frame.ts';
import { benchAnswer, benchGroups, chainedClips } from './rules.ts';

/** The bench: what a clip is worked on with, its frames in full depth, chains said. */
export function benchHandlers(context: Context): Handlers<typeof benchRows> {
  const { db } = context;
  const desk = context.desk.of<typeof correctionTasks>();
  return {
    bench: async ({ params }) => benchAnswer(db, params.clip),
    frame: async ({ params, query, response }) => sendFrame(context, response, params.clip, query.frame, query.width),
    groups: async ({ params }) => benchGroups(db, params.production),
    chained: async ({ params, query }) => chainedClips(db, params.production, query),
    sayChain: async ({ params, body: { to, chain }, who }) =>
      desk.do('sayCorrections', params.production, to, { values: { colour: chain }, clear: [] }, who),
  };
}
