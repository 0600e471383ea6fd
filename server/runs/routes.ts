import type { runRows } from '@relay/contract/routes/runs';
import type { Response } from 'express';
import { asAsked } from '../asked.ts';
import { gone, type Gone, type Handlers } from '../bind.ts';
import type { Context } from '../context.ts';
import { notThere, Refused } from '../http.ts';
import { orNotThere, type JsonBytes } from '../jsonBytes.ts';
import { tell } from '../live/notify.ts';
import { joinedCopyQueue } from '../queue/boss.ts';
import type { runTasks } from './deskTasks.ts';
import { legAnswer, legLog } from './oneLeg.ts';
import { lastChoiceOf, runLines } from './queries.ts';
import { removeRun } from '../removal/removal.ts';
import { orderJoinedCopy } from './joinedCopies.ts';
import { changeRun, firstOfAll, holdLegs, moveLeg, releaseLegs, retryLegs, stopLegs, type LegsOf } from './service.ts';

/** Runs and their legs: checked, begun, watched, held, stopped, tried again. */
export function runHandlers(context: Context): Handlers<typeof runRows> {
  const { db, boss } = context;
  const desk = context.desk.of<typeof runTasks>();

  const changed = (): Promise<void> => tell(db, { kind: 'changed', what: 'runs', production: null });
  /** How many legs something was done to, once everybody is told. */
  const counted = async (legs: number): Promise<{ legs: number }> => {
    await changed();
    return { legs };
  };
  const stop = async (which: LegsOf): Promise<void> => {
    await stopLegs(db, which);
    await changed();
  };
  const retry = async (which: LegsOf) => counted(await retryLegs(db, boss, which));
  const hold = async (which: LegsOf) => counted(await holdLegs(db, which));
  const release = async (which: LegsOf) => counted(await releaseLegs(db, boss, which));

  return {
    check: async ({ params, body }) => desk.json('checkChoice', params.production, body),
    whatIsNew: async ({ params }) => desk.json('whatIsNew', params.production),
    lastChoice: async ({ params }) => lastChoiceOf(db, params.production),
    forecast: async ({ params, body, response }) =>
      forecastAsAsked(response, (unwanted) => desk.jsonWanted(unwanted, 'forecastChoice', params.production, body)),
    forecastRecipe: async ({ params, body: { clips, definition }, response }) =>
      forecastAsAsked(response, (unwanted) =>
        desk.jsonWanted(unwanted, 'forecastRecipe', params.production, clips, definition),
      ),
    begin: async ({ params, body }) => orNotThere(await desk.json('beginChoice', params.production, body), 'The run'),
    runs: async ({ params }) => runLines(db, params.production),
    run: async ({ params, query }) => orNotThere(await desk.json('runAnswer', params.run, query.legs), 'The run'),
    change: async ({ params, body }) => {
      await changeRun(db, params.run, body);
      await changed();
    },
    remove: async ({ params }) => {
      await removeRun(db, params.run);
      await changed();
    },
    stop: async ({ params }) => stop({ run: params.run }),
    retry: async ({ params }) => retry({ run: params.run }),
    hold: async ({ params }) => hold({ run: params.run }),
    release: async ({ params }) => release({ run: params.run }),
    makeJoinedCopy: async ({ params, body }) => {
      const ordered = await orderJoinedCopy(db, params.run, body.deliverable);
      if (!ordered.ok) throw new Refused(409, ordered.problem);
      await boss.send(joinedCopyQueue, { joinedCopy: ordered.value });
      await changed();
      return { id: ordered.value };
    },
    leg: async ({ params }) => {
      const leg = await legAnswer(db, params.leg);
      if (!leg) throw notThere('The leg');
      return leg;
    },
    log: async ({ params }) => {
      const log = await legLog(db, params.leg);
      if (!log) throw notThere('The leg');
      return log;
    },
    stopLeg: async ({ params }) => stop({ leg: params.leg }),
    retryLeg: async ({ params }) => retry({ leg: params.leg }),
    holdLeg: async ({ params }) => hold({ leg: params.leg }),
    releaseLeg: async ({ params }) => release({ leg: params.leg }),
    firstLeg: async ({ params }) => {
      await firstOfAll(db, params.leg);
      await changed();
    },
    moveLeg: async ({ params, body }) => {
      if (!(await moveLeg(db, params.leg, body.before)))
        throw new Refused(409, {
          what: 'Only legs that wait can be moved, within their wave',
          remedy: 'Move another, or hold it',
        });
      await changed();
    },
  };
}

/** Samples pictures when it is the page's turn; not at all when it is gone by then. */
async function forecastAsAsked<Value>(
  response: Response,
  sample: (unwanted: AbortSignal) => Promise<JsonBytes<Value>>,
): Promise<JsonBytes<Value> | Gone> {
  const made: JsonBytes<Value>[] = [];
  await asAsked('forecast', response, async (unwanted) => {
    const forecast = await sample(unwanted);
    if (!unwanted.aborted) made.push(forecast);
  });
  return made[0] ?? gone;
}
