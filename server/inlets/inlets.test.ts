import { copyFile, mkdir, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { EntityManager } from 'typeorm';
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import type { InletDefinition, InletLine } from '@relay/contract/inlets';
import type { RunAnswer, RunLine } from '@relay/contract/runs';
import { emptyChain, type Chain } from '@relay/core/colour/chain/chain';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { ffmpegMakes, quickH264 } from '../../testing/commands.ts';
import { InletSite, proved } from '../../testing/inletSite.ts';
import type { TestServer } from '../../testing/server.ts';
import { pause } from '../../testing/site.ts';
import { notBefore } from './begin.ts';
import { inletAnswer } from './queries.ts';

const lantern: Chain = { ...emptyChain, input: 'slog3-sgamut3cine', output: 'bt709', rendering: 'estuary' };
let night: InletSite;
let site: TestServer;

beforeAll(async () => {
  night = await InletSite.start();
  ({ site } = night);
});
afterAll(() => site.close());
beforeEach(() => night.next());

describe('an inlet', () => {
  it('makes what arrives by itself: listed while it waits, in ordinary runs, once, also after a restart and a rename', async () => {
    const { body: made, status } = await night.add();
    expect(status).toBe(201);
    await night.drop(1, 'A.mov');
    const waiting = await night.until('waiting', made.id, ({ now }) => now.first.length > 0);
    expect(waiting.now.first[0]).toMatchObject({ thing: 'A.mov', why: 'A.mov changed a moment ago' });
    await night.drop(2, 'B.mov');
    await writeFile(night.in('bad.mov'), 'no clip, but long enough to be looked at');
    const done = await night.until('made', made.id, (now) => proved(now) === 2 && now.things.length === 3);
    expect(await night.outputs()).toEqual(['proxy/A.mov', 'proxy/B.mov']);
    expect([done.madeToday, done.underWay, done.left]).toEqual([2, 0, 1]);
    expect(done.things.flatMap(({ left }) => left)).toEqual([
      { path: 'bad.mov', what: expect.stringContaining('bad.mov') as string, remedy: expect.any(String) as string },
    ]);
    const runs = await site.get<RunLine[]>(`/productions/${night.production}/runs`);
    expect(runs.every(({ name }) => name.startsWith(`${night.name} `))).toBe(true);
    // What a person chose last is theirs, whatever inlets ran since.
    expect(await site.get(`/productions/${night.production}/last-choice`)).toBeNull();
    await rename(night.in('A.mov'), night.in('C.mov'));
    const known = await night.until('known', made.id, ({ things }) => things.length === 4);
    expect(known.things.find(({ key }) => key === 'C.mov')).toMatchObject({ known: 1, clips: 0, runs: [] });
    // Its keeper begins anew, with what the database remembers.
    for (const paused of [true, false]) {
      await site.post(`/inlets/${made.id}/pause`, { paused });
      await pause(2_500);
    }
    expect((await night.inlet(made.id)).things).toHaveLength(4);
    expect(await night.outputs()).toEqual(['proxy/A.mov', 'proxy/B.mov']);
  });

  it('says before what it is told to: a chain, a squeeze, a reel from the name, where nobody said anything', async () => {
    const { body } = await night.add({ before: { colour: lantern, squeeze: { num: 4, den: 3 }, reel: '[name 1-4]' } });
    await night.drop(3, 'K007_C001.mov');
    // What comes of it is not asked: a chain of strong contrast over a bare gradient leaves proofs little to tell by.
    await night.until('begun', body.id, ({ things }) => things[0]?.runs.length === 1);
    const rows = await site.database.db.query<{ reel: string; field: string; value: unknown; who: string }[]>(
      `SELECT said->>'reel' AS reel, r.field, r.value, r.who
       FROM clip
       JOIN correction_rule r ON r.key = clip.id::text
       WHERE path = 'K007_C001.mov'
       ORDER BY r.field`,
    );
    const who = `inlet ${night.name}`;
    expect(rows).toEqual([
      { reel: 'K007', field: 'colour', value: lantern, who },
      { reel: 'K007', field: 'squeeze', value: { num: 4, den: 3 }, who },
    ]);
    // And the leg's plan has it.
    const [leg] = await site.database.db.query<{ plan: LegPlan }[]>(
      `SELECT plan FROM leg JOIN clip ON clip.id = leg.clip_id WHERE clip.path = 'K007_C001.mov'`,
    );
    expect(leg?.plan.outputs[0]?.colour).toMatchObject({ kind: 'baked', chain: { input: 'slog3-sgamut3cine' } });
  });

  it('while it is paused takes nothing up, and all of it when it goes on', async () => {
    const { body } = await night.add();
    await site.post(`/inlets/${body.id}/pause`, { paused: true });
    await pause(2_000);
    await night.drop(1, 'A.mov');
    await pause(2_500);
    expect((await night.inlet(body.id)).things).toEqual([]);
    await site.post(`/inlets/${body.id}/pause`, { paused: false });
    await night.until('made', body.id, (now) => proved(now) === 1);
  });

  it('waits for a person where it is told to, and goes on with what they decide', async () => {
    // A varying rate is a finding to decide on.
    const { body } = await night.add({ decide: 'wait' });
    const still = join(night.clips, 'varies.mkv');
    await ffmpegMakes(
      ...['-f', 'lavfi', '-i', 'gradients=s=320x180:r=25:speed=0.15', '-frames:v', '12'],
      ...['-vf', 'setpts=(N+0.6*gt(N\\,4)*lt(N\\,8))/25/TB', '-fps_mode', 'vfr', ...quickH264, '-crf', '12', still],
    );
    await copyFile(still, night.in('V.mkv'));
    const waits = await night.until('to decide', body.id, ({ things }) => things[0]?.waits.length === 1);
    expect([waits.left, waits.things[0]?.runs]).toEqual([1, []]);
    const [clip] = await site.database.db.query<{ id: string; rules: string[] }[]>(
      `SELECT id, ARRAY(SELECT f->>'rule' FROM jsonb_array_elements(findings) f WHERE f->>'level' <> 'note') AS rules
       FROM clip WHERE path = 'V.mkv'`,
    );
    for (const rule of clip?.rules ?? [])
      await site.database.db.query(
        `INSERT INTO decision (clip_id, rule, answer, note, who) VALUES ($1, $2, 'as it is', '', 'assistant')`,
        [clip?.id, rule],
      );
    const made = await night.until('begun', body.id, ({ things }) => (things[0]?.runs.length ?? 0) === 1);
    expect(made.things[0]?.waits).toEqual([]);
  });

  it('whose recipe was removed says so and keeps what arrives, until it has another', async () => {
    const gone = await night.newRecipe(`Gone ${night.name}`);
    const { body } = await night.add({ recipes: [{ recipe: gone, store: 'shuttle', folder: night.to }] });
    await fetch(`${site.address}/recipes/${gone}`, { method: 'DELETE' });
    await night.drop(1, 'A.mov');
    const held = await night.until('held', body.id, ({ now }) => now.problem !== null);
    expect(held.now.problem?.what).toBe('A recipe of this inlet was removed: what arrives waits');
    const change = await fetch(`${site.address}/inlets/${body.id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ seen: body.version, definition: night.definition() }),
    });
    expect(change.status).toBe(200);
    await night.until('made', body.id, (now) => proved(now) === 1 && now.now.problem === null);
  });

  it('never takes what Brisk Relay made for an original, unless it is told to', async () => {
    const { body } = await night.add();
    await night.drop(4, 'A.mov');
    await night.until('made', body.id, (now) => proved(now) === 1);
    await copyFile(join(site.database.home, 'Shuttle', night.to, 'proxy/A.mov'), night.in('came-back.mov'));
    const known = await night.until('known', body.id, ({ things }) =>
      things.some(({ key }) => key === 'came-back.mov'),
    );
    expect(known.things.find(({ key }) => key === 'came-back.mov')).toMatchObject({ known: 1, clips: 0 });
  });

  it('new content under an old name is a new version: the old output is set aside', async () => {
    const { body } = await night.add();
    await night.drop(1, 'A.mov');
    await night.until('made', body.id, (now) => proved(now) === 1);
    await night.drop(2, 'A.mov');
    const again = await night.until('again', body.id, (now) => proved(now) === 2);
    expect(again.things.map(({ legs, left }) => [legs, left])).toEqual([
      [{ proved: 1 }, []],
      [{ proved: 1 }, []],
    ]);
    expect(await night.outputs()).toEqual(['proxy/A.mov', 'superseded/proxy/A.1.mov']);
    const run = await site.get<RunAnswer>(`/runs/${(await night.inlet(body.id)).things[0]?.runs[0]?.id ?? ''}`);
    expect(run.legLines.map(({ state }) => state)).toEqual(['proved']);
  });

  it('keeps what lies beside its clips when others arrive in their folder', async () => {
    const { body } = await night.add();
    const xml = (name: string, scene: string): Promise<void> =>
      writeFile(night.in(name), `<clip><scene>${scene}</scene></clip>`);
    await night.drop(1, 'S1.mov');
    await xml('S1.xml', '14');
    await night.until('the first', body.id, (now) => proved(now) === 1);
    await night.drop(2, 'S2.mov');
    await xml('S2.xml', '15');
    await night.until('the second', body.id, (now) => proved(now) === 2);
    const rows = await site.database.db.query<{ path: string; scene: string; beside: string[] }[]>(
      `SELECT path, sidecar_said->>'scene' AS scene, sidecars AS beside FROM clip
       WHERE root = $1 AND description IS NOT NULL ORDER BY path`,
      [night.from],
    );
    expect(rows).toEqual([
      { path: 'S1.mov', scene: '14', beside: ['S1.xml'] },
      { path: 'S2.mov', scene: '15', beside: ['S2.xml'] },
    ]);
    // And gives what arrives after its clip to that clip.
    await night.drop(3, 'S3.mov');
    await night.until('the third', body.id, (now) => proved(now) === 3);
    await xml('S3.xml', '16');
    const late = async (): Promise<unknown> =>
      (
        await site.database.db.query<unknown[]>(
          `SELECT sidecar_said->>'scene' AS scene, sidecars AS beside FROM clip WHERE root = $1 AND path = 'S3.mov'`,
          [night.from],
        )
      )[0];
    for (let tries = 0; tries < 100 && !JSON.stringify(await late()).includes('16'); tries += 1) await pause(100);
    expect(await late()).toEqual({ scene: '16', beside: ['S3.xml'] });
  });

  it('makes one of two that are alike, and of two that would get one name the first, also while both wait', async () => {
    const { body } = await night.add({
      begin: { kind: 'at', time: new Date(Date.now() - 120_000).toTimeString().slice(0, 5) },
    });
    await night.drop(1, 'A.mov');
    await night.drop(1, 'copy.mov');
    await night.until('taken', body.id, ({ things }) => things.length === 2);
    await night.drop(2, 'A.mp4');
    const now = await night.until('the third', body.id, ({ things }) => things.length === 3);
    expect(now.things.find(({ key }) => key === 'A.mp4')?.left.map(({ what }) => what)).toEqual([
      'A.mp4 would take the name of what is made of another original',
    ]);
    expect(now.things.reduce((sum, { known }) => sum + known, 0)).toBe(1);
    expect(now.underWay).toBe(1);
  });

  it('makes what went before its turn, once it is there again', async () => {
    const { body } = await night.add({
      begin: { kind: 'at', time: new Date(Date.now() - 120_000).toTimeString().slice(0, 5) },
    });
    await night.drop(3, 'A.mov');
    const taken = await night.until('taken', body.id, ({ things }) => things.length === 1);
    const [lies, away] = ['A.mov', '../away.mov'].map((name) => night.in(name));
    await rename(lies ?? '', away ?? '');
    await site.post(`/runs/${taken.things[0]?.runs[0]?.id ?? ''}`, { notBefore: null });
    await night.until('lost', body.id, ({ things }) => (things[0]?.legs.failed ?? 0) === 1);
    await pause(2_500);
    await rename(away ?? '', lies ?? '');
    const again = await night.until('again', body.id, ({ things }) => things.length === 2);
    await site.post(`/runs/${again.things[0]?.runs[0]?.id ?? ''}`, { notBefore: null });
    await night.until('made', body.id, (one) => proved(one) === 1);
    expect(await night.outputs()).toEqual(['proxy/A.mov']);
  });

  it('whose folder goes away says so, and takes up what lies in it when it is back', async () => {
    const { body } = await night.add();
    await night.until('looked', body.id, ({ lookedAt, now }) => lookedAt !== null || now.problem === null);
    const folder = night.in();
    await pause(1_500);
    await rename(folder, `${folder}-away`);
    await night.until('away', body.id, ({ now }) => now.problem !== null);
    await copyFile(join(night.clips, '1.mov'), join(`${folder}-away`, 'A.mov'));
    await rename(`${folder}-away`, folder);
    await night.until('made', body.id, (now) => proved(now) === 1);
  });
});

it('what is counted of an inlet and what is listed of it are of one moment', async () => {
  const { body } = await night.add();
  const { db } = site.database;
  // Something is taken up just when it was counted.
  const whileLookedAt = Object.assign(Object.create(db) as typeof db, {
    transaction: (isolation: 'REPEATABLE READ', work: (tx: EntityManager) => Promise<unknown>) =>
      db.transaction(isolation, async (tx) => {
        const counting = vi.spyOn(tx, 'query').mockImplementationOnce(async (...asked) => {
          counting.mockRestore();
          const counts: unknown = await tx.query(...asked);
          await db.query(
            `INSERT INTO inlet_thing (inlet_id, place, key, kind, files, size_bytes, waits)
             VALUES ($1, '', 'A.mov', 'files', 1, 1, '[{}]')`,
            [body.id],
          );
          return counts;
        });
        return work(tx);
      }),
  });
  const seen = async (from: typeof db): Promise<unknown> => {
    const answer = await inletAnswer(from, body.id, () => Promise.resolve(false));
    return [answer?.left, answer?.things.length];
  };
  expect(await seen(whileLookedAt)).toEqual([0, 0]);
  expect(await seen(db)).toEqual([1, 1]);
});

describe('an inlet of rolls', () => {
  it('makes every roll that is proved since it was made, once, whole', async () => {
    await mkdir(join(site.database.home, 'Bay', 'K1', 'CLIPS'), { recursive: true });
    await site.database.stores.put('Bay', join(site.database.home, 'Bay'));
    const bring = async (name: string, n: number): Promise<void> => {
      const card = join(site.database.home, 'Bay', name, 'CLIPS');
      await mkdir(card, { recursive: true });
      await copyFile(join(night.clips, `${n}.mov`), join(card, `${name}C001.mov`));
      const { status } = await site.post(`/productions/${night.production}/rolls`, {
        card: { store: 'bay', folder: name },
        day: 'day-2',
        name,
        destinations: [{ store: 'estuary', folder: 'rolls' }],
      });
      expect(status).toBe(201);
      for (let tries = 0; tries < 200; tries += 1) {
        const rolls = await site.get<{ name: string; state: string }[]>(`/productions/${night.production}/rolls`);
        if (rolls.some((roll) => roll.name === name && roll.state === 'proved')) return;
        await pause(100);
      }
      throw new Error(`${name} was not proved`);
    };
    await bring('K001', 1);
    const { body } = await night.add({ source: { kind: 'rolls' } });
    await bring('K002', 2);
    const made = await night.until('made', body.id, (now) => proved(now) === 1);
    expect(made.things.map(({ key, clips: found, files }) => [key, found, files])).toEqual([['K002', 1, 1]]);
    await pause(2_500);
    expect((await night.inlet(body.id)).things).toHaveLength(1);
    expect(await night.outputs()).toEqual(['proxy/CLIPS/K002C001.mov']);
  });
});

describe('what an inlet may not be', () => {
  it.each([
    ['outputs among its originals', { recipes: [{ store: 'estuary', folder: 'in-here/out' }] }, /among the originals/],
    [
      'a way out of its store',
      { source: { kind: 'folders', folders: [{ store: 'estuary', folder: '../up' }] } },
      /leads out/,
    ],
    ['a way out for outputs', { recipes: [{ store: 'shuttle', folder: '../up' }] }, /leads out/],
  ] as const)('%s', async (_, rest, words) => {
    const wanted = JSON.parse(JSON.stringify(rest)) as Partial<InletDefinition>;
    const recipes = wanted.recipes?.map((one) => ({ ...one, recipe: night.recipe }));
    const { status, body } = await night.add({
      source: { kind: 'folders', folders: [{ store: 'estuary', folder: 'in-here' }] },
      ...wanted,
      ...(recipes ? { recipes } : {}),
    });
    expect([status, body.error.what]).toEqual([400, expect.stringMatching(words)]);
  });

  it('a circle, which is shown; a chain on purpose may be', async () => {
    const at = (folder: string) => ({ store: 'shuttle', folder: `${night.to}/${folder}` });
    const link = (name: string, a: string, b: string) =>
      night.add({
        name,
        source: { kind: 'folders', folders: [at(a)] },
        recipes: [{ recipe: night.recipe, ...at(b) }],
        takesResults: true,
      });
    expect((await link('One', 'a', 'b')).status).toBe(201);
    expect((await link('Two', 'b', 'c')).status).toBe(201);
    const round = await link('Three', 'c', 'a');
    expect([round.status, round.body.error.what]).toEqual([409, 'It would feed itself: Three → One → Two → Three']);
    const same = await night.add({ name: 'one' });
    expect([same.status, same.body.error.what]).toEqual([409, 'There is an inlet called One already']);
    const lines = await site.get<InletLine[]>(`/productions/${night.production}/inlets`);
    for (const {
      id,
      definition: { name },
    } of lines)
      if (['One', 'Two'].includes(name)) await fetch(`${site.address}/inlets/${id}`, { method: 'DELETE' });
  });
});

it.each([
  ['at once', null, '14:00', null],
  ['after quiet hours', { from: '09:00', until: '18:00' }, '14:00', '18:00'],
  ['after quiet hours', { from: '09:00', until: '18:00' }, '19:30', '18:00'],
  ['after quiet hours', null, '14:00', null],
] as const)('begins %s, with %j, at %s: %s', (kind, quiet, clock, begins) => {
  const now = new Date(`2026-11-20T${clock}:00`);
  const at = notBefore({ kind }, quiet, now);
  expect(at === null ? null : new Date(at).toTimeString().slice(0, 5)).toBe(begins);
  if (at !== null) expect(new Date(at).getTime()).toBeGreaterThan(now.getTime());
});

it('begins at a time of day: the next one', () => {
  const at = (clock: string): string | null =>
    notBefore({ kind: 'at', time: '22:00' }, null, new Date(`2026-11-20T${clock}:00`));
  expect(new Date(at('21:30') ?? '').getTime() - new Date('2026-11-20T21:30:00').getTime()).toBe(1_800_000);
  expect(new Date(at('22:30') ?? '').getTime() - new Date('2026-11-20T22:30:00').getTime()).toBe(23.5 * 3_600_000);
  expect(at('22:00')).toBeNull();
});
