import type { cabinetRows } from '@relay/contract/routes/cabinet';
import type { Handlers } from '../bind.ts';
import { storeOr404, type Context } from '../context.ts';
import { changeLut, lutAnswer, lutBytes, lutFileIn, lutLines, putAway } from './cabinet.ts';
import type { cabinetTasks } from './deskTasks.ts';

/** LUTs and CDLs, kept and examined. */
export function cabinetHandlers(context: Context): Handlers<typeof cabinetRows> {
  const { db } = context;
  const desk = context.desk.of<typeof cabinetTasks>();
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
