import { cp, mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { BayAnswer, CardAnswer, RollAnswer, RollLine } from '@relay/contract/arrivals';
import type { LeftAsideLine, ReadingAnswer } from '@relay/contract/arrivals';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { RunCheck } from '@relay/contract/runs';
import type { ProductionAnswer } from '@relay/contract/site';
import type { ClipAnswer, ClipLine, ClipsAnswer, ReportAnswer } from '@relay/contract/clips';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoCards } from '../../testing/demo.ts';
import { startTestServer, type TestServer } from '../../testing/server.ts';
import { pause, until } from '../../testing/site.ts';
import { verifyFolder } from '@relay/work/custody/verify';

let server: TestServer;
let production: string;
let home: string;

beforeAll(async () => {
  server = await startTestServer();
  ({ home } = server.database);
  for (const store of ['raid', 'shuttle', 'bay/.tray']) await mkdir(join(home, store), { recursive: true });
  await server.database.stores.put('Raid', join(home, 'raid'));
  await server.database.stores.put('Shuttle', join(home, 'shuttle'));
  await server.database.stores.put('Card bay', join(home, 'bay'));
  for (const card of ['card-A-2', 'card-V-1', 'card-R-1'])
    await cp(join(demoCards, card), join(home, 'bay/.tray', card), { recursive: true, preserveTimestamps: true });
  await server.database.db.query('INSERT INTO recipe (definition) VALUES ($1)', [JSON.stringify(finishAndCut)]);
  production = (await server.post<ProductionAnswer>('/productions', { name: 'Salt Lantern' })).body.id;
  await server.post(`/productions/${production}`, { copyRule: { copies: 2, stores: 2, oneDisk: true } });
});
afterAll(async () => {
  await server?.close();
});

const destinations = [
  { store: 'raid', folder: 'salt-lantern' },
  { store: 'shuttle', folder: 'copies' },
];
const begin = (name: string, folder: string, rest: object = {}): Promise<{ status: number; body: RollAnswer }> =>
  server.post<RollAnswer>(`/productions/${production}/rolls`, {
    card: { store: 'card-bay', folder },
    day: 'day-2',
    name,
    destinations,
    ...rest,
  });
const roll = (id: string): Promise<RollAnswer> => server.get<RollAnswer>(`/rolls/${id}`);
const ended = (id: string): Promise<RollAnswer> =>
  until('the roll', async () => {
    const now = await roll(id);
    return ['proved', 'failed', 'paused', 'stopped'].includes(now.state) ? now : null;
  });
const sheet = (): Promise<ClipsAnswer> => server.get<ClipsAnswer>(`/productions/${production}/clips`);
const looked = (count: number): Promise<ClipLine[]> =>
  until('clips looked at', async () => {
    const { lines } = await sheet();
    return lines.length >= count && lines.every((line) => line.looked) ? lines : null;
  });

describe('a card from the bay', () => {
  it('is put in, looked at, brought in, proved, read, and lets itself be cleared', async () => {
    expect((await server.post<BayAnswer>('/bay', { card: 'card-A-2', slot: 'slot-1' })).body.slots[0]).toEqual({
      slot: 'slot-1',
      card: 'card-A-2',
      folder: 'slot-1/card-A-2',
    });
    expect((await server.post('/bay', { card: 'card-V-1', slot: 'slot-1' })).status).toBe(409);
    const card = await server.get<CardAnswer>(`/productions/${production}/card?store=card-bay&folder=slot-1/card-A-2`);
    expect(card).toMatchObject({
      files: 8,
      clips: 4,
      proposedName: 'A001',
      recognised: null,
      hasManifest: false,
      notCopied: [],
    });
    const begun = await begin('A002', 'slot-1/card-A-2');
    expect(begun.status).toBe(201);
    expect(begun.body.clearing).toMatchObject({ clear: false, says: 'Keep the card: copying is not finished' });
    const done = await ended(begun.body.id);
    expect(done).toMatchObject({
      state: 'proved',
      files: 8,
      clearing: {
        clear: true,
        says: "The card may be cleared: 8 files proved in 2 copies on 2 stores, which by the production's rule may be one disk",
      },
    });
    expect(done.copies.map((copy) => [copy.storeName, copy.folder, copy.filesProved])).toEqual([
      ['Raid', 'salt-lantern/day-2/A002', 8],
      ['Shuttle', 'copies/day-2/A002', 8],
    ]);
    expect(done.generations.map((one) => [one.copy, one.files, one.doubt])).toEqual([
      ['Raid', 8, null],
      ['Shuttle', 8, null],
    ]);
    expect(done.events.map((event) => event.what)).toEqual([
      expect.stringContaining('Arrived as A002'),
      expect.stringContaining('Copying begins'),
      expect.stringContaining('may be cleared'),
    ]);

    const lines = await looked(3);
    expect(
      lines.map((line) => [line.stem, line.roll, line.identity.scene, line.identity.take, line.identity.circled]),
    ).toEqual([
      ['A002C001', 'A002', '14', '3', true],
      ['A002C002', 'A002', '14', '4', false],
      ['A002C004', 'A002', '15', '1', true],
    ]);
    expect(lines[0]?.findings.map((finding) => finding.rule)).toEqual(
      expect.arrayContaining(['logAsVideo', 'silentChannels']),
    );
    const clip = await server.get<ClipAnswer>(`/clips/${lines[0]?.id}`);
    expect(clip).toMatchObject({
      custody: { roll: 'A002', state: 'proved' },
      sidecars: ['CLIPS/A002C001.XML'],
      sidecarSaid: { note: 'The last boat, from the quay' },
    });
    // What cannot be decoded here is named as what it is, and was copied like everything else.
    expect(
      (await server.get<LeftAsideLine[]>(`/productions/${production}/left-aside`)).map((line) => line.refusal.problem),
    ).toContainEqual(
      expect.objectContaining({ kind: 'not-decodable', what: expect.stringContaining('is camera raw, or data') }),
    );
    expect(await readdir(join(home, 'shuttle/copies/day-2/A002/RAW'))).toEqual(['X001C001.raw']);
    // Strip, outlines and a stream are there to be watched.
    expect((await fetch(`${server.address}/clips/${clip.id}/strip`)).headers.get('content-type')).toBe('image/jpeg');
    expect(
      await server.get<{ outlines: unknown[]; flow: { bytes: number[] } }>(`/clips/${clip.id}/look`),
    ).toMatchObject({ outlines: { length: 6 }, flow: { bytes: { length: 36 } } });
    const stream = await fetch(`${server.address}/clips/${clip.id}/play?from=0.5&channel=1`);
    expect([stream.headers.get('content-type'), stream.headers.get('relay-source')]).toEqual(['video/mp4', 'original']);
    expect((await stream.arrayBuffer()).byteLength).toBeGreaterThan(10_000);
  });

  it('is known when it comes a second time, and its name is never given twice', async () => {
    const card = await server.get<CardAnswer>(`/productions/${production}/card?store=card-bay&folder=slot-1/card-A-2`);
    expect(card).toMatchObject({ proposedName: 'A003', recognised: { roll: 'A002', known: 8, fresh: 0 } });
    expect((await begin('a002', 'slot-1/card-A-2')).status).toBe(409);
    expect((await begin('../x', 'slot-1/card-A-2')).status).toBe(400);
    expect((await begin('A009', 'slot-1/../../..')).status).toBe(400);
    expect((await begin('A009', 'slot-2')).status).toBeGreaterThanOrEqual(400);
    // A share that is not mounted leaves its folder, and not its mark.
    await rename(join(home, 'shuttle/.relay-store'), join(home, 'mark'));
    expect((await begin('A009', 'slot-1/card-A-2')).status).toBe(409);
    await rename(join(home, 'mark'), join(home, 'shuttle/.relay-store'));
    expect((await begin('A009', 'slot-1/card-A-2', { destinations: [destinations[0], destinations[0]] })).status).toBe(
      400,
    );
  });

  it('with one recording in three files becomes one clip of all of them', async () => {
    await server.post('/bay', { card: 'card-V-1', slot: 'slot-2' });
    const { body } = await begin('V001', 'slot-2/card-V-1');
    expect((await ended(body.id)).state).toBe('proved');
    const lines = await looked(4);
    const joined = lines.find((line) => line.roll === 'V001');
    expect(joined).toMatchObject({ stem: 'V0034_01', frames: 80, starts: '21:10:00:00' });
    expect(
      (await server.get<ClipAnswer>(`/clips/${joined?.id}`)).description.chapters.map((chapter) => [
        chapter.path,
        chapter.frames,
      ]),
    ).toEqual([
      ['VIDEO/V0034_01.mp4', 30],
      ['VIDEO/V0034_02.mp4', 30],
      ['VIDEO/V0034_03.mp4', 20],
    ]);
    // A picture from the last file is there too.
    expect((await fetch(`${server.address}/clips/${joined?.id}/frame?frame=75&width=160`)).status).toBe(200);
  });

  it("of a sound recorder is kept as sound clips, with its sidecar's words", async () => {
    await server.post('/bay', { card: 'card-A-2', slot: null });
    await server.post('/bay', { card: 'card-R-1', slot: 'slot-1' });
    const { body } = await begin('R001', 'slot-1/card-R-1');
    expect((await ended(body.id)).state).toBe('proved');
    const sounds = (await looked(6)).filter((line) => line.roll === 'R001');
    expect(
      sounds.map((line) => [line.stem, line.channels, line.identity.reel, line.identity.scene, line.frames]),
    ).toEqual([
      ['S14T3', 4, 'R001', '14', null],
      ['S14T4', 4, null, null, null],
    ]);
    expect(sounds[0]?.findings.map((finding) => finding.text)).toEqual(['Sound only', 'Silent: channel 3 of 4']);
  });

  it('pulled in the middle keeps what is proved, says why the card is not safe, and goes on when it is back', async () => {
    const card = join(home, 'bay/slot-1/card-X-1');
    await mkdir(card, { recursive: true });
    for (let index = 0; index < 60; index += 1)
      await writeFile(join(card, `${index}.bin`), Buffer.alloc(4_000_000, index + 1));
    const { body } = await begin('X001', 'slot-1/card-X-1');
    await until('some of it copied', async () => {
      const [name] = await readdir(join(home, 'journals')).catch(() => [] as string[]);
      return (
        (name !== undefined && (await readFile(join(home, 'journals', name), 'utf8').catch(() => '')).length > 500) ||
        null
      );
    });
    await rename(card, `${card}-out`);
    const broken = await ended(body.id);
    expect(broken.state).toBe('failed');
    expect(broken.clearing.clear).toBe(false);
    // Reading the store meanwhile leaves an unproved roll alone.
    const reading = (
      await server.post<ReadingAnswer>(`/productions/${production}/readings`, { store: 'raid', folder: 'salt-lantern' })
    ).body;
    const read = await until('the reading', async () =>
      (await server.get<ReadingAnswer[]>(`/productions/${production}/readings`)).find(
        (one) => one.id === reading.id && one.state === 'done',
      ),
    );
    expect([read.total, read.says]).toEqual([0, 'X001 is not verified yet and will be read then']);
    await rename(`${card}-out`, card);
    await server.post(`/rolls/${body.id}/resume`);
    const again = await ended(body.id);
    expect(again).toMatchObject({ state: 'proved', files: 60, clearing: { clear: true } });
    expect(again.events.map((event) => event.what)).toContain('Resumed');
    await rm(card, { recursive: true });
  });

  it('can be paused, stopped and resumed', async () => {
    const card = join(home, 'bay/slot-1/card-Y-1');
    await mkdir(card, { recursive: true });
    for (let index = 0; index < 80; index += 1)
      await writeFile(join(card, `${index}.bin`), Buffer.alloc(4_000_000, index + 1));
    const { body } = await begin('Y001', 'slot-1/card-Y-1', { hash: 'xxh64', alsoMd5: true });
    await until('copying', async () => (await roll(body.id)).filesDone > 2 || null);
    await server.post(`/rolls/${body.id}/pause`);
    expect(await ended(body.id)).toMatchObject({ state: 'paused', clearing: { clear: false } });
    await server.post(`/rolls/${body.id}/resume`);
    expect((await ended(body.id)).state).toBe('proved');
    expect((await server.post(`/rolls/${body.id}/resume`)).status).toBe(409);
    expect(
      (await server.get<RollLine[]>(`/productions/${production}/rolls`))
        .filter((one) => one.clearing.clear)
        .map((one) => one.name)
        .sort(),
    ).toEqual(['A002', 'R001', 'V001', 'X001', 'Y001']);
  });
});

describe('custody later on', () => {
  it('verifies again, grows the history, names what changed, and keeps the clips out of runs until somebody decides', async () => {
    const [a002] = (await server.get<RollLine[]>(`/productions/${production}/rolls`)).filter(
      (one) => one.name === 'A002',
    );
    const id = a002?.id as string;
    const verified = (): Promise<RollAnswer> =>
      until('the verification', async () => {
        const now = await roll(id);
        return now.copies.every((copy) => copy.verifiedAt && !copy.verifying) ? now : null;
      });
    await server.post(`/rolls/${id}/verify`);
    expect((await verified()).copies.map((copy) => copy.verification?.verified)).toEqual([true, true]);
    expect((await roll(id)).generations).toHaveLength(4);

    const folder = join(home, 'raid/salt-lantern/day-2/A002');
    const clip = await readFile(join(folder, 'CLIPS/A002C002.mov'));
    clip[100_000] = (clip[100_000] as number) ^ 1;
    await writeFile(join(folder, 'CLIPS/A002C002.mov'), clip);
    await server.post(`/rolls/${id}/verify`);
    await pause(300);
    const bad = await verified();
    expect(bad.copies[0]?.verification).toMatchObject({ verified: false, changed: [{ path: 'CLIPS/A002C002.mov' }] });
    expect(bad.clearing).toMatchObject({ clear: false, against: [expect.stringContaining('differs')] });
    const { lines } = await sheet();
    const a = lines.filter((line) => line.roll === 'A002');
    expect(a.every((line) => line.findings[0]?.rule === 'copyNotProved')).toBe(true);
    const recipe = (await server.get<RecipeAnswer[]>('/recipes'))[0]?.id;
    const choice = { clips: a.map((line) => line.id), recipe, store: 'shuttle', folder: 'made' };
    const check = async (): Promise<RunCheck> =>
      (await server.post<RunCheck>(`/productions/${production}/run-check`, choice)).body;
    expect((await check()).keptOut).toHaveLength(3);
    expect((await server.post(`/productions/${production}/runs`, { ...choice, name: 'x' })).status).toBe(409);
    await server.post(`/productions/${production}/decisions`, {
      clips: choice.clips,
      rule: 'copyNotProved',
      answer: 'as it is',
      note: 'the shuttle is whole',
    });
    expect(await check()).toMatchObject({ keptOut: [], clips: 3 });
    expect((await check()).toDecide.length).toBe(3);
    expect((await server.get<ClipAnswer>(`/clips/${a[0]?.id}`)).decisions).toMatchObject([
      { rule: 'copyNotProved', answer: 'as it is', by: 'assistant', note: 'the shuttle is whole' },
    ]);
    expect(await verifyFolder(join(home, 'shuttle/copies/day-2/A002'), { record: false })).toMatchObject({
      verified: true,
    });
  });

  it('stands in the day report, with hours, formats, gaps and findings', async () => {
    const report = await server.get<ReportAnswer>(`/productions/${production}/report?day=day-2`);
    expect(report).toMatchObject({ day: 'day-2', days: ['day-2'], clips: 6 });
    expect(report.rolls.map((one) => [one.name, one.clips, one.gaps])).toEqual([
      ['A002', 3, ['A002C003']],
      ['R001', 2, []],
      ['V001', 1, []],
      ['X001', 0, []],
      ['Y001', 0, []],
    ]);
    // Sound alone has no hours of picture, which is another thing than none of them.
    expect(report.rolls[1]).toMatchObject({ soundClips: 2, seconds: null });
    expect(report.rolls[0]?.custody).toContain('Keep the card');
    const csv = await (await fetch(`${server.address}/productions/${production}/report.csv?day=day-2`)).text();
    expect(csv.split('\r\n')[1]).toMatch(/^day-2,A002,3,0,3\.\d+,\d+,/);
  });
});
