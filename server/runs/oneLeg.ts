import type { LegAnswer } from '@relay/contract/runs';
import { sayOutput, sayPlan } from '@relay/core/recipe/sentence';
import { rational } from '@relay/core/time/rational';
import { Not, type DataSource } from 'typeorm';
import { removalItem } from '../db/entities/removals.ts';
import { leg, output } from '../db/entities/runs.ts';
import { legLines } from './queries.ts';

/** Everything about one leg; null when there is none of that id. */
export async function legAnswer(db: DataSource, id: string): Promise<LegAnswer | null> {
  const [line] = await legLines(db, { leg: id });
  if (!line) return null;
  const row = await db.manager.findOne(leg, { select: { plan: true }, where: { id } });
  const proofs = await db.manager.find(output, { select: { id: true, proof: true }, where: { legId: id } });
  const removed = await db.manager.find(removalItem, {
    select: { path: true, removalId: true },
    where: { legId: id, state: 'gone', kind: Not('superseded') },
    order: { path: 'ASC' },
  });
  const plan = row?.plan ?? null;
  return {
    ...line,
    outputs: line.outputs.map((one) => ({
      ...one,
      proof: proofs.find((found) => found.id === one.id)?.proof ?? null,
    })),
    said: plan ? sayPlan(plan) : [],
    outputsPlanned: plan?.outputs.map((planned) => ({ path: planned.path, line: sayOutput(planned) })) ?? [],
    removed: removed.map(({ path, removalId }) => ({ path, removal: removalId })),
    rate: plan?.outputs[0]?.video.rate ?? rational(25),
  };
}

/** What was done and said in a leg, line by line; null when there is none of that id. */
export async function legLog(db: DataSource, id: string): Promise<{ log: string | null } | null> {
  const row = await db.manager.findOne(leg, { select: { log: true }, where: { id } });
  return row ? { log: row.log } : null;
}
