import type { RelinkRow } from '@relay/core/relink/sheet';
import { withPlaces } from '@relay/core/recipe/places';
import { finishAndCut, type Deliverable, type Recipe } from '@relay/core/recipe/recipe';
import { mkdir, readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { call } from '../../testing/commands.ts';
import { finishOnly, useNight } from '../../testing/night.ts';
import { until } from '../../testing/site.ts';
import { joinedCopyQueue } from '../queue/boss.ts';
import { claimForemost, workerName } from './claims.ts';
import { joinedCopyLines, orderJoinedCopy } from './joinedCopies.ts';
import { runAnswer } from './queries.ts';
import { retryLegs } from './service.ts';

// So that clips of a few seconds are long.
vi.hoisted(() => {
  process.env.RELAY_SEGMENT_FRAMES = '10';
});

const night = useNight();
/** Intermediates go to the shuttle with the run, proxies to a drive of their own. */
let parted: Recipe;

beforeAll(async () => {
  const drive = join(night.database.home, 'drive');
  await mkdir(drive);
  await night.database.stores.put('Drive', drive);
});
beforeEach(() => {
  const own = { store: 'shuttle', folder: `out-${night.folder}` };
  parted = withPlaces(finishAndCut, own, { proxy: { store: 'drive', folder: `cut-${night.folder}` } });
});

const onShuttle = (...path: string[]): string => join(night.database.home, 'shuttle', `out-${night.folder}`, ...path);
const onDrive = (...path: string[]): string => join(night.database.home, 'drive', `cut-${night.folder}`, ...path);
const outputsIn = async (folder: string): Promise<string[]> =>
  (
    JSON.parse(await readFile(join(folder, 'relink.json'), 'utf8').catch(() => '{"rows":[]}')) as { rows: RelinkRow[] }
  ).rows.map(({ output }) => output);

describe('a run whose deliverables go to two places', () => {
  it('is made in segments by two workers, each output whole in its place, with a sheet beside each', async () => {
    const [first] = finishOnly.deliverables;
    if (!first) throw new Error('no deliverable');
    // Of codecs whose pictures are each whole: others are not cut.
    const light: Deliverable = { ...first, name: 'Light', folder: 'light', codec: { id: 'prores', profile: 'proxy' } };
    const place = { store: 'drive', folder: `cut-${night.folder}` };
    await night.work({ title: 'left', host: 'left' });
    await night.work({ title: 'right', host: 'right' });
    const run = await night.begin(1, { ...finishOnly, deliverables: [first, { ...light, place }] });
    await until('proved', night.allAre(run, 'proved'));
    expect(await night.logOf(run)).toMatch(/cut in 3 segments[^]*made by 2 workers/);
    expect(await readdir(onShuttle('intermediate'))).toEqual(['C001.mov']);
    expect(await readdir(onDrive('light'))).toEqual(['C001.mov']);
    await until(
      'both sheets',
      async () => (await outputsIn(onShuttle())).length + (await outputsIn(onDrive())).length > 1,
    );
    expect([await outputsIn(onShuttle()), await outputsIn(onDrive())]).toEqual([
      ['intermediate/C001.mov'],
      ['light/C001.mov'],
    ]);
  });

  it('waits for the store of either, and says which it lacks', async () => {
    await night.work({ title: 'no drive', storesFile: await night.storesFile('no-drive', ['estuary', 'shuttle']) });
    const run = await night.begin(1, parted);
    await until('said', async () => (await runAnswer(night.database.db, run))?.lacks !== null);
    expect((await runAnswer(night.database.db, run))?.lacks).toBe(
      "The store drive is not there on any worker's machine",
    );
    expect((await night.legsOf(run)).map(({ state, attempts }) => [state, attempts])).toEqual([['waiting', 0]]);
    await night.work({ title: 'all' });
    await until('proved', night.allAre(run, 'proved'));
  });

  it('has what a killed worker left cleared in both, when its leg is ended and nobody takes it up', async () => {
    const run = await night.begin(1, parted);
    const leg = await claimForemost(night.database.db, workerName('gone', 1, 1));
    if (!leg) throw new Error('no leg waits');
    await mkdir(onShuttle('intermediate'), { recursive: true });
    await mkdir(onDrive('proxy'), { recursive: true });
    await writeFile(onShuttle('intermediate', `.relay-part-${leg.id}-abcd`), 'half');
    await writeFile(onDrive('proxy', `.relay-part-${leg.id}-efgh`), 'half');
    await night.database.db.query(
      `UPDATE leg SET stop_wanted = true, lease_until = now() - interval '1 second' WHERE id = $1`,
      [leg.id],
    );
    await night.work();
    await until('stopped', night.allAre(run, 'stopped'));
    await until(
      'cleared',
      async () => (await readdir(onShuttle('intermediate'))).length + (await readdir(onDrive('proxy'))).length === 0,
    );
  });

  it('is joined beside its parts', async () => {
    await night.work({ legsOnly: false });
    const run = await night.begin(2, parted);
    await until('proved', night.allAre(run, 'proved'));
    const ordered = await orderJoinedCopy(night.database.db, run, 'Proxy');
    if (!ordered.ok) throw new Error(ordered.problem.what);
    await night.database.boss.send(joinedCopyQueue, { joinedCopy: ordered.value });
    await until('joined', async () => (await joinedCopyLines(night.database.db, run))[0]?.state === 'proved');
    expect((await readdir(onDrive('proxy'))).sort()).toEqual([
      'C001.mov',
      'C002.mov',
      `Night-${night.folder}-joined.mov`,
    ]);
  });

  it('fails where one of the disks is too small, says for what, leaves nothing half-made on the other, and is made once there is room', async () => {
    const small = join(night.database.home, 'small');
    await mkdir(small);
    const mounted = (await call('mount', ['-t', 'tmpfs', '-o', 'size=256k', 'tmpfs', small])).code === 0;
    expect(mounted, 'a small disk could not be mounted: the tests run as root').toBe(true);
    try {
      await night.database.stores.put('Small', small);
      const own = { store: 'shuttle', folder: `out-${night.folder}` };
      const onSmall = withPlaces(finishAndCut, own, { proxy: { store: 'small', folder: 'cut' } });
      await night.work();
      const run = await night.begin(1, onSmall);
      await until('failed', night.allAre(run, 'failed'));
      expect((await night.legsOf(run))[0]?.problem?.what).toMatch(
        /^Too little space for C001\.mov: it may need .*, .* are free for Proxy$/,
      );
      expect(await readdir(onShuttle(), { recursive: true }).catch(() => [])).not.toContain('intermediate/C001.mov');
      expect((await readdir(onShuttle(), { recursive: true })).filter((name) => name.includes('.relay-part'))).toEqual(
        [],
      );
      await call('mount', ['-o', 'remount,size=200m', small]);
      await retryLegs(night.database.db, night.database.boss, { run });
      await until('proved', night.allAre(run, 'proved'));
      expect(await readdir(join(small, 'cut/proxy'))).toEqual(['C001.mov']);
    } finally {
      await night.over();
      await call('umount', ['-l', small]);
    }
  });
});
