import { afterAll, beforeAll, expect, it } from 'vitest';
import { inventProduction, inventRun, startDatabase, type TestDatabase } from '../../testing/database.ts';
import type { ClipToRun } from './plans.ts';

let database: TestDatabase;
beforeAll(async () => {
  database = await startDatabase();
});
afterAll(() => database?.close());

it('writes each leg down with its own plan, in order, over several lots', async () => {
  const stems = Array.from({ length: 1_201 }, (_, n) => `C${String(n).padStart(4, '0')}`);
  const { production, clips } = await inventProduction(database.db, 'Long', stems);
  // One whose outputs would lie on another's place: it has failed, and has no plan.
  const [one, other] = [clips[700], clips[701]] as [ClipToRun, ClipToRun];
  const doubled = { ...one, description: other.description };
  const { run } = await inventRun(database, production, clips.with(700, doubled));
  const legs = await database.db.query<
    { ordinal: number; state: string; path: string; planned: string | null; problem: { what: string } | null }[]
  >(
    `SELECT leg.ordinal, leg.state, clip.path, leg.plan->'original'->>'path' AS planned, leg.problem
     FROM leg
     JOIN clip ON clip.id = leg.clip_id
     WHERE run_id = $1
     ORDER BY ordinal`,
    [run],
  );
  expect(legs).toHaveLength(1_201);
  expect(legs.map(({ ordinal }) => ordinal)).toEqual(stems.map((_, n) => n));
  const [good, failed] = [legs.filter(({ planned }) => planned), legs.filter(({ planned }) => !planned)];
  expect(failed.map(({ ordinal, state }) => [ordinal, state])).toEqual([
    [700, 'failed'],
    [701, 'failed'],
  ]);
  expect(failed[0]?.problem?.what).toMatch(/would also be made from/);
  for (const { path, planned, state } of good) expect([planned, state]).toEqual([path, 'waiting']);
  // Jobs go to workers in the order of the legs.
  const jobs = await database.db.query<{ ordinal: number }[]>(
    `SELECT leg.ordinal
     FROM pgboss.job
     JOIN leg ON leg.id = (job.data->>'leg')::uuid
     WHERE leg.run_id = $1
     ORDER BY job.created_on, job.id`,
    [run],
  );
  expect(jobs.map(({ ordinal }) => ordinal)).toEqual(good.map(({ ordinal }) => ordinal));
});

it('leaves nothing of a run behind whose clips went while it was written down', async () => {
  const stems = Array.from({ length: 900 }, (_, n) => `D${String(n).padStart(4, '0')}`);
  const { production, clips } = await inventProduction(database.db, 'Gone', stems);
  // In the second of four lots: what is laid out meanwhile is for nothing.
  await database.db.query('DELETE FROM clip WHERE id = $1', [clips[300]?.id]);
  await expect(inventRun(database, production, clips)).rejects.toThrow(/leg_clip_id_fkey/);
  expect(await database.db.query('SELECT id FROM run WHERE production_id = $1', [production])).toEqual([]);
});
