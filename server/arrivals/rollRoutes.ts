import { cardQuery, newRoll } from '@relay/contract/arrivals';
import { Router } from 'express';
import type { Context } from '../context.ts';
import { member } from '../clips/decisions.ts';
import { checked, idOf, notThere, Refused } from '../http.ts';
import { tell } from '../live/notify.ts';
import { arrivalQueue, verifyQueue } from '../queue/boss.ts';
import { note, rollLines } from './rolls.ts';
import type { arrivalTasks } from './deskTasks.ts';

/**
 * Cards looked at before they are brought in, rolls begun, paused, stopped, resumed, verified again, and their history.
 */
export function rollRoutes(context: Context): Router {
  const router = Router();
  const { db, boss, stores } = context;
  const desk = context.desk.of<typeof arrivalTasks>();

  router.get('/productions/:id/card', async (request, response) => {
    const { store, folder } = checked(cardQuery, request.query);
    response.json(await desk.do('cardAnswer', idOf(request), store, folder));
  });

  router.get(
    '/productions/:id/rolls',
    async (request, response) => void response.json(await rollLines(db, stores, idOf(request))),
  );
  router.post('/productions/:id/rolls', async (request, response) => {
    response.status(201).json(await desk.do('beginRoll', idOf(request), checked(newRoll, request.body)));
  });
  router.get('/rolls/:id', async (request, response) => {
    const roll = await desk.do('rollAnswer', idOf(request));
    if (!roll) throw notThere('The roll');
    response.json(roll);
  });

  for (const what of ['pause', 'stop'] as const) {
    router.post(`/rolls/:id/${what}`, async (request, response) => {
      const id = idOf(request);
      await db.query(
        `UPDATE roll SET wanted = $2, state = CASE WHEN state = 'waiting' THEN $3 ELSE state END WHERE id = $1 AND state IN ('waiting', 'copying')`,
        [id, what, what === 'pause' ? 'paused' : 'stopped'],
      );
      await note(db, id, member, what === 'pause' ? 'Asked to pause' : 'Asked to stop');
      await tell(db, { kind: 'changed', what: 'rolls', production: null });
      response.status(204).end();
    });
  }
  router.post('/rolls/:id/resume', async (request, response) => {
    const id = idOf(request);
    const [rows] = await db.query<[{ id: string }[], number]>(
      `UPDATE roll SET wanted = 'go', state = 'waiting' WHERE id = $1 AND state IN ('paused', 'stopped', 'failed') RETURNING id`,
      [id],
    );
    if (rows.length === 0)
      throw new Refused(409, { what: 'There is nothing to resume', remedy: 'Wait until it has stopped' });
    await note(db, id, member, 'Resumed');
    await boss.send(arrivalQueue, { roll: id });
    await tell(db, { kind: 'changed', what: 'rolls', production: null });
    response.status(204).end();
  });
  router.post('/rolls/:id/verify', async (request, response) => {
    const id = idOf(request);
    const [rows] = await db.query<[{ id: string }[], number]>(
      `UPDATE roll_copy SET verify_wanted = now() WHERE roll_id = $1 AND manifest IS NOT NULL RETURNING id`,
      [id],
    );
    if (rows.length === 0)
      throw new Refused(409, { what: 'This roll has no manifest yet', remedy: 'Finish copying it first' });
    for (const copy of rows) await boss.send(verifyQueue, { copy: copy.id });
    await note(db, id, member, 'Asked to verify again');
    await tell(db, { kind: 'changed', what: 'rolls', production: null });
    response.status(204).end();
  });
  return router;
}
