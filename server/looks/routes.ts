import type { benchRows } from '@relay/contract/routes/bench';
import type { cabinetRows } from '@relay/contract/routes/cabinet';
import type { Handlers } from '../bind.ts';
import { storeOr404, type Context } from '../context.ts';
import type { correctionTasks } from '../corrections/deskTasks.ts';
import { changeLut, lutAnswer, lutBytes, lutFileIn, lutLines, putAway } from './cabinet.ts';
import type { lookTasks } from './deskTasks.ts';
import { sendFrame } from './frame.ts';
import { benchAnswer, benchGroups, chainedClips } from './rules.ts';

/** LUTs and CDLs, kept and examined. */
export function cabinetHandlers(context: Context): Handlers<typeof cabinetRows> {
  const { db } = context;
  const desk = context.desk.of<typeof lookTasks>();
  return {
    luts: async () => lutLines(db),
    add: async ({ query, body }) => lutAnswer(db, await desk.do('takeIn', body, query.name)),
    addFromStore: async ({ body: { store, path } }) => {
      const bytes = await lutFileIn(await storeOr404(context, store), path);
      return lutAnswer(db, await desk.do('takeIn', bytes, path));
    },
    lut: async ({ params }) => lutAnswer(db, params.hash),
    file: async ({ params, response }) => {
      const { bytes, fileName } = await lutBytes(db, params.hash);
      // The bytes of a hash never change.
      response
        .set('Cache-Control', 'private, max-age=31536000, immutable')
        .type('application/octet-stream')
        .attachment(fileName)
        .send(bytes);
    },
    change: async ({ params, body }) => {
      await changeLut(db, params.hash, body);
      return lutAnswer(db, params.hash);
    },
    putAway: async ({ params }) => putAway(db, params.hash),
  };
}

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
      desk.do('sayCorrections', params.production, to, { colour: chain }, [], who),
  };
}
