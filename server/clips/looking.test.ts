import { afterAll, beforeAll, expect, it } from 'vitest';
import { inventProduction, startDatabase, type TestDatabase } from '../../testing/database.ts';
import { clockOf } from '../db/dataSource.ts';
import { queueLooks } from '../queue/boss.ts';
import { orphanedLooks } from './looking.ts';

let database: TestDatabase;
beforeAll(async () => {
  database = await startDatabase();
});
afterAll(async () => {
  await database?.close();
});

it('a clip whose worker was killed over it is looked at again by the next; one that is looked at now is left to it', async () => {
  const { db, boss } = database;
  const { clips } = await inventProduction(db, 'Looks', ['A001C001', 'A001C002', 'A001C003', 'A001C004']);
  const [begunBefore, begunNow, waits, forgotten] = clips.map(({ id }) => id) as [string, string, string, string];
  await db.query(`UPDATE clip SET created_at = now() - interval '1 minute'`);
  await queueLooks(boss, [begunBefore, begunNow, waits]);
  const begin = (clip: string, ago: string): Promise<unknown> =>
    db.query(
      `UPDATE pgboss.job
       SET state = 'active', started_on = now() - $2::interval
       WHERE name = 'look' AND data->>'clip' = $1`,
      [clip, ago],
    );
  await begin(begunBefore, '10 seconds');
  await begin(begunNow, '0 seconds');
  const started = new Date((await clockOf(db)).getTime() - 5_000);
  expect((await orphanedLooks(db, started)).sort()).toEqual([begunBefore, forgotten].sort());
  // Whoever does not look does not know who began what.
  expect(await orphanedLooks(db, null)).toEqual([forgotten]);
});
