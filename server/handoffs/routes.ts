import type { handoffRows } from '@relay/contract/routes/handoffs';
import { relinkCsv, relinkJson, sheetNames } from '@relay/core/relink/sheet';
import { mayBeHandedOn } from '../checks/checkSheet.ts';
import type { Handlers } from '../bind.ts';
import type { Context } from '../context.ts';
import { byItsClock } from '../db/entities/columns.ts';
import { handoff } from '../db/entities/handoffs.ts';
import { Refused } from '../http.ts';
import { tell } from '../live/notify.ts';
import { handoffQueue } from '../queue/boss.ts';
import type { handoffTasks } from './deskTasks.ts';
import { sendAll, sendItem } from './download.ts';
import { knowDrive, returnedDrives } from './drives.ts';
import { handoffLines, sheetOfRun } from './handoffs.ts';
import { holdingsOf } from './holds.ts';
import { noteHandoff } from './order.ts';
import { handedAnswer, handedLines, handoffChoices, handoffOr404, resumeHandoff, stopHandoff } from './queries.ts';

/** What can be handed to the edit team, what was, and to whom. */
export function handoffHandlers(context: Context): Handlers<typeof handoffRows> {
  const { db, boss, stores } = context;
  const desk = context.desk.of<typeof handoffTasks>();
  const changed = (production: string): Promise<void> => tell(db, { kind: 'changed', what: 'handoffs', production });
  return {
    handoffs: async ({ params }) => handoffLines(db, stores, params.production),
    relink: async ({ params, response }) => {
      await mayBeHandedOn(db, params.run);
      const rows = await sheetOfRun(db, stores, params.run);
      if (params.format === 'csv') response.attachment(sheetNames.csv).type('text/csv').send(relinkCsv(rows));
      else response.attachment(sheetNames.json).type('json').send(relinkJson(rows));
    },
    choices: async ({ params }) => handoffChoices(context, params.production),
    check: async ({ params, body }) => desk.json('checkHandoff', params.production, body),
    order: async ({ params, body, who }) => {
      const id = await desk.do('orderHandoff', params.production, body, who);
      await changed(params.production);
      return { id };
    },
    handed: async ({ params }) => handedLines(context, params.production),
    one: async ({ params }) => handedAnswer(context, params.handoff),
    stop: async ({ params, who }) => {
      const { productionId } = await stopHandoff(db, params.handoff);
      await noteHandoff(db, params.handoff, who, 'Stop asked for');
      await changed(productionId);
    },
    goOn: async ({ params, who }) => {
      const { productionId } = await resumeHandoff(context, params.handoff);
      await noteHandoff(db, params.handoff, who, 'Goes on');
      await boss.send(handoffQueue, { handoff: params.handoff });
      await changed(productionId);
    },
    lost: async ({ params, body: { lost }, who }) => {
      const { productionId } = await handoffOr404(db, params.handoff);
      await db.manager.update(handoff, { id: params.handoff }, { lostAt: lost ? byItsClock : null });
      await noteHandoff(db, params.handoff, who, lost ? 'They have nothing of it any more' : 'They have it after all');
      await changed(productionId);
    },
    drives: async ({ params }) => returnedDrives(context, params.production),
    verify: async ({ params, body, who }) => {
      if (body.root !== null) await knowDrive(context, params.handoff, body.root);
      const { productionId, name, state } = await handoffOr404(db, params.handoff);
      if (state === 'copying' || state === 'waiting')
        throw new Refused(409, { what: `${name} is being copied`, remedy: 'Wait until it is done' });
      await db.manager.update(handoff, { id: params.handoff }, { verifyWanted: byItsClock });
      await noteHandoff(db, params.handoff, who, 'Is looked at again');
      await boss.send(handoffQueue, { handoff: params.handoff, verify: true });
      await changed(productionId);
    },
    file: async ({ params, request, response, who }) =>
      sendItem(context, { request, response, who }, params.handoff, Number(params.place)),
    all: async ({ params, request, response, who }) => sendAll(context, { request, response, who }, params.handoff),
    forget: async ({ params }) => {
      const { productionId, name, state } = await handoffOr404(db, params.handoff);
      if (state === 'copying' || state === 'waiting')
        throw new Refused(409, { what: `${name} is being copied`, remedy: 'Stop it first' });
      await db.manager.delete(handoff, { id: params.handoff });
      await changed(productionId);
    },
    holdings: async ({ params }) => holdingsOf(db, params.production),
  };
}
