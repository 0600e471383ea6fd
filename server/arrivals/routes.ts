import type { arrivalRows } from '@relay/contract/routes/arrivals';
import { csvLine } from '@relay/core/identity/csv';
import type { Handlers } from '../bind.ts';
import { storeOr404, type Context } from '../context.ts';
import { Refused } from '../http.ts';
import { orNotThere } from '../jsonBytes.ts';
import { Bay } from './bay.ts';
import type { arrivalTasks } from './deskTasks.ts';
import { tell } from '../live/notify.ts';
import { removeReading } from '../removal/removal.ts';
import { reportTable } from './dayReport.ts';
import { beginReading, leftAside, readings } from './readings.ts';
import { pauseRoll, resumeRoll, stopRoll, verifyRoll } from './rollOrders.ts';
import { rollLines } from './rolls.ts';

/** Folders read, cards looked at and brought in, rolls and their custody, the day report. */
export function arrivalHandlers(context: Context): Handlers<typeof arrivalRows> {
  const { db, stores } = context;
  const desk = context.desk.of<typeof arrivalTasks>();
  const bay = new Bay(stores);
  return {
    readings: async ({ params }) => readings(db, params.production),
    read: async ({ params, body }) =>
      beginReading(context, params.production, await storeOr404(context, body.store), body.folder),
    removeReading: async ({ params }) => {
      const { production } = await removeReading(db, params.reading);
      await tell(db, { kind: 'changed', what: 'clips', production });
    },
    leftAside: async ({ params }) => leftAside(db, params.production),
    bay: async () => bay.look(),
    moveCard: async ({ body }) => bay.move(body.card, body.slot),
    card: async ({ params, query }) => desk.json('cardAnswer', params.production, query.store, query.folder),
    rolls: async ({ params }) => rollLines(db, stores, params.production),
    bringIn: async ({ params, body }) => orNotThere(await desk.json('beginRoll', params.production, body), 'The roll'),
    roll: async ({ params }) => orNotThere(await desk.json('rollAnswer', params.roll), 'The roll'),
    pause: async ({ params, who }) => pauseRoll(context, params.roll, who),
    stop: async ({ params, who }) => stopRoll(context, params.roll, who),
    resume: async ({ params, who }) => {
      if (!(await resumeRoll(context, params.roll, who)))
        throw new Refused(409, { what: 'There is nothing to resume', remedy: 'Wait until it has stopped' });
    },
    verify: async ({ params, who }) => {
      if (!(await verifyRoll(context, params.roll, who)))
        throw new Refused(409, { what: 'This roll has no manifest yet', remedy: 'Finish copying it first' });
    },
    report: async ({ params, query }) => desk.json('report', params.production, query.day),
    reportCsv: async ({ params, query, response }) => {
      const report = await desk.do('report', params.production, query.day);
      response
        .type('text/csv; charset=utf-8')
        .attachment(`${report.day}.csv`)
        .send(
          reportTable(report)
            .map((line) => `${csvLine(line)}\r\n`)
            .join(''),
        );
    },
  };
}
