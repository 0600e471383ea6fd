import { randomUUID } from 'node:crypto';
import type { ProductionAnswer } from '@relay/contract/site';
import type {
  ClipAnswer,
  ClipsAnswer,
  CommonAnswer,
  FilterAnswer,
  IdentityChanged,
  IdentityPreview,
} from '@relay/contract/clips';
import { sampleClip } from '@relay/core/clip/sample';
import { rational } from '@relay/core/time/rational';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from '../../testing/server.ts';
import { refreshClips } from './refresh.ts';

let server: TestServer;
let production: string;
let ids: string[];

beforeAll(async () => {
  server = await startTestServer();
  production = (await server.post<ProductionAnswer>('/productions', { name: 'Clips' })).body.id;
  const clips = [
    sampleClip({
      path: 'day-1/A001/A001C001.mov',
      stem: 'A001C001',
      timecode: { start: '10:00:00:00', dropFrame: false },
    }),
    sampleClip({
      path: 'day-1/A001/A001C002.mov',
      stem: 'A001C002',
      timecode: { start: '10:00:02:00', dropFrame: false },
    }),
    sampleClip(
      { path: 'day-1/B001/B001C001.mov', stem: 'B001C001', reel: null, timecode: null },
      { rate: rational(25), scan: 'top-field-first' },
    ),
  ];
  ids = [];
  for (const description of clips) {
    const id = randomUUID();
    ids.push(id);
    await server.database.db.query(
      `INSERT INTO clip (id, production_id, store_id, root, path, stem, roll, description, size_bytes, looked_at) VALUES ($1, $2, 'raid', 'cards', $3, $4, $5, $6, 5000000, now())`,
      [id, production, description.path, description.stem, description.path.split('/')[1], JSON.stringify(description)],
    );
  }
  await refreshClips(server.database.db, production);
});
afterAll(async () => {
  await server?.close();
});

const one = (index: number): Promise<ClipAnswer> => server.get<ClipAnswer>(`/clips/${ids[index]}`);
const sheet = (query = ''): Promise<ClipsAnswer> =>
  server.get<ClipsAnswer>(`/productions/${production}/clips?${query}`);
const seen = async (...indexes: number[]): Promise<{ id: string; version: number }[]> =>
  Promise.all(indexes.map(async (index) => ({ id: ids[index] as string, version: (await one(index)).version })));
const say = (body: unknown): Promise<{ status: number; body: IdentityChanged & { error?: { what: string } } }> =>
  server.post(`/productions/${production}/identity`, body);

describe('the sheet', () => {
  it('gathers clips into groups with counts and seconds, in their order', async () => {
    const { ids: order, groups, lines } = await sheet();
    expect(groups.map((group) => [group.text, group.clips])).toEqual([
      ['1920×1080 · 23.976p · H.264 10 bit · BT.709 legal', 2],
      ['1920×1080 · 25.000i · H.264 10 bit · BT.709 legal', 1],
    ]);
    expect(groups[0]?.seconds).toBeCloseTo(6.006, 3);
    expect(order).toEqual(ids);
    expect(lines.map((line) => line.stem)).toEqual(['A001C001', 'A001C002', 'B001C001']);
  });

  it('is filtered by findings, by words left out, and whatever is typed is no pattern', async () => {
    const found = async (words: string): Promise<string[]> =>
      (await sheet(`filter=${encodeURIComponent(words)}`)).lines.map((line) => line.stem);
    expect(await found('decide')).toEqual(['A001C001', 'A001C002', 'B001C001']);
    expect(await found('timecode shared')).toEqual(['A001C001', 'A001C002']);
    expect(await found('interlaced')).toEqual(['B001C001']);
    expect(await found('-interlaced')).toEqual(['A001C001', 'A001C002']);
    expect(await found('A001 -C002')).toEqual(['A001C001']);
    expect(await found('%')).toEqual([]);
    expect(await found('_')).toEqual([]);
    expect((await sheet('sort=notes')).ids).toHaveLength(3);
  });

  it('keeps filters by name', async () => {
    await server.post(`/productions/${production}/filters`, { name: 'Odd ones', words: 'interlaced' });
    await server.post(`/productions/${production}/filters`, { name: 'Odd ones', words: 'interlaced -mxf' });
    const [kept] = await server.get<FilterAnswer[]>(`/productions/${production}/filters`);
    expect(kept).toMatchObject({ name: 'Odd ones', words: 'interlaced -mxf' });
    await fetch(`${server.address}/filters/${kept?.id}`, { method: 'DELETE' });
    expect(await server.get(`/productions/${production}/filters`)).toEqual([]);
  });
});

describe('identity', () => {
  it('is said for a selection, undone, and what neighbours see follows', async () => {
    const said = await say({ clips: await seen(0, 1), change: { scene: ' 14 ', take: '2', circled: true } });
    expect(said.body.clips).toBe(2);
    expect((await one(0)).identity).toMatchObject({ scene: '14', take: '2', circled: true, reel: 'A001' });
    expect((await sheet('filter=scene 14 circled')).ids).toHaveLength(2);
    await server.post(`/identity-changes/${said.body.change}/undo`);
    expect((await one(0)).identity).toMatchObject({ scene: null, circled: null });
    expect((await server.post(`/identity-changes/${said.body.change}/undo`)).status).toBe(409);
    // A reel of its own ends the shared timecode.
    await say({ clips: await seen(1), change: { reel: 'A001-B' } });
    await expect
      .poll(async () => (await one(0)).findings.map((finding) => finding.rule))
      .not.toContain('sharedTimecode');
    await say({ clips: await seen(1), change: { reel: null } });
    expect((await one(1)).identity.reel).toBe('A001');
  });

  it('of two people who edit one clip, the second is told and loses nothing', async () => {
    const both = await seen(0, 1);
    expect((await say({ clips: [both[0]], change: { note: 'first' } })).status).toBe(200);
    const second = await say({ clips: both, change: { note: 'second' } });
    expect([second.status, second.body.error?.what]).toEqual([
      409,
      'A001C001 was changed by somebody else meanwhile; nothing of yours was taken in',
    ]);
    expect([(await one(0)).identity.note, (await one(1)).identity.note]).toEqual(['first', null]);
    // Both at the very same moment: exactly one is taken in.
    const [now] = await seen(0);
    const answers = await Promise.all(['x', 'y'].map((note) => say({ clips: [now], change: { note } })));
    expect(answers.map((answer) => answer.status).sort()).toEqual([200, 409]);
  });

  it('an undo does not write over what somebody said since', async () => {
    const first = await say({ clips: await seen(2), change: { scene: '7' } });
    await say({ clips: await seen(2), change: { scene: '8' } });
    expect((await server.post(`/identity-changes/${first.body.change}/undo`)).status).toBe(409);
    expect((await one(2)).identity.scene).toBe('8');
  });

  it('refuses what is too long, has line breaks, or says nothing', async () => {
    for (const change of [{ scene: 'x'.repeat(33) }, { note: 'a\nb' }, {}, { director: 'x' }])
      expect((await say({ clips: await seen(0), change })).status).toBe(400);
  });

  it('is taken from names by a pattern: every result, what is empty and what clashes shown before', async () => {
    const preview = (field: string, pattern: string): Promise<{ status: number; body: IdentityPreview }> =>
      server.post(`/productions/${production}/identity/preview`, { clips: ids, field, pattern });
    const found = (await preview('camera', '[name 1]')).body;
    expect(found.rows.map((row) => [row.stem, row.after.camera])).toEqual([
      ['A001C001', 'A'],
      ['A001C002', 'A'],
      ['B001C001', 'B'],
    ]);
    expect((await preview('reel', '[timecode 1-4]')).body).toMatchObject({ empty: 1, clashes: 2 });
    expect((await preview('reel', '[name')).status).toBe(400);
    expect((await preview('take', '[name][name][name]')).status).toBe(400);
    const clips = Object.entries(found.versions).map(([id, version]) => ({ id, version }));
    expect(
      (
        await server.post<IdentityChanged>(`/productions/${production}/identity/pattern`, {
          clips,
          field: 'camera',
          pattern: '[name 1]',
        })
      ).body.clips,
    ).toBe(3);
    expect((await one(2)).identity.camera).toBe('B');
    expect(
      (
        await server.post(`/productions/${production}/identity/pattern`, {
          clips,
          field: 'camera',
          pattern: '[name 2]',
        })
      ).status,
    ).toBe(409);
  });

  it('goes out as CSV and comes in again, row by row', async () => {
    const text = await (await fetch(`${server.address}/productions/${production}/clips.csv?filter=`)).text();
    const lines = text.trimEnd().split('\r\n');
    expect(lines[0]).toBe(
      'id,path,clip,roll,reel,scene,take,camera,note,circled,starts,frames,rate,raster,codec,bytes',
    );
    expect(lines).toHaveLength(4);
    const file =
      'path,scene,note\nday-1/A001/A001C001.mov,21,"=cmd|\'/c calc\'!A1"\nnowhere.mov,1,x\nday-1/B001/B001C001.mov,8,\n';
    const preview = (
      await server.post<IdentityPreview>(`/productions/${production}/identity/csv/preview`, { text: file })
    ).body;
    expect(preview.refused).toEqual([{ row: 3, why: 'no clip here is called nowhere.mov' }]);
    expect(preview.rows.map((row) => [row.stem, row.row, row.changes])).toEqual([
      ['A001C001', 2, true],
      ['B001C001', 4, false],
    ]);
    expect(
      (
        await server.post<IdentityChanged>(`/productions/${production}/identity/csv`, {
          text: file,
          versions: preview.versions,
        })
      ).body.clips,
    ).toBe(1);
    expect((await one(0)).identity).toMatchObject({ scene: '21', note: "=cmd|'/c calc'!A1" });
    // Out again, the formula is harmless.
    expect(await (await fetch(`${server.address}/productions/${production}/clips.csv?filter=`)).text()).toContain(
      "'=cmd|",
    );
    expect((await server.post(`/productions/${production}/identity/csv/preview`, { text: 'a,"b' })).status).toBe(400);
  });
});

describe('a selection', () => {
  it('is one value where its clips agree and none where they differ', async () => {
    const { body } = await server.post<CommonAnswer>(`/productions/${production}/clips/common`, { clips: ids });
    const fact = (name: string): string | null | undefined => body.facts.find(([one]) => one === name)?.[1];
    expect([body.clips, fact('Raster'), fact('Rate'), fact('Scan')]).toEqual([3, '1920×1080', null, null]);
    expect(body.identity.camera).toEqual({ same: false, value: null });
    expect(body.findings.find((finding) => finding.rule === 'noTimecode')).toMatchObject({ clips: 1, undecided: 1 });
    expect(Object.keys(body.versions)).toHaveLength(3);
  });

  it('is decided on at once, for those that have the finding; answers are taken back', async () => {
    await server.post(`/productions/${production}/decisions`, {
      clips: ids,
      rule: 'noTimecode',
      answer: 'leave out',
      note: 'no use',
    });
    expect((await one(2)).standing).toMatchObject({ runs: false, why: 'left out: No timecode' });
    expect((await one(0)).decisions).toEqual([]);
    await server.post(`/productions/${production}/decisions`, { clips: ids, rule: 'noTimecode', answer: null });
    expect((await one(2)).standing).toMatchObject({ runs: true, toDecide: [{ rule: 'noTimecode' }] });
    // A note needs no answer, and gets none.
    await server.post(`/productions/${production}/decisions`, { clips: ids, rule: 'interlaced', answer: 'as it is' });
    expect((await one(2)).decisions).toEqual([]);
  });

  it("findings compare with the production's rate as soon as it is said", async () => {
    await server.post(`/productions/${production}`, { rate: { num: 25, den: 1 } });
    expect((await one(0)).findings.map((finding) => finding.text)).toContain('23.976, not 25.000');
    expect((await one(2)).findings.map((finding) => finding.rule)).not.toContain('otherRate');
    await server.post(`/productions/${production}`, { rate: null, copyRule: { copies: 1, stores: 1 } });
    expect((await one(0)).findings.map((finding) => finding.rule)).not.toContain('otherRate');
    expect((await server.post(`/productions/${production}`, { copyRule: { copies: 0, stores: 1 } })).status).toBe(400);
  });
});
