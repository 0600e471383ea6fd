import { appendFile, mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { HandoffChoice, HandoffOrder } from '@relay/contract/handoffs';
import { finishAndCut, type Deliverable, type Recipe } from '@relay/core/recipe/recipe';
import type { RelinkRow } from '@relay/core/relink/sheet';
import { verifyFolder } from '@relay/work/custody/verify';
import { hashFile } from '@relay/work/disk/hash';
import type { Store } from '@relay/work/disk/store';
import { beforeAll, describe, expect, it } from 'vitest';
import { proxyOnly, useNight } from '../../testing/night.ts';
import { until } from '../../testing/site.ts';
import type { Tools } from '../desk/tools.ts';
import { sayLook } from '../checks/looks.ts';
import { outputsOfRun } from '../../testing/outputsOfRun.ts';
import { handoff } from '../db/entities/handoffs.ts';
import { handoffQueue } from '../queue/boss.ts';
import type { Context } from '../context.ts';
import { Roots } from '../stores/roots.ts';
import { knowDrive, returnedDrives } from './drives.ts';
import { checkHandoff } from './check.ts';
import { holdingsOf } from './holds.ts';
import { orderHandoff } from './order.ts';
import { handedAnswer, handoffChoices, resumeHandoff } from './queries.ts';

const night = useNight();
let drive = '';
beforeAll(async () => {
  drive = join(night.database.home, 'drive');
  await mkdir(drive);
  await night.database.stores.put('Drive', drive);
});

const everything: HandoffChoice = {
  runs: [],
  roles: [],
  deliverables: [],
  rolls: [],
  days: [],
  circled: false,
  filter: '',
  cut: null,
  originals: false,
};
const tools = (): Tools => ({ ...night.database, signal: new AbortController().signal });
function orderOf(receiver: string, folder: string, choice: Partial<HandoffChoice> = {}): HandoffOrder {
  return {
    name: `For ${receiver}`,
    receiver,
    fileSystem: 'exfat',
    roots: { windows: 'E:\\' },
    choice: { ...everything, ...choice },
    to: { store: 'drive', folder },
  };
}
const check = (of: HandoffOrder) => {
  const { receiver, fileSystem, choice, to } = of;
  return checkHandoff(tools(), night.production, { receiver, fileSystem, choice, to });
};
const order = (of: HandoffOrder) => orderHandoff(tools(), night.production, of, 'assistant');
const answer = (id: string) => handedAnswer(night.database, id);
const ends = (id: string, state: 'proved' | 'failed') => until(state, async () => (await answer(id)).state === state);
const made = async (run: string): Promise<void> => {
  await until('made', night.allAre(run, 'proved'));
};
const outFolder = (): string => join(night.database.home, 'shuttle', `out-${night.folder}`);

describe('hand-offs', () => {
  it('show what they come to, are copied and proved; the next time only what is new or changed is sent', async () => {
    await night.work({ legsOnly: false });
    const run = await night.begin(2, finishAndCut);
    await made(run);
    const first = await check(orderOf('The edit', 'edit'));
    expect(first).toMatchObject({
      outputs: 4,
      files: 4,
      held: 0,
      place: null,
      notProvedCount: 0,
      hindranceCount: 0,
      pairs: { count: 2, swap: 2, roots: { low: 'proxy', high: 'intermediate' } },
    });
    expect(first.freeBytes).toBeGreaterThan(first.bytes);
    expect(await handoffChoices(night.database, night.production)).toMatchObject({
      roles: ['intermediate', 'proxy'],
      rolls: ['C001'],
      receivers: [],
    });
    const sent = await order(orderOf('The edit', 'edit'));
    await ends(sent, 'proved');
    const at = join(drive, 'edit');
    expect(await verifyFolder(at, { record: false })).toMatchObject({ verified: true, files: 8 });
    expect((await answer(sent)).exchange).toEqual([{ system: 'Windows', low: 'E:\\proxy', high: 'E:\\intermediate' }]);
    expect((await answer(sent)).items.every(({ came }) => came)).toBe(true);
    await expect(order(orderOf('the EDIT', 'edit'))).rejects.toMatchObject({
      problem: { what: 'the EDIT holds all of it already' },
    });

    // A third clip, and a proxy that was made anew.
    const more = await night.begin(3, finishAndCut);
    await made(more);
    const proxy = join(outFolder(), 'proxy/C001.mov');
    await appendFile(proxy, 'anew');
    await night.database.db.query(
      `UPDATE output SET xxh3 = $1, size_bytes = size_bytes + 4 WHERE path = 'proxy/C001.mov' AND folder = $2`,
      [await hashFile(proxy), `out-${night.folder}`],
    );
    const next = await check(orderOf('The edit', 'edit'));
    expect(next).toMatchObject({ outputs: 3, held: 3, replaced: ['proxy/C001.mov'], toDelete: [] });
    const second = await order(orderOf('The edit', 'edit'));
    await ends(second, 'proved');
    expect(await hashFile(join(at, 'proxy/C001.mov'))).toBe(await hashFile(proxy));
    // The sheet there tells of all that is there.
    const { rows } = JSON.parse(await readFile(join(at, 'relink.json'), 'utf8')) as { rows: RelinkRow[] };
    expect(rows.map(({ output }) => output)).toEqual(
      ['intermediate', 'proxy'].flatMap((role) => [1, 2, 3].map((n) => `${role}/C00${n}.mov`)),
    );
    expect(await readFile(join(at, 'READ ME.txt'), 'utf8')).toContain(
      'REPLACED SINCE THE LAST TIME\r\n  proxy/C001.mov',
    );
    expect(await verifyFolder(at, { record: false })).toMatchObject({ verified: true, files: 10 });
    // A drive that was lost holds nothing: what was on it goes again.
    await night.database.db.manager.update(handoff, { id: second }, { lostAt: new Date() });
    expect(await check(orderOf('The edit', 'edit'))).toMatchObject({ outputs: 3, replaced: ['proxy/C001.mov'] });
    expect(await holdingsOf(night.database.db, night.production)).toMatchObject({
      receivers: [{ clips: { C001: 2 } }],
    });
    await night.database.db.manager.update(handoff, { id: second }, { lostAt: null });
    expect(await holdingsOf(night.database.db, night.production)).toMatchObject({
      rolls: [{ name: 'C001', clips: 3 }],
      receivers: [{ name: 'The edit', handoffs: 2, clips: { C001: 3 } }],
    });
    // Somebody else holds nothing yet, and may take proxies alone.
    expect(await check(orderOf('The client', 'client', { roles: ['proxy'] }))).toMatchObject({ outputs: 3, held: 0 });
  });

  it('take what was chosen: runs, rolls, circled takes, a filter, originals; never what was sent back', async () => {
    await night.work({ legsOnly: false });
    const run = await night.begin(2);
    await made(run);
    const { db } = night.database;
    const of = (choice: Partial<HandoffChoice>) => check(orderOf('Others', 'others', { runs: [run], ...choice }));
    expect(await of({})).toMatchObject({ outputs: 2 });
    expect(await of({ deliverables: ['Proxy'] })).toMatchObject({ outputs: 2 });
    expect(await of({ deliverables: ['Intermediate'] })).toMatchObject({ outputs: 0 });
    expect(await of({ rolls: ['A009'] })).toMatchObject({ outputs: 0 });
    expect(await of({ circled: true })).toMatchObject({ outputs: 0 });
    await db.query(`UPDATE clip SET said = '{"circled": true}', search = 'gulls' WHERE path = 'C002.mov'`);
    expect(await of({ circled: true })).toMatchObject({ outputs: 1 });
    expect(await of({ filter: 'gulls' })).toMatchObject({ outputs: 1 });
    expect(await of({ originals: true, circled: true })).toMatchObject({ outputs: 1, originals: 1, files: 2 });
    const [first = ''] = await outputsOfRun(db, run);
    await sayLook(db, first, { verdict: 'sent back', note: 'soft', frame: null }, 'assistant');
    expect(await of({})).toMatchObject({ outputs: 1 });
    const sent = await order(orderOf('Others', 'others', { runs: [run], originals: true }));
    await ends(sent, 'proved');
    expect((await answer(sent)).items.map(({ path, kind }) => [path, kind])).toEqual([
      ['originals/cards/C002.mov', 'original'],
      ['proxy/C002.mov', 'output'],
    ]);
  });

  it('go to two receivers at once, but not to one folder', async () => {
    await night.work({ legsOnly: false });
    const run = await night.begin(1);
    await made(run);
    await night.over();
    const one = await order(orderOf('One', 'one', { runs: [run] }));
    const two = await order(orderOf('Two', 'two', { runs: [run] }));
    await expect(order(orderOf('Three', 'two', { runs: [run] }))).rejects.toMatchObject({
      problem: { what: 'For Two is being copied to this folder' },
    });
    await expect(
      order({ ...orderOf('Three', '', { runs: [run] }), to: { store: 'shuttle', folder: `out-${night.folder}` } }),
    ).rejects.toMatchObject({ problem: { what: expect.stringContaining('is where the outputs lie') as string } });
    // One that failed does not go on while another is copied to its folder; nor do two begin at once.
    const { manager } = night.database.db;
    await manager.update(handoff, { id: one }, { state: 'failed' });
    const [first, second] = await Promise.allSettled([
      order(orderOf('Four', 'one', { runs: [run] })),
      order(orderOf('Five', 'one', { runs: [run] })),
    ]);
    const begun = [first, second].flatMap((each) => (each.status === 'fulfilled' ? [each.value] : []));
    expect(begun).toHaveLength(1);
    await expect(resumeHandoff(night.database, one)).rejects.toMatchObject({
      problem: { what: 'Another hand-off is being copied to this folder' },
    });
    await manager.delete(handoff, { id: begun[0] as string });
    await resumeHandoff(night.database, one);
    await night.work({ legsOnly: false });
    await Promise.all([ends(one, 'proved'), ends(two, 'proved')]);
    for (const folder of ['one', 'two'])
      expect(await verifyFolder(join(drive, folder), { record: false })).toMatchObject({ verified: true });
  });

  it('name an output that was deleted by hand, and go on once it is back; a dead worker is taken over from', async () => {
    await night.work({ legsOnly: false });
    const run = await night.begin(2);
    await made(run);
    const lost = join(outFolder(), 'proxy/C001.mov');
    await rename(lost, `${lost}.away`);
    const sent = await order(orderOf('Later', 'later', { runs: [run] }));
    await ends(sent, 'failed');
    const half = await answer(sent);
    expect(half.problems.map(({ what }) => what)).toEqual(['proxy/C001.mov is not where it was made (any more)']);
    expect(half.items.map(({ came }) => came)).toEqual([false, true]);
    await rename(`${lost}.away`, lost);
    await night.over();
    await resumeHandoff(night.database, sent);
    // As a worker that was killed leaves it.
    const gone = new Date(Date.now() - 3_600_000);
    await night.database.db.manager.update(
      handoff,
      { id: sent },
      { state: 'copying', worker: 'x/1/dead', beatAt: gone },
    );
    await night.database.boss.deleteQueue(handoffQueue).catch(() => undefined);
    await night.database.boss.createQueue(handoffQueue);
    await night.work({ legsOnly: false });
    await ends(sent, 'proved');
    expect((await answer(sent)).items.every(({ came }) => came)).toBe(true);
  });

  it('come back: what was sent is held against its manifest, and what was not is told apart', async () => {
    await night.work({ legsOnly: false });
    const run = await night.begin(1);
    await made(run);
    const sent = await order(orderOf('The edit', 'back', { runs: [run] }));
    await ends(sent, 'proved');
    const { db, boss } = night.database;
    const again = async () => {
      await db.query('UPDATE handoff SET verify_wanted = now() WHERE id = $1', [sent]);
      await boss.send(handoffQueue, { handoff: sent, verify: true });
      await until('looked at', async () => !(await answer(sent)).verifying);
      return (await answer(sent)).returned;
    };
    expect(await again()).toMatchObject({ verified: true, same: 5, more: [], markedFor: null });
    const at = join(drive, 'back');
    await mkdir(join(at, 'project'));
    for (const path of ['project/salt.prj', 'locked v2.edl', 'new.MOV']) await appendFile(join(at, path), 'x');
    await appendFile(join(at, 'proxy/C001.mov'), 'x');
    expect(await again()).toMatchObject({
      verified: false,
      changed: [{ path: 'proxy/C001.mov' }],
      more: [
        { path: 'locked v2.edl', kind: 'edit list' },
        { path: 'new.MOV', kind: 'media' },
        { path: 'project/salt.prj', kind: 'other' },
      ],
    });
    // Mounted under another name, the drive is known by its mark, and so is where its store lies then.
    const media = join(night.database.home, 'media');
    await mkdir(media);
    await rename(drive, join(media, 'DRIVE 1'));
    const mounts = join(night.database.home, 'mounts');
    await writeFile(mounts, `40 1 8:17 / ${media}/DRIVE\\0401 rw - exfat /dev/sdb1 rw\n`);
    const { stores } = night.database;
    const context = {
      ...night.database,
      roots: new Roots({ folders: [], mountedBelow: [media], mountTable: mounts }, stores),
    } as unknown as Context;
    const back = (await returnedDrives(context, night.production)).find(({ handoff: id }) => id === sent);
    expect(back).toEqual({
      ...{ root: join(media, 'DRIVE 1'), folder: 'back', receiver: 'The edit', handoff: sent, name: 'For The edit' },
    });
    await knowDrive(context, sent, back?.root ?? '');
    expect(await stores.get('drive')).toMatchObject({ path: join(media, 'DRIVE 1'), before: drive });
    expect(await again()).toMatchObject({ same: 4, missing: [] });
    await rm(join(media, 'DRIVE 1/back/.relay-handoff'));
    expect((await returnedDrives(context, night.production)).map(({ handoff: id }) => id)).not.toContain(sent);
    await expect(knowDrive(context, sent, back?.root ?? '')).rejects.toMatchObject({
      problem: { what: 'DRIVE 1 does not say that For The edit is on it' },
    });
    await rename(join(media, 'DRIVE 1'), drive);
    await stores.movedBack((await stores.get('drive')) as Store);
    await rename(join(drive, 'back'), join(drive, 'elsewhere'));
    expect((await again())?.problem?.what).toContain('has no manifest');
  });

  it('wait where the drive is not there, and nothing is written in its stead', async () => {
    await night.work({ legsOnly: false });
    const run = await night.begin(1);
    await made(run);
    await rename(drive, `${drive}-out`);
    try {
      await expect(order(orderOf('Absent', 'absent', { runs: [run] }))).rejects.toMatchObject({
        problem: { what: 'Drive is not there' },
      });
      await mkdir(drive);
      await expect(order(orderOf('Absent', 'absent', { runs: [run] }))).rejects.toMatchObject({
        problem: { what: 'Drive is not there' },
      });
    } finally {
      await rm(drive, { recursive: true, force: true });
      await rename(`${drive}-out`, drive);
    }
  });

  it('a copy that is marked as somebody’s goes to them alone', async () => {
    await night.work({ legsOnly: false });
    const [proxy] = proxyOnly.deliverables;
    const marked = {
      ...proxyOnly,
      deliverables: [
        {
          ...(proxy as Deliverable),
          burn: {
            lines: [],
            mark: {
              ...{ as: 'across', at: 'centre', strength: 'clear', recipients: ['The client', 'The lab'] },
              pieces: [{ kind: 'fact', fact: 'recipient' }],
            },
          },
        },
      ],
    } as unknown as Recipe;
    const run = await night.begin(1, marked);
    await made(run);
    const to = async (receiver: string) => {
      const { outputs, others } = await check(orderOf(receiver, 'x', { runs: [run] }));
      return { outputs, others };
    };
    expect(await to('the client')).toEqual({ outputs: 1, others: [{ recipient: 'The lab', copies: 1 }] });
    expect(await to('Nobody')).toEqual({
      outputs: 0,
      others: [
        { recipient: 'The client', copies: 1 },
        { recipient: 'The lab', copies: 1 },
      ],
    });
    const id = await order(orderOf('The client', 'for the client', { runs: [run] }));
    await ends(id, 'proved');
    expect((await answer(id)).items.map(({ path }) => path)).toEqual(['proxy/The-client/C001.mov']);
  });
});
