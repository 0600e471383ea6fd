import { appendFile, rename } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { useNight } from '../../testing/night.ts';
import { until } from '../../testing/site.ts';
import { outputsOfRun } from '../../testing/outputsOfRun.ts';
import { Refused } from '../http.ts';
import { dropMeasuring, measuredTable, measuringOf, orderMeasuring, orderMeasuringOfRun } from './measurings.ts';

const night = useNight();

it('outputs of a run are measured by a worker, kept, and given as a table; once', async () => {
  await night.work({ legsOnly: false });
  const run = await night.begin(2);
  await until('proved', night.allAre(run, 'proved'));
  const { database } = night;
  const { db } = database;
  expect(await orderMeasuringOfRun(database, run, 3, 'assistant')).toBe(2);
  // What waits or is under way is not ordered again.
  expect(await orderMeasuringOfRun(database, run, 3, 'assistant')).toBe(0);
  const [first = '', second = ''] = await outputsOfRun(db, run);
  const now = async (id: string) => (await measuringOf(db, id)).measuring;
  for (const id of [first, second]) await until('measured', async () => (await now(id))?.state === 'measured');
  expect(await orderMeasuringOfRun(database, run, 3, 'assistant')).toBe(0);
  const found = await now(first);
  expect(found).toMatchObject({ every: 3, framesDone: 36, stale: false, problem: null });
  expect(found?.along?.ssim).toHaveLength(12);
  expect(found?.worst[0]?.ssim).toBe(Math.min(...(found?.along?.ssim ?? [])));
  expect(found?.meanPsnr).toBeGreaterThan(25);
  const { name, text } = await measuredTable(db, first);
  expect(name).toBe('C001.mov.measured.csv');
  // The clip's own timecode stands beside its frames.
  expect(text.split('\r\n')[1]).toMatch(/^1,\d\d:\d\d:\d\d[:;]\d\d,/);
  expect(text.trim().split('\r\n')).toHaveLength(13);

  await appendFile(join(database.home, `shuttle/out-${night.folder}/proxy/C002.mov`), 'more');
  await orderMeasuring(database, second, 1, 'assistant');
  await until('failed', async () => (await now(second))?.state === 'failed');
  // What was found before is still there.
  expect(await now(second)).toMatchObject({
    problem: { what: expect.stringContaining('is not what was proved') as string },
  });
  expect((await now(second))?.along?.every).toBe(3);
  // Its original is away: the one that is meant is named, and nothing else is held up.
  const card = join(database.home, 'estuary/cards');
  await rename(join(card, 'C001.mov'), join(card, 'away.mov'));
  await orderMeasuring(database, first, 1, 'assistant');
  await until('failed too', async () => (await now(first))?.state === 'failed');
  expect((await now(first))?.problem?.what).toBe(
    'proxy/C001.mov cannot be measured: its original C001.mov is not there (any more)',
  );
  await rename(join(card, 'away.mov'), join(card, 'C001.mov'));
  // Given up, what was found before stands again.
  await night.over();
  await orderMeasuring(database, first, 2, 'assistant');
  await dropMeasuring(db, first);
  expect(await now(first)).toMatchObject({ state: 'measured', every: 3, framesDone: 36 });
  await dropMeasuring(db, second);
  expect(await now(second)).toBeNull();
});

it('what a killed worker was measuring is taken up by another; what would be too much is refused', async () => {
  await night.work({ legsOnly: false });
  const run = await night.begin(1);
  await until('proved', night.allAre(run, 'proved'));
  const { database } = night;
  const { db } = database;
  const [id = ''] = await outputsOfRun(db, run);
  await night.over();
  await orderMeasuring(database, id, 2, 'assistant');
  // As a worker leaves it that is killed in its middle.
  await db.query(`UPDATE measuring SET state = 'running', beat_at = now() - interval '1 minute'`);
  await db.query(`DELETE FROM pgboss.job WHERE name = 'measure'`);
  await night.work({ legsOnly: false });
  await until('measured', async () => (await measuringOf(db, id)).measuring?.state === 'measured');
  await db.query(
    `UPDATE leg SET plan = jsonb_set(plan::jsonb, '{outputs,0,video,frames}', '700000') WHERE run_id = $1`,
    [run],
  );
  await expect(orderMeasuring(database, id, 2, 'assistant')).rejects.toThrow(Refused);
  await expect(orderMeasuring(database, id, 2, 'assistant')).rejects.toMatchObject({
    problem: { remedy: 'Measure every 7th' },
  });
});
