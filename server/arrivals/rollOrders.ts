import type { Context } from '../context.ts';
import { tell } from '../live/notify.ts';
import { arrivalQueue, verifyQueue } from '../queue/boss.ts';
import { note } from './rolls.ts';

/** What people order of a roll that is on its way, or has arrived. */

async function wanted({ db }: Context, roll: string, what: 'pause' | 'stop', then: string): Promise<void> {
  await db.query(
    `UPDATE roll
     SET wanted = $2, state = CASE WHEN state = 'waiting' THEN $3 ELSE state END
     WHERE id = $1 AND state IN ('waiting', 'copying')`,
    [roll, what, then],
  );
}

async function noted({ db }: Context, roll: string, who: string, what: string): Promise<void> {
  await note(db, roll, who, what);
  await tell(db, { kind: 'changed', what: 'rolls', production: null });
}

export async function pauseRoll(context: Context, roll: string, who: string): Promise<void> {
  await wanted(context, roll, 'pause', 'paused');
  await noted(context, roll, who, 'Asked to pause');
}

export async function stopRoll(context: Context, roll: string, who: string): Promise<void> {
  await wanted(context, roll, 'stop', 'stopped');
  await noted(context, roll, who, 'Asked to stop');
}

/** Goes on with a roll that stands; false where it does not. */
export async function resumeRoll(context: Context, roll: string, who: string): Promise<boolean> {
  const [rows] = await context.db.query<[{ id: string }[], number]>(
    `UPDATE roll
     SET wanted = 'go', state = 'waiting'
     WHERE id = $1 AND state IN ('paused', 'stopped', 'failed')
     RETURNING id`,
    [roll],
  );
  if (rows.length === 0) return false;
  await context.boss.send(arrivalQueue, { roll });
  await noted(context, roll, who, 'Resumed');
  return true;
}

/** Has every copy of a roll held against its manifest again; false where there is none yet. */
export async function verifyRoll(context: Context, roll: string, who: string): Promise<boolean> {
  const [rows] = await context.db.query<[{ id: string }[], number]>(
    `UPDATE roll_copy
     SET verify_wanted = now()
     WHERE roll_id = $1 AND manifest IS NOT NULL
     RETURNING id`,
    [roll],
  );
  if (rows.length === 0) return false;
  for (const copy of rows) await context.boss.send(verifyQueue, { copy: copy.id });
  await noted(context, roll, who, 'Asked to verify again');
  return true;
}
