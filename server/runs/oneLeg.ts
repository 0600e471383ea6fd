import type { OutputLine } from '@relay/contract/checks';
import type { LegAnswer } from '@relay/contract/runs';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { sayOutput, sayPlan } from '@relay/core/recipe/sentence';
import { rational } from '@relay/core/time/rational';
import type { DataSource } from 'typeorm';
import { legLines } from './queries.ts';

/** Everything about one leg; null when there is none of that id. */
export async function legAnswer(db: DataSource, id: string): Promise<LegAnswer | null> {
  const [line] = await legLines(db, { leg: id });
  if (!line) return null;
  const [row] = await db.query<{ plan: LegPlan | null }[]>('SELECT plan FROM leg WHERE id = $1', [id]);
  const proofs = await db.query<Pick<OutputLine, 'id' | 'proof'>[]>('SELECT id, proof FROM output WHERE leg_id = $1', [
    id,
  ]);
  const plan = row?.plan ?? null;
  return {
    ...line,
    outputs: line.outputs.map((output) => ({
      ...output,
      proof: proofs.find((found) => found.id === output.id)?.proof ?? null,
    })),
    said: plan ? sayPlan(plan) : [],
    outputsPlanned: plan?.outputs.map((output) => ({ path: output.path, line: sayOutput(output) })) ?? [],
    rate: plan?.outputs[0]?.video.rate ?? rational(25),
  };
}

/** What was done and said in a leg, line by line; null when there is none of that id. */
export async function legLog(db: DataSource, id: string): Promise<{ log: string | null } | null> {
  const [row] = await db.query<{ log: string | null }[]>('SELECT log FROM leg WHERE id = $1', [id]);
  return row ?? null;
}
