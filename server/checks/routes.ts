import type { checkRows } from '@relay/contract/routes/checks';
import { isRefusal } from '@relay/core/clip/description';
import { under } from '@relay/core/naming/under';
import { describeOutput } from '@relay/media/describe/output';
import { openOutput } from '@relay/media/leg/open';
import { holding } from '@relay/work/disk/held';
import { outputIn } from '@relay/work/leg/outputPlace';
import type { Response } from 'express';
import type { Handlers } from '../bind.ts';
import { sendPicture } from '../clips/picture.ts';
import { storeOr404, type Context } from '../context.ts';
import { notThere, Refused } from '../http.ts';
import { tell } from '../live/notify.ts';
import { removeOutput } from '../removal/removal.ts';
import { makeAgain, sayLook } from './looks.ts';
import { finishedOutputs, outputAnswer, plannedOf, recordOf } from './outputs.ts';

/** Finished outputs beside their originals. */
export function checkHandlers(context: Context): Handlers<typeof checkRows> {
  const { db } = context;
  return {
    outputs: async ({ params }) => {
      const outputs = await finishedOutputs(db, params.production);
      return { total: outputs.length, outputs };
    },
    output: async ({ params }) => {
      const output = await outputAnswer(db, params.output);
      if (!output) throw notThere('The output');
      return output;
    },
    look: async ({ params, body, who }) => {
      const production = await sayLook(db, params.output, body, who);
      await tell(db, { kind: 'changed', what: 'runs', production });
    },
    again: async ({ params }) => ({ run: await makeAgain(context, params.output) }),
    remove: async ({ params }) => {
      const { production } = await removeOutput(db, params.output);
      await tell(db, { kind: 'changed', what: 'runs', production });
    },
    picture: async ({ params, query, response }) => sendOutputPicture(context, params.output, query.seconds, response),
  };
}

async function sendOutputPicture(context: Context, id: string, seconds: number, response: Response): Promise<void> {
  const record = await recordOf(context.db, id);
  if (!record) throw notThere('The output');
  const planned = plannedOf(record);
  const store = await storeOr404(context, record.store);
  await holding(async (held) => {
    const noLonger = new Refused(404, {
      what: `${record.path} is not there (any more)`,
      remedy: 'Retry its leg to make it again',
    });
    const path = await outputIn(held, planned, store.path, under(record.folder, record.path)).catch(() =>
      Promise.reject(noLonger),
    );
    const described = await describeOutput(planned, path);
    if (isRefusal(described) || !described.video) throw noLonger;
    await sendPicture(response, [openOutput(planned, path).input], described, seconds);
  });
}
