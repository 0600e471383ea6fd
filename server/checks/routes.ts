import type { checkRows } from '@relay/contract/routes/checks';
import type { Handlers } from '../bind.ts';
import type { Context } from '../context.ts';
import { notThere } from '../http.ts';
import { tell } from '../live/notify.ts';
import { removeOutput } from '../removal/removal.ts';
import { makeAgain, sayLook } from './looks.ts';
import { checkSheetOf, contactSheetOf, keepCheckRule } from './checkSheet.ts';
import { comparisonOf, sendPicture, sendPlayed, sendStill } from './comparison.ts';
import { dropMeasuring, measuredTable, measuringOf, orderMeasuring, orderMeasuringOfRun } from './measurings.ts';
import { finishedOutputs, outputAnswer } from './outputs.ts';
import { madeOf, sendOutputFile } from './reach.ts';
import { sizesOf } from './sizes.ts';

/** Finished outputs beside their originals. */
export function checkHandlers(context: Context): Handlers<typeof checkRows> {
  const { db } = context;
  return {
    outputs: async ({ params }) => {
      const outputs = await finishedOutputs(db, params.production);
      return { total: outputs.length, outputs };
    },
    sizes: async ({ params, query }) => sizesOf(db, params.production, query.by),
    output: async ({ params }) => {
      const output = await outputAnswer(db, params.output);
      if (!output) throw notThere('The output');
      return output;
    },
    ofClip: async ({ params }) => (await madeOf(db, params.clip)).map(({ line }) => line),
    file: async ({ params, query, response }) => sendOutputFile(context, response, params.output, query.keep),
    look: async ({ params, body, who }) => {
      const production = await sayLook(db, params.output, body, who);
      await tell(db, { kind: 'changed', what: 'runs', production });
    },
    again: async ({ params }) => ({ run: await makeAgain(context, params.output) }),
    remove: async ({ params }) => {
      const { production } = await removeOutput(db, params.output);
      await tell(db, { kind: 'changed', what: 'runs', production });
    },
    comparison: async ({ params, query }) => comparisonOf(context, params.output, query.against),
    played: async ({ params, query, response }) => sendPlayed(context, response, params.output, query),
    measuring: async ({ params }) => measuringOf(db, params.output),
    measure: async ({ params, body, who }) => orderMeasuring(context, params.output, body.every, who),
    dropMeasuring: async ({ params }) => dropMeasuring(db, params.output),
    measuredCsv: async ({ params, response }) => {
      const { name, text } = await measuredTable(db, params.output);
      response.attachment(name).type('text/csv').send(text);
    },
    measureRun: async ({ params, body, who }) => ({
      outputs: await orderMeasuringOfRun(context, params.run, body.every, who),
    }),
    sheet: async ({ params }) => checkSheetOf(db, params.run),
    sheetRule: async ({ params, body }) => {
      const production = await keepCheckRule(db, params.run, body);
      await tell(db, { kind: 'changed', what: 'runs', production });
    },
    contact: async ({ params, query }) => contactSheetOf(db, params.run, query.deliverable),
    picture: async ({ params, query, response }) => sendPicture(context, response, params.output, query),
    still: async ({ params, query, response }) => sendStill(context, response, params.output, query),
  };
}
