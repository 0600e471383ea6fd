import { appendFile, mkdir, readdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { describe, expect, it } from 'vitest';
import { call } from '../../testing/commands.ts';
import { useNight } from '../../testing/night.ts';
import { until } from '../../testing/site.ts';
import { standBackMs } from '../pace.ts';
import { joinedCopyQueue } from '../queue/boss.ts';
import { liveWorkers } from '../queue/roster.ts';
import { keepSetting } from '../site/settings.ts';
import { joinedCopyLines, orderJoinedCopy } from './joinedCopies.ts';
import { runAnswer } from './queries.ts';

const night = useNight();

describe('workers', () => {
  it('two share a run, and every output is made once', async () => {
    await night.work({ title: 'left' });
    await night.work({ title: 'right' });
    expect((await liveWorkers(night.database.db)).map(({ title }) => title).sort()).toEqual(['left', 'right']);
    const run = await night.begin(4);
    await until('proved', night.allAre(run, 'proved'));
    const legs = await night.legsOf(run);
    expect(new Set(legs.map((leg) => leg.worker)).size).toBe(2);
    expect(legs.map((leg) => leg.attempts)).toEqual([1, 1, 1, 1]);
    const made = (
      await readdir(join(night.database.home, 'shuttle', `out-${night.folder}`, 'proxy'), { recursive: true })
    ).filter((name) => /\.mov$/.test(name) || name.includes('.relay-part'));
    expect(made.sort()).toEqual(['C001.mov', 'C002.mov', 'C003.mov', 'C004.mov']);
  });

  it('take only what they have stores and codecs for; a run that nobody can take says what it lacks, and goes on when somebody can', async () => {
    await night.work({ title: 'no shuttle', storesFile: await night.storesFile('no-shuttle', ['estuary']) });
    const run = await night.begin(2, finishAndCut);
    await new Promise((resolve) => setTimeout(resolve, standBackMs * 1.4));
    expect((await night.legsOf(run)).map((leg) => [leg.state, leg.attempts])).toEqual([
      ['waiting', 0],
      ['waiting', 0],
    ]);
    const lacks = async () => (await runAnswer(night.database.db, run))?.lacks ?? null;
    // A busy machine's worker may not have been here yet.
    await until('said', async () => (await lacks()) !== null);
    expect(await lacks()).toBe("The store shuttle is not there on any worker's machine");
    await night.work({ title: 'no ProRes', codecs: ['h264'] });
    await until('said anew', async () => !(await lacks())?.startsWith('The store shuttle'));
    expect(await night.allAre(run, 'waiting')()).toBe(true);
    expect(await lacks()).toMatch(/^No worker has its stores and takes /);
    await night.work({ title: 'all' });
    await until('proved', night.allAre(run, 'proved'));
    expect((await runAnswer(night.database.db, run))?.lacks).toBeNull();
  });

  it('begin nothing in quiet hours, and go on after them', async () => {
    const clock = (minutes: number): string => new Date(Date.now() + minutes * 60_000).toTimeString().slice(0, 5);
    await keepSetting(night.database.db, 'quiet', { from: clock(-60), until: clock(60) });
    await night.work();
    const run = await night.begin(1);
    await new Promise((resolve) => setTimeout(resolve, standBackMs * 1.4));
    expect(await night.allAre(run, 'waiting')()).toBe(true);
    await keepSetting(night.database.db, 'quiet', { from: clock(60), until: clock(120) });
    await until('proved', night.allAre(run, 'proved'));
  });
});

describe('a joined copy', () => {
  it('joins what a run made into one file, its pictures those of its parts, each with a chapter; what is unlike, changed or there already is refused', async () => {
    await night.work({ legsOnly: false });
    const run = await night.begin(3);
    await until('proved', night.allAre(run, 'proved'));
    const ordered = await orderJoinedCopy(night.database.db, run, 'Proxy');
    if (!ordered.ok) throw new Error(ordered.problem.what);
    await night.database.boss.send(joinedCopyQueue, { joinedCopy: ordered.value });
    const joined = async () => (await joinedCopyLines(night.database.db, run))[0];
    await until('joined', async () => !['waiting', 'running'].includes((await joined())?.state ?? ''));
    expect(await joined()).toMatchObject({
      state: 'proved',
      problem: null,
      parts: 3,
      path: `proxy/Night-${night.folder}-joined.mov`,
    });
    const at = join(night.database.home, 'shuttle', `out-${night.folder}`);
    const chapters = await call('ffprobe', [
      '-v',
      'error',
      '-show_chapters',
      '-show_entries',
      'chapter_tags=title:stream=nb_frames,codec_type',
      '-of',
      'json',
      join(at, `proxy/Night-${night.folder}-joined.mov`),
    ]);
    const read = JSON.parse(chapters.stdout) as {
      chapters: { tags: { title: string } }[];
      streams: { codec_type: string; nb_frames: string }[];
    };
    expect(read.chapters).toHaveLength(3);
    const one = (await night.clipsOf(1))[0]?.description.video?.frames ?? 0;
    expect(Number(read.streams.find((stream) => stream.codec_type === 'video')?.nb_frames)).toBe(3 * one);
    expect(await orderJoinedCopy(night.database.db, run, 'Proxy')).toMatchObject({
      ok: false,
      problem: { what: expect.stringContaining('is made already') as string },
    });
    expect(await orderJoinedCopy(night.database.db, run, 'Intermediate')).toMatchObject({ ok: false });

    // One whose worker was killed in the middle is joined by another, and what it left is cleared.
    night.folder += 1;
    const broken = await night.begin(2);
    await until('proved', night.allAre(broken, 'proved'));
    const begun = await orderJoinedCopy(night.database.db, broken, 'Proxy');
    if (!begun.ok) throw new Error(begun.problem.what);
    const proxies = join(night.database.home, 'shuttle', `out-${night.folder}`, 'proxy');
    await writeFile(join(proxies, `.relay-part-reel.${begun.value}-abcd`), 'half');
    await night.database.db.query(
      `UPDATE reel SET state = 'running', beat_at = now() - interval '1 minute' WHERE id = $1`,
      [begun.value],
    );
    await until(
      'joined by another',
      async () => (await joinedCopyLines(night.database.db, broken))[0]?.state === 'proved',
    );
    expect((await readdir(proxies)).filter((name) => name.startsWith('.relay-part'))).toEqual([]);

    // A part that somebody changed is not joined, and nothing is left.
    night.folder += 1;
    const other = await night.begin(2);
    await until('proved', night.allAre(other, 'proved'));
    await appendFile(join(night.database.home, 'shuttle', `out-${night.folder}`, 'proxy/C001.mov'), 'x');
    const again = await orderJoinedCopy(night.database.db, other, 'Proxy');
    if (!again.ok) throw new Error(again.problem.what);
    await night.database.db.query(
      "UPDATE reel SET path = $2, plan = jsonb_set(plan, '{path}', to_jsonb($2::text)) WHERE id = $1",
      [again.value, 'proxy/other-joined.mov'],
    );
    await night.database.boss.send(joinedCopyQueue, { joinedCopy: again.value });
    await until('refused', async () => (await joinedCopyLines(night.database.db, other))[0]?.state === 'failed');
    expect((await joinedCopyLines(night.database.db, other))[0]?.problem?.what).toContain(
      'C001.mov is not what was proved',
    );
    expect(
      (await readdir(join(at, 'proxy'))).filter((name) => name.includes('.relay-part') || name.startsWith('other')),
    ).toEqual([]);
  });
});

describe('faults', () => {
  it('a store that goes away in mid-run: its legs wait, nothing is written where it was, and they are made when it is back', async () => {
    await night.work();
    const run = await night.begin(2, finishAndCut);
    await until('running', async () => (await night.legsOf(run)).some((leg) => leg.state === 'running'));
    // An unmounted share leaves an empty folder where it was.
    const back = async (): Promise<void> => {
      await rm(join(night.database.home, 'shuttle'), { recursive: true });
      await rename(join(night.database.home, 'away'), join(night.database.home, 'shuttle'));
    };
    await rename(join(night.database.home, 'shuttle'), join(night.database.home, 'away'));
    await mkdir(join(night.database.home, 'shuttle'));
    // What is under way holds its folder, wherever that lies now, and may end in it; what was not begun waits.
    try {
      await until(
        'left alone',
        async () =>
          (await runAnswer(night.database.db, run))?.lacks !== null &&
          (await night.legsOf(run)).every((leg) => leg.state === 'waiting' || leg.state === 'proved'),
      );
      expect((await night.legsOf(run)).some((leg) => leg.state === 'waiting')).toBe(true);
      expect(await readdir(join(night.database.home, 'shuttle'))).toEqual([]);
    } finally {
      await back();
    }
    await until('proved', night.allAre(run, 'proved'));
    const left = (
      await readdir(join(night.database.home, 'shuttle', `out-${night.folder}`), { recursive: true })
    ).filter((name) => name.includes('.relay-part'));
    expect(left).toEqual([]);
  });

  it('a disk that fills in mid-run: the leg fails and says so, nothing half-made is left, and it is made once there is room', async () => {
    const small = join(night.database.home, 'small');
    await mkdir(small);
    const mounted = (await call('mount', ['-t', 'tmpfs', '-o', 'size=200m', 'tmpfs', small])).code === 0;
    expect(mounted, 'a small disk could not be mounted: the tests run as root').toBe(true);
    try {
      await night.database.stores.put('Small', small);
      const run = await night.begin(1, finishAndCut, 'small');
      await night.work();
      // Something else fills the disk once the leg has seen that there is room, and writes.
      await until('under way', async () =>
        (await readdir(small, { recursive: true })).some((name) => name.includes('.relay-part')),
      );
      await appendFile(join(small, 'somebody-elses'), Buffer.alloc(210 << 20)).catch(() => undefined);
      await until('failed', night.allAre(run, 'failed'));
      expect((await night.legsOf(run))[0]?.problem?.what).toMatch(/The disk is full/);
      expect((await readdir(small, { recursive: true })).filter((name) => /\.mov$|\.relay-part/.test(name))).toEqual(
        [],
      );
      await rm(join(small, 'somebody-elses'));
      await night.database.db.query(
        `UPDATE leg SET state = 'waiting', attempts = 0, queued_at = now() - interval '1 minute' WHERE run_id = $1`,
        [run],
      );
      await until('proved', night.allAre(run, 'proved'));
    } finally {
      await night.over();
      await call('umount', ['-l', small]);
    }
  });

  it('a clock that is set back an hour: what a dead worker held is taken up within half a minute all the same', async () => {
    const run = await night.begin(1);
    // As the database would have it: all its times lie an hour ahead, and nobody renews the lease.
    await night.database.db.query(
      `UPDATE leg SET state = 'running', worker = 'elsewhere/1/dead', attempts = 1, lease_until = now() + interval '1 hour', queued_at = now() + interval '1 hour' WHERE run_id = $1`,
      [run],
    );
    await night.database.db.query(
      `UPDATE pgboss.job SET start_after = now() + interval '1 hour' WHERE name = 'leg' AND state = 'created'`,
    );
    const begun = Date.now();
    await night.work();
    await until('taken up', async () =>
      (await night.legsOf(run)).some((leg) => leg.worker !== 'elsewhere/1/dead' && leg.state !== 'waiting'),
    );
    expect(Date.now() - begun).toBeLessThan(30_000);
    await until('proved', night.allAre(run, 'proved'));
  });
});
