import { csvLine } from '@relay/core/identity/csv';
import { Router } from 'express';
import { z } from 'zod';
import type { Context } from '../context.ts';
import { checked, idOf } from '../http.ts';
import type { arrivalTasks } from './deskTasks.ts';

/** The day report: rolls, hours, sizes, formats, gaps in clip numbers, findings, custody. */
export function reportRoutes(context: Context): Router {
  const router = Router();
  const desk = context.desk.of<typeof arrivalTasks>();
  const query = z.object({ day: z.string().max(60).optional() });
  router.get(
    '/productions/:id/report',
    async (request, response) =>
      void response.json(await desk.do('report', idOf(request), checked(query, request.query).day)),
  );
  router.get('/productions/:id/report.csv', async (request, response) => {
    const made = await desk.do('report', idOf(request), checked(query, request.query).day);
    const lines = made.rolls.map((roll) =>
      csvLine([
        made.day,
        roll.name,
        roll.clips,
        roll.soundClips,
        roll.seconds.toFixed(2),
        roll.bytes,
        roll.formats.join('; '),
        roll.gaps.join(' '),
        roll.findings.map((finding) => `${finding.text} (${finding.clips})`).join('; '),
        roll.custody,
      ]),
    );
    response
      .type('text/csv; charset=utf-8')
      .attachment(`${made.day}.csv`)
      .send(
        `${[csvLine(['day', 'roll', 'clips', 'sound clips', 'seconds', 'bytes', 'formats', 'gaps', 'findings', 'custody']), ...lines].join('\r\n')}\r\n`,
      );
  });
  return router;
}
