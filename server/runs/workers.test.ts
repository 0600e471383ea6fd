import { appendFile, cp, mkdir, readdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { LegState } from '@relay/contract/states';
import { isRefusal } from '@relay/core/clip/description';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { cutInto } from '@relay/core/recipe/segments';
import { legBytesAtMost } from '@relay/core/size/forecast';
import { describeFile } from '@relay/media/describe/describe';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { call } from '../../testing/commands.ts';
import { startDatabase, type TestDatabase } from '../../testing/database.ts';
import { saltLantern } from '../../testing/demo.ts';
import { liveWorkers } from '../queue/roster.ts';
import { freeBytes } from '@relay/work/disk/place';
import { keepSetting } from '../site/settings.ts';
import { startWorker, type WorkerSettings } from '../worker.ts';
import { joinedCopyQueue } from '../queue/boss.ts';
import { runAnswer } from './queries.ts';
import { orderJoinedCopy, joinedCopyLines } from './joinedCopies.ts';
import { planClips, type ClipToRun } from './plans.ts';
import { standBackMs } from '../pace.ts';
import { claimForemost, workerName } from './claims.ts';
import { claimSegment, dealSegments, dropSegments, endSegment, segmentsOf } from './segmentClaims.ts';
import { segmentsWanted, type Helpers } from '@relay/work/leg/segments';
import { startRun, stopLegs } from './service.ts';

// So that clips of a few seconds are long.
vi.hoisted(() => {
  process.env.RELAY_SEGMENT_FRAMES = '10';
});

let database: TestDatabase;
let production: string;
let folder = 0;
let running: { close(): Promise<void> }[] = [];

/** One of the demo's clips several times over, in a store of its own, with another for outputs. */
beforeAll(async () => {
  database = await startDatabase();
  const cards = join(database.home, 'estuary/cards');
  await mkdir(cards, { recursive: true });
  await mkdir(join(database.home, 'shuttle'));
  for (let n = 1; n <= 4; n += 1) await cp(join(saltLantern, 'day-1/C001/C001C012.mov'), join(cards, `C00${n}.mov`));
  await database.stores.put('Estuary', join(database.home, 'estuary'));
  await database.stores.put('Shuttle', join(database.home, 'shuttle'));
  const [row] = await database.db.query<
    {
      id: string;
    }[]
  >(`INSERT INTO production (name) VALUES ('Salt Lantern') RETURNING id`);
  production = row?.id as string;
});
afterAll(() => database.close());
beforeEach(() => {
  folder += 1;
});
afterEach(async () => {
  await Promise.all(running.map((worker) => worker.close()));
  running = [];
  await keepSetting(database.db, 'quiet', null);
});

async function work(more: Partial<WorkerSettings> = {}): Promise<void> {
  running.push(
    await startWorker({
      databaseUrl: database.workerUrl,
      storesFile: database.storesFile,
      cacheFolder: join(database.home, 'cache'),
      slots: 1,
      title: 'one',
      codecs: null,
      legsOnly: true,
      ...more,
    }),
  );
}

/** Stores as another machine has them: a list of its own. */
async function storesFile(name: string, wanted: readonly string[]): Promise<string> {
  const file = join(database.home, `${name}.json`);
  const all = await database.stores.list();
  await writeFile(file, JSON.stringify(all.filter(({ id }) => wanted.includes(id))));
  return file;
}

async function clipsOf(count: number): Promise<ClipToRun[]> {
  const clips: ClipToRun[] = [];
  for (let n = 1; n <= count; n += 1) {
    const path = `C00${n}.mov`;
    const description = await describeFile(join(database.home, 'estuary/cards', path), path);
    if (isRefusal(description)) throw new Error(description.problem.what);
    const [clip] = (await database.db
      .query(
        `INSERT INTO clip (production_id, store_id, root, path, stem, roll, description, size_bytes) VALUES ($1, 'estuary', $2, $3, $4, 'C001', $5, $6) RETURNING id`,
        [production, 'cards', path, `C00${n}-${folder}`, JSON.stringify(description), description.sizeBytes],
      )
      .catch(async () =>
        database.db.query('SELECT id FROM clip WHERE production_id = $1 AND path = $2', [production, path]),
      )) as { id: string }[];
    clips.push({
      id: clip?.id as string,
      storeId: 'estuary',
      root: 'cards',
      path,
      description,
      reel: null,
      scene: null,
      take: null,
      camera: null,
      production: 'Salt Lantern',
      inForce: {},
      looked: true,
      findings: [],
      decisions: [],
    });
  }
  return clips;
}

const proxyOnly: Recipe = { ...finishAndCut, deliverables: finishAndCut.deliverables.slice(1) };

async function begin(count: number, recipe: Recipe = proxyOnly, store = 'shuttle'): Promise<string> {
  const clips = await clipsOf(count);
  return startRun(
    database.db,
    database.boss,
    { production, name: `Night ${folder}`, recipe, from: null, store, folder: `out-${folder}` },
    planClips(clips, recipe),
  );
}

interface LegNow {
  id: string;
  state: LegState;
  worker: string | null;
  attempts: number;
  problem: { what: string } | null;
}
const legsOf = async (run: string): Promise<LegNow[]> =>
  await database.db.query<LegNow[]>(
    'SELECT id, state, worker, attempts, problem FROM leg WHERE run_id = $1 ORDER BY ordinal',
    [run],
  );

async function until(what: string, holds: () => Promise<boolean>, seconds = 60): Promise<void> {
  const begun = Date.now();
  while (!(await holds())) {
    if (Date.now() - begun > seconds * 1000) throw new Error(`not ${what} within ${seconds} s`);
    await new Promise((resolve) => setTimeout(resolve, 150));
  }
}
const allAre = (run: string, state: LegState) => async (): Promise<boolean> =>
  (await legsOf(run)).every((leg) => leg.state === state);

describe('workers', () => {
  it('two share a run, and every output is made once', async () => {
    await work({ title: 'left' });
    await work({ title: 'right' });
    expect((await liveWorkers(database.db)).map(({ title }) => title).sort()).toEqual(['left', 'right']);
    const run = await begin(4);
    await until('proved', allAre(run, 'proved'), 120);
    const legs = await legsOf(run);
    expect(new Set(legs.map((leg) => leg.worker)).size).toBe(2);
    expect(legs.map((leg) => leg.attempts)).toEqual([1, 1, 1, 1]);
    const made = (await readdir(join(database.home, 'shuttle', `out-${folder}`, 'proxy'), { recursive: true })).filter(
      (name) => /\.mov$/.test(name) || name.includes('.relay-part'),
    );
    expect(made.sort()).toEqual(['C001.mov', 'C002.mov', 'C003.mov', 'C004.mov']);
  });

  it('take only what they have stores and codecs for; a run that nobody can take says what it lacks, and goes on when somebody can', async () => {
    await work({ title: 'no shuttle', storesFile: await storesFile('no-shuttle', ['estuary']) });
    const run = await begin(2, finishAndCut);
    await new Promise((resolve) => setTimeout(resolve, standBackMs * 1.4));
    expect((await legsOf(run)).map((leg) => [leg.state, leg.attempts])).toEqual([
      ['waiting', 0],
      ['waiting', 0],
    ]);
    expect((await runAnswer(database.db, run))?.lacks).toBe("The store shuttle is not there on any worker's machine");
    await work({ title: 'no ProRes', codecs: ['h264'] });
    await new Promise((resolve) => setTimeout(resolve, standBackMs * 1.4));
    expect(await allAre(run, 'waiting')()).toBe(true);
    expect((await runAnswer(database.db, run))?.lacks).toMatch(/^No worker has its stores and takes /);
    await work({ title: 'all' });
    await until('proved', allAre(run, 'proved'), 120);
    expect((await runAnswer(database.db, run))?.lacks).toBeNull();
  });

  it('begin nothing in quiet hours, and go on after them', async () => {
    const clock = (minutes: number): string => new Date(Date.now() + minutes * 60_000).toTimeString().slice(0, 5);
    await keepSetting(database.db, 'quiet', { from: clock(-60), until: clock(60) });
    await work();
    const run = await begin(1);
    await new Promise((resolve) => setTimeout(resolve, standBackMs * 1.4));
    expect(await allAre(run, 'waiting')()).toBe(true);
    await keepSetting(database.db, 'quiet', { from: clock(60), until: clock(120) });
    await until('proved', allAre(run, 'proved'));
  });
});

describe('a long leg', () => {
  const finishOnly: Recipe = { ...finishAndCut, deliverables: finishAndCut.deliverables.slice(0, 1) };
  const made = (): string => join(database.home, 'shuttle', `out-${folder}`, 'intermediate');
  const log = async (run: string): Promise<string> =>
    (await database.db.query<{ log: string }[]>('SELECT log FROM leg WHERE run_id = $1', [run]))[0]?.log ?? '';
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
    await work({ slots: 2 });
    const run = await begin(1, finishOnly);
    await until('proved', allAre(run, 'proved'));
    expect(await log(run)).not.toContain('segments');
    alone = await pictures();
  });

  it('is cut in segments where somebody does, made by both, joined, proved, and the same to the bit', async () => {
    await work({ title: 'left', host: 'left' });
    await work({ title: 'right', host: 'right' });
    const run = await begin(1, finishOnly);
    await until('proved', allAre(run, 'proved'));
    expect(await log(run)).toMatch(/cut in 3 segments[^]*made by 2 workers/);
    expect(await pictures()).toBe(alone);
    expect(await readdir(made())).toEqual(['C001.mov']);
    expect(await database.db.query('SELECT * FROM segment')).toEqual([]);
  });

  it('loses nothing when who helps is killed, or never was', async () => {
    await work({ title: 'left', host: 'left' });
    // Others that say that they are there, take a segment, and are never heard of again.
    await database.db.query(
      `INSERT INTO worker (name, title, host, slots, stores) VALUES ('ghost', 'ghost', 'elsewhere', 2, '{estuary,shuttle}')`,
    );
    const run = await begin(1, finishOnly);
    const ghosts = (): ReturnType<typeof claimSegment> =>
      claimSegment(database.db, 'ghost', 'elsewhere', { stores: null, codecs: null });
    await until('dealt', async () => (await ghosts()) !== null);
    // And one that it could not make.
    const second = await ghosts();
    if (!second) throw new Error('nothing was left for the ghost');
    expect(
      await endSegment(database.db, second.leg, second.place, 'ghost', { state: 'failed', problem: 'no room there' }),
    ).toBe(true);
    await until('proved', allAre(run, 'proved'), 90);
    expect(await log(run)).toMatch(/cut in 3 segments[^]*made by one worker/);
    expect(await pictures()).toBe(alone);
    await database.db.query(`DELETE FROM worker WHERE name = 'ghost'`);
  });

  it('is made whole after all where somebody took other frames than they should, and the log says so', async () => {
    await work({ title: 'left', host: 'left' });
    await database.db.query(
      `INSERT INTO worker (name, title, host, slots, stores) VALUES ('ghost', 'ghost', 'elsewhere', 1, '{estuary,shuttle}')`,
    );
    const run = await begin(1, finishOnly);
    await until('dealt', async () => {
      const taken = await claimSegment(database.db, 'ghost', 'elsewhere', { stores: null, codecs: null });
      return (
        taken !== null &&
        endSegment(database.db, taken.leg, taken.place, 'ghost', {
          state: 'done',
          parts: ['nowhere.mov'],
          seen: 'of another film',
        })
      );
    });
    await until('proved', allAre(run, 'proved'));
    await database.db.query(`DELETE FROM worker WHERE name = 'ghost'`);
    expect(await log(run)).toMatch(/made whole after all: segment 3 took other frames/);
    expect(await pictures()).toBe(alone);
    expect(await readdir(made())).toEqual(['C001.mov']);
  });

  it('is taken up by another when its own worker is killed; what helpers had made of it is cleared away', async () => {
    const run = await begin(1, finishOnly);
    const owner = workerName('gone', 1, 1);
    const leg = await claimForemost(database.db, owner);
    if (!leg) throw new Error('no leg waits');
    await dealSegments(database.db, leg.id, cutInto(leg.plan.original.video?.frames ?? 0, 3), [{ quantiser: 4 }]);
    await work({ title: 'right', host: 'right' });
    await until('helped', async () => (await segmentsOf(database.db, leg.id)).every((one) => one.state === 'done'));
    expect((await readdir(made())).filter((name) => name.startsWith('.relay-part'))).toHaveLength(3);
    await database.db.query(`UPDATE leg SET lease_until = now() - interval '1 second' WHERE id = $1`, [leg.id]);
    await until('proved', allAre(run, 'proved'));
    expect(await readdir(made())).toEqual(['C001.mov']);
    expect(await pictures()).toBe(alone);
    // And its own worker, were it only slow, would take nothing of the next one's away.
    await dealSegments(database.db, leg.id, cutInto(36, 3), []);
    expect(await dropSegments(database.db, leg.id, owner)).toEqual([]);
    expect(await segmentsOf(database.db, leg.id)).toHaveLength(3);
    await database.db.query('DELETE FROM segment');
  });

  it('is not cut where segments and outputs would not fit on the store together', async () => {
    const helpers = { idle: async () => 3 } as Helpers;
    const [planned] = planClips(await clipsOf(1), finishOnly);
    if (!planned?.plan.ok) throw new Error('no plan');
    const { value: plan } = planned.plan;
    const long = (frames: number): LegPlan => ({
      ...plan,
      original: { ...plan.original, video: plan.original.video && { ...plan.original.video, frames } },
      outputs: plan.outputs.map((output) => ({ ...output, video: { ...output.video, frames } })),
    });
    const free = await freeBytes(database.home);
    const framesThatFit = Math.floor((36 * free) / legBytesAtMost(long(36)));
    expect(await segmentsWanted(long(Math.floor(framesThatFit * 0.4)), helpers, { outRoot: database.home })).toBe(12);
    expect(await segmentsWanted(long(Math.floor(framesThatFit * 0.6)), helpers, { outRoot: database.home })).toBe(1);
  });

  it('stops with its helpers, and leaves nothing half-made', async () => {
    await work({ title: 'left', host: 'left' });
    await work({ title: 'right', host: 'right' });
    const run = await begin(1, finishOnly);
    await until('dealt', async () => (await database.db.query<unknown[]>('SELECT 1 FROM segment')).length > 0);
    await stopLegs(database.db, { run });
    await until('stopped', allAre(run, 'stopped'));
    await until('cleared up', async () => (await readdir(made()).catch(() => [])).length === 0, 15);
  });
});

describe('a joined copy', () => {
  it('joins what a run made into one file, its pictures those of its parts, each with a chapter; what is unlike, changed or there already is refused', async () => {
    await work({ legsOnly: false });
    const run = await begin(3);
    await until('proved', allAre(run, 'proved'), 120);
    const ordered = await orderJoinedCopy(database.db, run, 'Proxy');
    if (!ordered.ok) throw new Error(ordered.problem.what);
    await database.boss.send(joinedCopyQueue, { joinedCopy: ordered.value });
    const joined = async () => (await joinedCopyLines(database.db, run))[0];
    await until('joined', async () => !['waiting', 'running'].includes((await joined())?.state ?? ''));
    expect(await joined()).toMatchObject({
      state: 'proved',
      problem: null,
      parts: 3,
      path: `proxy/Night-${folder}-joined.mov`,
    });
    const at = join(database.home, 'shuttle', `out-${folder}`);
    const chapters = await call('ffprobe', [
      '-v',
      'error',
      '-show_chapters',
      '-show_entries',
      'chapter_tags=title:stream=nb_frames,codec_type',
      '-of',
      'json',
      join(at, `proxy/Night-${folder}-joined.mov`),
    ]);
    const read = JSON.parse(chapters.stdout) as {
      chapters: { tags: { title: string } }[];
      streams: { codec_type: string; nb_frames: string }[];
    };
    expect(read.chapters).toHaveLength(3);
    const one = (await clipsOf(1))[0]?.description.video?.frames ?? 0;
    expect(Number(read.streams.find((stream) => stream.codec_type === 'video')?.nb_frames)).toBe(3 * one);
    expect(await orderJoinedCopy(database.db, run, 'Proxy')).toMatchObject({
      ok: false,
      problem: { what: expect.stringContaining('is made already') as string },
    });
    expect(await orderJoinedCopy(database.db, run, 'Intermediate')).toMatchObject({ ok: false });

    // One whose worker was killed in the middle is joined by another, and what it left is cleared.
    folder += 1;
    const broken = await begin(2);
    await until('proved', allAre(broken, 'proved'), 120);
    const begun = await orderJoinedCopy(database.db, broken, 'Proxy');
    if (!begun.ok) throw new Error(begun.problem.what);
    const proxies = join(database.home, 'shuttle', `out-${folder}`, 'proxy');
    await writeFile(join(proxies, `.relay-part-reel.${begun.value}-abcd`), 'half');
    await database.db.query(`UPDATE reel SET state = 'running', beat_at = now() - interval '1 minute' WHERE id = $1`, [
      begun.value,
    ]);
    await until('joined by another', async () => (await joinedCopyLines(database.db, broken))[0]?.state === 'proved');
    expect((await readdir(proxies)).filter((name) => name.startsWith('.relay-part'))).toEqual([]);

    // A part that somebody changed is not joined, and nothing is left.
    folder += 1;
    const other = await begin(2);
    await until('proved', allAre(other, 'proved'), 120);
    await appendFile(join(database.home, 'shuttle', `out-${folder}`, 'proxy/C001.mov'), 'x');
    const again = await orderJoinedCopy(database.db, other, 'Proxy');
    if (!again.ok) throw new Error(again.problem.what);
    await database.db.query(
      "UPDATE reel SET path = $2, plan = jsonb_set(plan, '{path}', to_jsonb($2::text)) WHERE id = $1",
      [again.value, 'proxy/other-joined.mov'],
    );
    await database.boss.send(joinedCopyQueue, { joinedCopy: again.value });
    await until('refused', async () => (await joinedCopyLines(database.db, other))[0]?.state === 'failed');
    expect((await joinedCopyLines(database.db, other))[0]?.problem?.what).toContain('C001.mov is not what was proved');
    expect(
      (await readdir(join(at, 'proxy'))).filter((name) => name.includes('.relay-part') || name.startsWith('other')),
    ).toEqual([]);
  }, 240_000);
});

describe('faults', () => {
  it('a store that goes away in mid-run: its legs wait, nothing is written where it was, and they are made when it is back', async () => {
    await work();
    const run = await begin(2, finishAndCut);
    await until('running', async () => (await legsOf(run)).some((leg) => leg.state === 'running'));
    // An unmounted share leaves an empty folder where it was.
    await rename(join(database.home, 'shuttle'), join(database.home, 'away'));
    await mkdir(join(database.home, 'shuttle'));
    // What is under way holds its folder, wherever that lies now, and may end in it; what was not begun waits.
    await until(
      'left alone',
      async () =>
        (await runAnswer(database.db, run))?.lacks !== null &&
        (await legsOf(run)).every((leg) => leg.state === 'waiting' || leg.state === 'proved'),
      90,
    );
    expect((await legsOf(run)).some((leg) => leg.state === 'waiting')).toBe(true);
    expect(await readdir(join(database.home, 'shuttle'))).toEqual([]);
    await rm(join(database.home, 'shuttle'), { recursive: true });
    await rename(join(database.home, 'away'), join(database.home, 'shuttle'));
    await until('proved', allAre(run, 'proved'), 90);
    const left = (await readdir(join(database.home, 'shuttle', `out-${folder}`), { recursive: true })).filter((name) =>
      name.includes('.relay-part'),
    );
    expect(left).toEqual([]);
  });

  it('a disk that fills in mid-run: the leg fails and says so, nothing half-made is left, and it is made once there is room', async () => {
    const small = join(database.home, 'small');
    await mkdir(small);
    const mounted = (await call('mount', ['-t', 'tmpfs', '-o', 'size=200m', 'tmpfs', small])).code === 0;
    expect(mounted, 'a small disk could not be mounted: the tests run as root').toBe(true);
    try {
      await database.stores.put('Small', small);
      const run = await begin(1, finishAndCut, 'small');
      await work();
      // Something else fills the disk once the leg has seen that there is room, and writes.
      await until('under way', async () =>
        (await readdir(small, { recursive: true })).some((name) => name.includes('.relay-part')),
      );
      await appendFile(join(small, 'somebody-elses'), Buffer.alloc(210 << 20)).catch(() => undefined);
      await until('failed', allAre(run, 'failed'), 60);
      expect((await legsOf(run))[0]?.problem?.what).toMatch(/The disk is full/);
      expect((await readdir(small, { recursive: true })).filter((name) => /\.mov$|\.relay-part/.test(name))).toEqual(
        [],
      );
      await rm(join(small, 'somebody-elses'));
      await database.db.query(
        `UPDATE leg SET state = 'waiting', attempts = 0, queued_at = now() - interval '1 minute' WHERE run_id = $1`,
        [run],
      );
      await until('proved', allAre(run, 'proved'), 90);
    } finally {
      await Promise.all(running.map((worker) => worker.close()));
      running = [];
      await call('umount', ['-l', small]);
    }
  });

  it('a clock that is set back an hour: what a dead worker held is taken up within half a minute all the same', async () => {
    const run = await begin(1);
    // As the database would have it: all its times lie an hour ahead, and nobody renews the lease.
    await database.db.query(
      `UPDATE leg SET state = 'running', worker = 'elsewhere/1/dead', attempts = 1, lease_until = now() + interval '1 hour', queued_at = now() + interval '1 hour' WHERE run_id = $1`,
      [run],
    );
    await database.db.query(
      `UPDATE pgboss.job SET start_after = now() + interval '1 hour' WHERE name = 'leg' AND state = 'created'`,
    );
    const begun = Date.now();
    await work();
    await until(
      'taken up',
      async () => (await legsOf(run)).some((leg) => leg.worker !== 'elsewhere/1/dead' && leg.state !== 'waiting'),
      30,
    );
    expect(Date.now() - begun).toBeLessThan(30_000);
    await until('proved', allAre(run, 'proved'));
  });
});
