import type { handoffRows } from '@relay/contract/routes/handoffs';
import { relinkCsv, relinkJson, sheetNames } from '@relay/core/relink/sheet';
import { mayBeHandedOn } from '../checks/checkSheet.ts';
import type { Handlers } from '../bind.ts';
import type { Context } from '../context.ts';
import { handoffLines, sheetOfRun } from './handoffs.ts';

/** What can be handed to the edit team: finished outputs, and the relink sheet that leads back from them. */
export function handoffHandlers({ db, stores }: Context): Handlers<typeof handoffRows> {
  return {
    handoffs: async ({ params }) => handoffLines(db, stores, params.production),
    relink: async ({ params, response }) => {
      await mayBeHandedOn(db, params.run);
      const rows = await sheetOfRun(db, stores, params.run);
      if (params.format === 'csv') response.attachment(sheetNames.csv).type('text/csv').send(relinkCsv(rows));
      else response.attachment(sheetNames.json).type('json').send(relinkJson(rows));
    },
  };
}
