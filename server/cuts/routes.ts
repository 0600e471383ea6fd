import type { cutRows } from '@relay/contract/routes/cuts';
import type { Handlers } from '../bind.ts';
import { storeOr404, type Context } from '../context.ts';
import { tell } from '../live/notify.ts';
import { cutLines, forget, listIn, versionOf } from './cuts.ts';
import type { cutTasks } from './deskTasks.ts';
import { sendOriginal } from './picture.ts';
import { sayEvent } from './rehearsal.ts';

/** Cuts that came back: their lists kept, tried against the originals, answered. */
export function cutHandlers(context: Context): Handlers<typeof cutRows> {
  const { db } = context;
  const desk = context.desk.of<typeof cutTasks>();
  return {
    cuts: async ({ params }) => cutLines(db, params.production),
    add: async ({ params, query: { name, cut, rate }, body, who }) =>
      desk.do('bringInCut', body, { production: params.production, cut, fileName: name, rate, who }),
    addFromStore: async ({ params, body, who }) => {
      const bytes = await listIn(await storeOr404(context, body.store), body);
      const fileName = body.path.slice(body.path.lastIndexOf('/') + 1);
      const { production } = params;
      return desk.do('bringInCut', bytes, { production, cut: body.cut, fileName, rate: body.rate, who });
    },
    forget: async ({ params }) => forget(db, params.cut),
    rehearsal: async ({ params }) => desk.json('rehearsalOf', params.version),
    answer: async ({ params, body, who }) => {
      const production = await sayEvent(db, params.version, body, who);
      await tell(db, { kind: 'changed', what: 'cuts', production });
    },
    changes: async ({ params }) => desk.json('changesOfCut', params.version),
    list: async ({ params, response }) => {
      const { bytes, fileName } = await versionOf(db, params.version);
      response.attachment(fileName).type('application/octet-stream').send(bytes);
    },
    rewritten: async ({ params, query, response }) => {
      const { name, text } = await desk.do('rewrittenCut', params.version, query.to);
      response
        .attachment(name)
        .type(query.to === 'csv' ? 'text/csv' : 'text/plain')
        .send(text);
    },
    missing: async ({ params, query, response }) => {
      const { name, text } = await desk.do('missingOfCut', params.version, query.to);
      response
        .attachment(name)
        .type(query.to === 'csv' ? 'text/csv' : 'text/plain')
        .send(text);
    },
    picture: async ({ params, query, response }) => sendOriginal(context, response, params.clip, query.frame),
  };
}
