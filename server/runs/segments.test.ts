import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { cutInto } from '@relay/core/recipe/segments';
import { legBytesAtMost } from '@relay/core/size/forecast';
import { freeBytes } from '@relay/work/disk/place';
import { segmentsWanted, type Helpers } from '@relay/work/leg/segments';
import { describe, expect, it, vi } from 'vitest';
import { call } from '../../testing/commands.ts';
import { finishOnly, useNight } from '../../testing/night.ts';
import { until } from '../../testing/site.ts';
import { claimForemost, workerName } from './claims.ts';
import { planClips } from './plans.ts';
import { claimSegment, dealSegments, dropSegments, endSegment, segmentsOf } from './segmentClaims.ts';
import { stopLegs } from './service.ts';

// So that clips of a few seconds are long.
vi.hoisted(() => {
  process.env.RELAY_SEGMENT_FRAMES = '10';
});

const night = useNight();

describe('a long leg', () => {
  const made = (): string => join(night.database.home, 'shuttle', `out-${night.folder}`, 'intermediate');
  const pictures = async (): Promise<string> =>
    (
      await call('ffmpeg', [
        '-v',
        'error',
        '-i',
        join(made(), 'C001.mov'),
        '-map',
        '0:v',
        '-map',
        '0:a',
        '-f',
        'md5',
        '-',
      ])
    ).stdout;
  let alone = '';

  it('is made whole where nobody stands idle on another machine', async () => {
    await night.work({ slots: 2 });
    const run = await night.begin(1, finishOnly);
    await until('proved', night.allAre(run, 'proved'));
    expect(await night.logOf(run)).not.toContain('segments');
    alone = await pictures();
  });

  it('is cut in segments where somebody does, made by both, joined, proved, and the same to the bit', async () => {
    await night.work({ title: 'left', host: 'left' });
    await night.work({ title: 'right', host: 'right' });
    const run = await night.begin(1, finishOnly);
    await until('proved', night.allAre(run, 'proved'));
    expect(await night.logOf(run)).toMatch(/cut in 3 segments[^]*made by 2 workers/);
    expect(await pictures()).toBe(alone);
    expect(await readdir(made())).toEqual(['C001.mov']);
    expect(await night.database.db.query('SELECT * FROM segment')).toEqual([]);
  });

  it('loses nothing when who helps is killed, or never was', async () => {
    await night.work({ title: 'left', host: 'left' });
    // Others that say that they are there, take a segment, and are never heard of again.
    await night.database.db.query(
      `INSERT INTO worker (name, title, host, slots, stores) VALUES ('ghost', 'ghost', 'elsewhere', 2, '{estuary,shuttle}')`,
    );
    const run = await night.begin(1, finishOnly);
    const ghosts = (): ReturnType<typeof claimSegment> =>
      claimSegment(night.database.db, 'ghost', 'elsewhere', { stores: null, codecs: null });
    await until('dealt', async () => (await ghosts()) !== null);
    // And one that it could not make.
    const second = await ghosts();
    if (!second) throw new Error('nothing was left for the ghost');
    expect(
      await endSegment(night.database.db, second.leg, second.place, 'ghost', {
        state: 'failed',
        problem: 'no room there',
      }),
    ).toBe(true);
    await until('proved', night.allAre(run, 'proved'));
    expect(await night.logOf(run)).toMatch(/cut in 3 segments[^]*made by one worker/);
    expect(await pictures()).toBe(alone);
    await night.database.db.query(`DELETE FROM worker WHERE name = 'ghost'`);
  });

  it('is made whole after all where somebody took other frames than they should, and the log says so', async () => {
    await night.work({ title: 'left', host: 'left' });
    await night.database.db.query(
      `INSERT INTO worker (name, title, host, slots, stores) VALUES ('ghost', 'ghost', 'elsewhere', 1, '{estuary,shuttle}')`,
    );
    const run = await night.begin(1, finishOnly);
    await until('dealt', async () => {
      const taken = await claimSegment(night.database.db, 'ghost', 'elsewhere', { stores: null, codecs: null });
      return (
        taken !== null &&
        endSegment(night.database.db, taken.leg, taken.place, 'ghost', {
          state: 'done',
          parts: ['nowhere.mov'],
          seen: 'of another film',
        })
      );
    });
    await until('proved', night.allAre(run, 'proved'));
    await night.database.db.query(`DELETE FROM worker WHERE name = 'ghost'`);
    expect(await night.logOf(run)).toMatch(/made whole after all: segment 3 took other frames/);
    expect(await pictures()).toBe(alone);
    expect(await readdir(made())).toEqual(['C001.mov']);
  });

  it('is taken up by another when its own worker is killed; what helpers had made of it is cleared away', async () => {
    const run = await night.begin(1, finishOnly);
    const owner = workerName('gone', 1, 1);
    const leg = await claimForemost(night.database.db, owner);
    if (!leg) throw new Error('no leg waits');
    await dealSegments(night.database.db, leg.id, cutInto(leg.plan.original.video?.frames ?? 0, 3), [{ quantiser: 4 }]);
    await night.work({ title: 'right', host: 'right' });
    await until('helped', async () =>
      (await segmentsOf(night.database.db, leg.id)).every((one) => one.state === 'done'),
    );
    expect((await readdir(made())).filter((name) => name.startsWith('.relay-part'))).toHaveLength(3);
    await night.database.db.query(`UPDATE leg SET lease_until = now() - interval '1 second' WHERE id = $1`, [leg.id]);
    await until('proved', night.allAre(run, 'proved'));
    expect(await readdir(made())).toEqual(['C001.mov']);
    expect(await pictures()).toBe(alone);
    // And its own worker, were it only slow, would take nothing of the next one's away.
    await dealSegments(night.database.db, leg.id, cutInto(36, 3), []);
    expect(await dropSegments(night.database.db, leg.id, owner)).toEqual([]);
    expect(await segmentsOf(night.database.db, leg.id)).toHaveLength(3);
    await night.database.db.query('DELETE FROM segment');
  });

  it('is not cut where segments and outputs would not fit on the store together', async () => {
    const helpers = { idle: async () => 3 } as Helpers;
    const [planned] = planClips(await night.clipsOf(1), finishOnly);
    if (!planned?.plan.ok) throw new Error('no plan');
    const { value: plan } = planned.plan;
    const long = (frames: number): LegPlan => ({
      ...plan,
      original: { ...plan.original, video: plan.original.video && { ...plan.original.video, frames } },
      outputs: plan.outputs.map((output) => ({ ...output, video: { ...output.video, frames } })),
    });
    const free = await freeBytes(night.database.home);
    const framesThatFit = Math.floor((36 * free) / legBytesAtMost(long(36)));
    expect(await segmentsWanted(long(Math.floor(framesThatFit * 0.4)), helpers, { outRoot: night.database.home })).toBe(
      12,
    );
    expect(await segmentsWanted(long(Math.floor(framesThatFit * 0.6)), helpers, { outRoot: night.database.home })).toBe(
      1,
    );
  });

  it('stops with its helpers, and leaves nothing half-made', async () => {
    await night.work({ title: 'left', host: 'left' });
    await night.work({ title: 'right', host: 'right' });
    const run = await night.begin(1, finishOnly);
    await until('dealt', async () => (await night.database.db.query<unknown[]>('SELECT 1 FROM segment')).length > 0);
    await stopLegs(night.database.db, { run });
    await until('stopped', night.allAre(run, 'stopped'));
    await until('cleared up', async () => (await readdir(made()).catch(() => [])).length === 0);
  });
});
