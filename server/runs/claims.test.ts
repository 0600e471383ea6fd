import type { LegState } from '@relay/contract/states';
import type { OutputResult } from '@relay/contract/run';
import type { RelinkRow } from '@relay/core/relink/sheet';
import { mkdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { inventProduction, inventRun, startDatabase, type TestDatabase } from '../../testing/database.ts';
import { legQueue, queueLegs } from '../queue/boss.ts';
import {
  claimForemost,
  endLeasesOfTheDead,
  endLeg,
  orphanedLegs,
  renewLease,
  runsOneAlone,
  stillOurs,
  takeBackLapsed,
  workerName,
} from './claims.ts';
import { promisedBytes } from './queries.ts';
import { placesOf, recordedOutput, recordOutput } from './recorded.ts';
import { idleSlots } from './segmentClaims.ts';
import { changeRun, firstOfAll, holdLegs, moveLeg, releaseLegs, retryLegs, stopLegs } from './service.ts';
import { SheetKeeper } from './sheetKeeper.ts';

let database: TestDatabase;
let run: string;
let legs: string[];
let counter = 0;

beforeAll(async () => {
  database = await startDatabase();
});
afterAll(() => database?.close());
beforeEach(async () => {
  counter += 1;
  const { production, clips } = await inventProduction(database.db, `Production ${counter}`, ['C1', 'C2', 'C3']);
  ({ run, legs } = await inventRun(database, production, clips, `out-${counter}`));
});

const first = (): string => legs[0] as string;
const state = async (leg: string): Promise<LegState> =>
  (await database.db.query<{ state: LegState }[]>('SELECT state FROM leg WHERE id = $1', [leg]))[0]?.state as LegState;
/** A certain leg, put before all others and then claimed as any worker would. */
async function claimLeg(leg: string, worker: string): Promise<void> {
  await firstOfAll(database.db, leg);
  expect((await claimForemost(database.db, worker))?.id).toBe(leg);
}
const lapse = (leg: string): Promise<unknown> =>
  database.db.query(`UPDATE leg SET lease_until = now() - interval '1 second' WHERE id = $1`, [leg]);
const progress = { state: 'running' as const, framesDone: 10, framesTotal: 72, speed: 1 };
const row = (output: string, outputXxh3: string): RelinkRow =>
  ({ output, outputXxh3, role: 'proxy', state: 'proved', outputBytes: 9 }) as RelinkRow;
/** A proxy of the run, where the run goes. */
const placed = () => ({ deliverable: 'Proxy', place: { store: 'shuttle', folder: `out-${counter}` } });
const result = (path: string, rest: Partial<OutputResult> = {}): OutputResult => ({
  deliverable: 'Proxy',
  role: 'proxy',
  path,
  state: 'proved',
  alreadyThere: false,
  sizeBytes: 9,
  xxh3: 'aa',
  proof: null,
  problem: null,
  ...rest,
});

describe('claiming a leg', () => {
  it('gives it to one worker only, however many ask at once', async () => {
    await database.db.query(`UPDATE leg SET state = 'held' WHERE state = 'waiting' AND id <> $1`, [first()]);
    const claims = await Promise.all(Array.from({ length: 8 }, (_, n) => claimForemost(database.db, `w${n}`)));
    expect(claims.filter((claim) => claim !== null)).toHaveLength(1);
    expect(claims.find((claim) => claim !== null)).toMatchObject({
      id: first(),
      runId: run,
      outStore: 'shuttle',
      sourceStore: 'estuary',
      sourceRoot: 'cards',
    });
  });

  it('keeps it while the lease is renewed, and tells the worker when it is no longer wanted or no longer its own', async () => {
    await claimLeg(first(), 'w');
    expect(await renewLease(database.db, first(), 'w', progress)).toBe('kept');
    expect(await renewLease(database.db, first(), 'other', progress)).toBe('lost');
    await stopLegs(database.db, { leg: first() });
    expect(await renewLease(database.db, first(), 'w', progress)).toBe('stop');
    await lapse(first());
    await takeBackLapsed(database.db);
    expect(await renewLease(database.db, first(), 'w', progress)).toBe('lost');
    expect(await stillOurs(database.db, first(), 'w')).toBe(false);
    expect(await state(first())).toBe('stopped');
  });
});

describe('a worker that dies', () => {
  it('loses its legs when the lease lapses, not before', async () => {
    await claimLeg(first(), 'w');
    expect(await takeBackLapsed(database.db)).toEqual([]);
    await lapse(first());
    expect(await takeBackLapsed(database.db)).toEqual([{ id: first(), runId: run, state: 'waiting' }]);
    await claimLeg(first(), 'w2');
  });

  it('loses them at once to a worker of the same machine that knows it is dead', async () => {
    await claimLeg(first(), workerName('here', 111, 1));
    await claimLeg(legs[1] as string, workerName('here', 222, 1));
    await claimLeg(legs[2] as string, workerName('elsewhere', 111, 1));
    await endLeasesOfTheDead(database.db, 'here', (pid) => pid === 222);
    expect((await takeBackLapsed(database.db)).map((leg) => leg.id)).toEqual([first()]);
  });

  it('three times at one clip, while it makes nothing else, sets the clip aside, with the reason', async () => {
    for (const expected of ['waiting', 'waiting', 'failed']) {
      await claimLeg(first(), 'single');
      await lapse(first());
      await takeBackLapsed(database.db);
      expect(await state(first())).toBe(expected);
    }
    const [leg] = await database.db.query<
      {
        problem: { what: string };
      }[]
    >('SELECT problem FROM leg WHERE id = $1', [first()]);
    expect(leg?.problem.what).toContain('broke off 3 times');
    expect(await placesOf(database.db, [first()])).toEqual([
      {
        id: first(),
        store: 'shuttle',
        folder: `out-${counter}`,
        paths: ['intermediate/A001/C1.mov', 'proxy/A001/C1.mov'],
      },
    ]);
  });

  it('however often, blames none of the legs that it made beside each other; who was there twice is run alone', async () => {
    await database.db.query(`UPDATE leg SET state = 'held' WHERE state = 'waiting' AND run_id <> $1`, [run]);
    const both = async (): Promise<string[]> =>
      (await Promise.all([claimForemost(database.db, 'pair'), claimForemost(database.db, 'pair')])).flatMap((leg) =>
        leg ? [leg.id] : [],
      );
    const gone = async (): Promise<void> => {
      await database.db.query(
        `UPDATE leg SET lease_until = now() - interval '1 second' WHERE state = 'running' AND worker = 'pair'`,
      );
      await takeBackLapsed(database.db);
    };
    for (let time = 0; time < 2; time += 1) {
      expect((await both()).sort()).toEqual([first(), legs[1] as string].sort());
      await gone();
    }
    // Both were there twice: each has the worker to itself now, and it is seen whose doing it is.
    for (let time = 0; time < 3; time += 1) {
      expect(await both()).toEqual([first()]);
      expect(await runsOneAlone(database.db, 'pair')).toBe(true);
      await gone();
    }
    expect(await state(first())).toBe('failed');
    expect(await both()).toEqual([legs[1]]);
    await endLeg(database.db, legs[1] as string, 'pair', { state: 'proved', problem: null, outputs: [] });
    expect(await claimForemost(database.db, 'pair')).toMatchObject({ id: legs[2] });
    // While something else is under way, one that must be alone waits.
    expect(await retryLegs(database.db, database.boss, { leg: first() })).toBe(1);
    await database.db.query('UPDATE leg SET lapses = 2 WHERE id = $1', [first()]);
    expect(await both()).toEqual([]);
    await endLeg(database.db, legs[2] as string, 'pair', { state: 'proved', problem: null, outputs: [] });
    expect(await both()).toEqual([first()]);
  });

  it('between taking a job and claiming its leg leaves a leg that is queued again', async () => {
    await database.db.query(`UPDATE leg SET queued_at = now() - interval '1 minute'`);
    await database.db.query(`DELETE FROM pgboss.job WHERE name = 'leg'`);
    const orphaned = await orphanedLegs(database.db);
    expect(orphaned).toContain(first());
    await queueLegs(database.boss, orphaned);
    // As many jobs as legs wait: each brings a worker to the foremost one.
    expect(await orphanedLegs(database.db)).toEqual([]);
    await database.db.query(
      `DELETE FROM pgboss.job WHERE ctid = (SELECT ctid FROM pgboss.job WHERE name = 'leg' LIMIT 1)`,
    );
    expect(await orphanedLegs(database.db)).toHaveLength(1);
  });
});

describe('which leg is next', () => {
  const next = async (): Promise<string | undefined> => (await claimForemost(database.db, 'w'))?.id;
  beforeEach(() =>
    database.db.query(`UPDATE leg SET state = 'stopped' WHERE run_id <> $1 AND state = 'waiting'`, [run]),
  );

  it('follows the order of the run, unless a leg is put first by hand, or held', async () => {
    await firstOfAll(database.db, legs[2] as string);
    await holdLegs(database.db, { leg: legs[0] as string });
    expect(await next()).toBe(legs[2]);
    expect(await next()).toBe(legs[1]);
    expect(await next()).toBeUndefined();
    expect(await state(first())).toBe('held');
    expect(await releaseLegs(database.db, database.boss, { run })).toBe(1);
    expect(await next()).toBe(first());
  });

  it('goes by priority between runs, by wave within one, and waits for the hour that was set', async () => {
    const { production, clips } = await inventProduction(database.db, `Other ${counter}`, ['D1']);
    const other = await inventRun(database, production, clips, `other-${counter}`);
    await database.db.query('UPDATE leg SET wave = 2 WHERE id = $1', [first()]);
    await changeRun(database.db, other.run, { priority: 1 });
    expect(await next()).toBe(other.legs[0]);
    expect(await next()).toBe(legs[1]);
    await changeRun(database.db, run, { notBefore: new Date(Date.now() + 3600_000).toISOString() });
    expect(await next()).toBeUndefined();
    await changeRun(database.db, run, { notBefore: null });
    expect(await next()).toBe(legs[2]);
    expect(await next()).toBe(first());
  });

  it('is one whose stores are all there: that of the original, and every one that outputs go to', async () => {
    await database.db.query(`UPDATE leg SET stores = '{shuttle,raid}' WHERE id = $1`, [first()]);
    const able = (...stores: string[]): Promise<string | undefined> =>
      claimForemost(database.db, 'w', { stores, codecs: null }).then((leg) => leg?.id);
    expect(await able('estuary')).toBeUndefined();
    expect(await able('shuttle', 'raid')).toBeUndefined();
    expect(await able('estuary', 'shuttle')).toBe(legs[1]);
    expect(await able('estuary', 'shuttle', 'raid')).toBe(first());
  });

  it('is taken once, however many ask at once', async () => {
    const taken = await Promise.all(Array.from({ length: 6 }, next));
    expect(taken.filter(Boolean).sort()).toEqual([...legs].sort());
  });

  it('ten thousand legs are queued in seconds, and the foremost is found at once', async () => {
    const { production, clips } = await inventProduction(database.db, `Many ${counter}`, ['M1']);
    const many = await inventRun(database, production, clips, `many-${counter}`);
    const from = performance.now();
    const made = await database.db.query<{ id: string }[]>(
      `INSERT INTO leg (run_id, clip_id, ordinal, plan, stores, frames_total) SELECT run_id, clip_id, n, plan, stores, frames_total FROM leg, generate_series(1, 10000) n WHERE leg.id = $1 RETURNING id`,
      [many.legs[0]],
    );
    await queueLegs(
      database.boss,
      made.map(({ id }) => id),
    );
    expect(performance.now() - from).toBeLessThan(15_000);
    const asked = performance.now();
    expect(await next()).toBe(first());
    expect(performance.now() - asked).toBeLessThan(1_000);
    await database.db.query('DELETE FROM run WHERE id = $1', [many.run]);
  });
});

describe('the end of a leg', () => {
  it('is written by its holder only, with its outputs, once', async () => {
    await claimLeg(first(), 'w');
    expect(
      await endLeg(database.db, first(), 'other', { state: 'proved', problem: null, outputs: [result('p')] }),
    ).toBe(false);
    expect(await endLeg(database.db, first(), 'w', { state: 'proved', problem: null, outputs: [result('p')] })).toBe(
      true,
    );
    expect(await endLeg(database.db, first(), 'w', { state: 'failed', problem: null, outputs: [] })).toBe(false);
    expect(await state(first())).toBe('proved');
  });

  it('keeps the checksum that was recorded before the file got its name', async () => {
    await claimLeg(first(), 'w');
    await recordOutput(database.db, first(), row('proxy/A001/C1.mov', 'cafe'), placed());
    // Here the worker dies; whoever takes the leg up again finds the file and knows it.
    expect(await recordedOutput(database.db, placed().place, 'proxy/A001/C1.mov')).toMatchObject({
      xxh3: 'cafe',
      state: 'proved',
    });
    expect(
      await recordedOutput(database.db, { store: 'shuttle', folder: 'another-folder' }, 'proxy/A001/C1.mov'),
    ).toBeNull();
    expect(await recordedOutput(database.db, placed().place, 'proxy/A001/C2.mov')).toBeNull();
  });
});

describe('stopping and retrying', () => {
  it('stops what waits at once; retrying brings back what failed or was stopped, and nothing else', async () => {
    await claimLeg(first(), 'w');
    await endLeg(database.db, first(), 'w', { state: 'proved', problem: null, outputs: [result('p')] });
    await stopLegs(database.db, { run });
    expect(await Promise.all(legs.map(state))).toEqual(['proved', 'stopped', 'stopped']);
    expect(await retryLegs(database.db, database.boss, { run })).toBe(2);
    expect(await Promise.all(legs.map(state))).toEqual(['proved', 'waiting', 'waiting']);
    expect(await retryLegs(database.db, database.boss, { run })).toBe(0);
  });
});

describe('the order of a run', () => {
  const order = async (): Promise<string[]> =>
    (
      await database.db.query<{ id: string }[]>('SELECT id FROM leg WHERE run_id = $1 ORDER BY hand DESC, ordinal', [
        run,
      ])
    ).map(({ id }) => id);

  it('is changed by moving a leg before another, or behind all', async () => {
    const [a, b, c] = legs as [string, string, string];
    expect(await moveLeg(database.db, a, null)).toBe(true);
    expect(await order()).toEqual([b, c, a]);
    expect(await moveLeg(database.db, a, c)).toBe(true);
    expect(await order()).toEqual([b, a, c]);
    expect(await moveLeg(database.db, c, b)).toBe(true);
    expect(await order()).toEqual([c, b, a]);
    // What has begun is moved no more.
    await claimLeg(b, 'w');
    expect(await moveLeg(database.db, b, null)).toBe(false);
  });

  it('ends for held legs too when a run is stopped; a leg without a plan is not retried', async () => {
    const [a, b, c] = legs as [string, string, string];
    await holdLegs(database.db, { leg: b });
    await stopLegs(database.db, { run });
    expect(await Promise.all(legs.map(state))).toEqual(['stopped', 'stopped', 'stopped']);
    // Such as a clip that could not be planned when the run was begun.
    await database.db.query('UPDATE leg SET plan = NULL WHERE id = $1', [c]);
    expect(await retryLegs(database.db, database.boss, { run })).toBe(2);
    expect([await state(a), await state(b), await state(c)]).toEqual(['waiting', 'waiting', 'stopped']);
  });
});

describe('the queue', () => {
  it('hands legs out in their order, one that was begun before all others', async () => {
    await database.db.query('DELETE FROM pgboss.job');
    const many = Array.from({ length: 40 }, (_, n) => `leg-${String(n).padStart(2, '0')}`);
    await queueLegs(database.boss, many);
    await queueLegs(database.boss, ['begun'], true);
    const taken: string[] = [];
    for (let n = 0; n <= many.length; n += 1)
      taken.push(...(await database.boss.fetch<{ leg: string }>(legQueue)).map((job) => job.data.leg));
    expect(taken).toEqual(['begun', ...many]);
  });
});

describe('the relink sheet', () => {
  it('is written beside the outputs from what the database knows, whoever made them', async () => {
    const shuttle = join(database.home, 'shuttle');
    await mkdir(shuttle, { recursive: true });
    await database.stores.put('Shuttle', shuttle);
    const keeper = new SheetKeeper(database.db, database.stores, (error) => expect(error).toBeNull());
    for (const [index, leg] of legs.entries()) {
      await claimLeg(leg, 'w');
      await recordOutput(database.db, leg, row(`proxy/A001/C${index + 1}.mov`, `hash${index}`), placed());
    }
    keeper.add('shuttle', `out-${counter}`);
    await keeper.close();
    const sheet = JSON.parse(await readFile(join(shuttle, `out-${counter}`, 'relink.json'), 'utf8')) as {
      rows: RelinkRow[];
    };
    expect(sheet.rows.map((one) => one.outputXxh3)).toEqual(['hash0', 'hash1', 'hash2']);
  });
});

describe('what lies ahead of stores', () => {
  it('is counted store by store', async () => {
    await database.db.query(`UPDATE leg SET state = 'stopped'`);
    await database.db.query(
      `UPDATE leg SET state = 'waiting', bytes_by_store = '{"shuttle": 5, "raid": 7}' WHERE id = ANY($1)`,
      [legs.slice(0, 2)],
    );
    expect([...(await promisedBytes(database.db))].sort()).toEqual([
      ['raid', 14],
      ['shuttle', 10],
    ]);
  });
});

describe('slots that could help with a long leg', () => {
  it('are those of other machines that stand idle, or soon will; none while legs wait', async () => {
    await database.db.query(`UPDATE leg SET state = 'held' WHERE state = 'waiting'`);
    const [long, other, third] = legs as [string, string, string];
    const able = `('able', 'able', 'elsewhere', 1, '{shuttle,estuary}', NULL)`;
    await database.db.query(
      `INSERT INTO worker (name, title, host, slots, stores, codecs) VALUES ${able}, ('own', 'own', 'here', 4, '{shuttle,estuary}', NULL), ('far', 'far', 'elsewhere', 4, '{shuttle}', NULL), ('unable', 'unable', 'elsewhere', 4, '{shuttle,estuary}', '{av1}')`,
    );
    const idle = (): Promise<number> => idleSlots(database.db, long, 'here');
    const busy = (state: string, done: number): Promise<unknown> =>
      database.db.query(
        `UPDATE leg SET state = $2, worker = 'able', frames_total = 72, frames_done = $3 WHERE id = $1`,
        [other, state, done],
      );
    expect(await idle()).toBe(1);
    await busy('running', 10);
    expect(await idle()).toBe(0);
    await busy('running', 60);
    expect(await idle()).toBe(1);
    await busy('proving', 72);
    expect(await idle()).toBe(1);
    await database.db.query(`UPDATE leg SET state = 'waiting' WHERE id = $1`, [third]);
    expect(await idle()).toBe(0);
    await database.db.query(`UPDATE leg SET state = 'held' WHERE id = $1`, [third]);
    await database.db.query(
      `INSERT INTO segment (leg_id, place, first_frame, frames, tunings, state, worker) VALUES ($1, 0, 0, 9, '[]', 'running', 'able')`,
      [other],
    );
    expect(await idle()).toBe(0);
    await database.db.query(`DELETE FROM segment; DELETE FROM worker`);
  });
});
