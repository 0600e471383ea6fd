import type { MadeOfClip } from '@relay/contract/checks';
import { under } from '@relay/core/naming/under';
import { membersOf } from '@relay/core/recipe/members';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { holding } from '@relay/work/disk/held';
import type { Response } from 'express';
import type { DataSource } from 'typeorm';
import { storeOr404, type Context } from '../context.ts';
import { notThere, Refused } from '../http.ts';
import { sendHeld } from '../sendFile.ts';
import { lookOfOutput } from '../runs/queries.ts';
import { plannedOf, recordOf } from './outputs.ts';

/** Ways to an output for whoever wants it: what was made of a clip, and the file itself. */

type Made = MadeOfClip[number];

/** What was made of a clip and is there, the newest first, with its plan. */
export async function madeOf(db: DataSource, clip: string): Promise<{ line: Made; planned: OutputPlan }[]> {
  const rows = await db.query<(Omit<Made, 'oneFile'> & { plan: LegPlan })[]>(
    `SELECT o.id, o.deliverable, o.role, o.path, o.state, o.size_bytes::float AS "sizeBytes", ${lookOfOutput} AS look,
       run.name AS run, o.store_id AS store, o.folder, leg.plan
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     JOIN run ON run.id = leg.run_id
     WHERE leg.clip_id = $1 AND o.state IN ('proved', 'needs eyes')
     ORDER BY o.created_at DESC, o.role
     LIMIT 50`,
    [clip],
  );
  return rows.flatMap(({ plan, ...line }) => {
    const planned = plan.outputs.find(({ path }) => path === line.path);
    return planned ? [{ line: { ...line, oneFile: membersOf(planned) === null }, planned }] : [];
  });
}

/** Sends an output's file, or the range of it that is asked for; `keep` as one to be stored under its own name. */
export async function sendOutputFile(context: Context, response: Response, id: string, keep: boolean): Promise<void> {
  const record = await recordOf(context.db, id);
  if (!record) throw notThere('The output');
  if (membersOf(plannedOf(record)))
    throw new Refused(409, {
      what: `${record.path} is a folder of files`,
      remedy: 'Copy it from its place, which its check names',
    });
  const store = await storeOr404(context, record.store);
  const name = record.path.slice(record.path.lastIndexOf('/') + 1);
  await holding(async (held) => {
    const path = await held.file(store.path, under(record.folder, record.path)).catch(() =>
      Promise.reject(
        new Refused(404, {
          what: `${record.path} is not there (any more)`,
          remedy: 'Retry its leg to make it again',
        }),
      ),
    );
    await sendHeld(response, { path, name, keep, xxh3: record.xxh3 });
  });
}
