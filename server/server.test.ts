import type { Comparison, MadeOfClip, SizesAnswer } from '@relay/contract/checks';
import type { ClipsAnswer } from '@relay/contract/clips';
import type { LeftAsideLine, ReadingAnswer } from '@relay/contract/arrivals';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { RunAnswer, RunCheck } from '@relay/contract/runs';
import type { FoldersAnswer, ProductionAnswer, SiteAnswer, StoreAnswer } from '@relay/contract/site';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { cp, mkdir, readFile, rename, stat, symlink, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { call } from '../testing/commands.ts';
import { saltLantern } from '../testing/demo.ts';
import { startTestServer, type TestServer } from '../testing/server.ts';
import { pause, until } from '../testing/site.ts';

let server: TestServer;
let database: TestServer['database'];
let address: string;
let recipe: string;
const get = <T>(path: string): Promise<T> => server.get<T>(path);
const post = <T>(path: string, body?: unknown): Promise<{ status: number; body: T }> => server.post<T>(path, body);

beforeAll(async () => {
  server = await startTestServer();
  ({ database, address } = server);
  const { home, stores, db } = database;
  await mkdir(join(home, 'raid/cards/A001'), { recursive: true });
  await mkdir(join(home, 'shuttle'));
  await stores.put('Raid', join(home, 'raid'));
  await stores.put('Shuttle', join(home, 'shuttle'));
  await cp(join(saltLantern, 'day-1/S009/S009C001.mov'), join(home, 'raid/cards/A001/A001C001.mov'));
  await writeFile(join(home, 'raid/cards/A001/notes.mov'), 'not a clip');
  await writeFile(join(home, 'raid/cards/A001/A001C001.XML'), '<clip/>');
  await symlink('/etc/hostname', join(home, 'raid/cards/A001/outside.mov'));
  await db.query('INSERT INTO recipe (definition) VALUES ($1)', [JSON.stringify(finishAndCut)]);
  recipe = (await get<RecipeAnswer[]>('/recipes'))[0]?.id as string;
});
afterAll(async () => {
  await server?.close();
});

const begin = async (name: string): Promise<string> => (await post<ProductionAnswer>('/productions', { name })).body.id;
async function readCards(production: string): Promise<ReadingAnswer> {
  const { body } = await post<ReadingAnswer>(`/productions/${production}/readings`, { store: 'raid', folder: 'cards' });
  return until('the reading', async () =>
    (await get<ReadingAnswer[]>(`/productions/${production}/readings`)).find(
      (one) => one.id === body.id && one.state === 'done',
    ),
  );
}

describe('reading', () => {
  it('describes what is there, leaves aside what is no clip with the reason, and follows no link out of the store', async () => {
    const production = await begin('Reading');
    expect(await readCards(production)).toMatchObject({ total: 3, done: 3, problem: null });
    const { lines: clips } = await get<ClipsAnswer>(`/productions/${production}/clips`);
    expect(clips).toMatchObject([{ stem: 'A001C001', roll: 'A001', poster: true, frames: 120, version: 1, way: [] }]);
    const aside = await get<LeftAsideLine[]>(`/productions/${production}/left-aside`);
    expect(aside.map((line) => [line.refusal.path, line.refusal.problem.kind])).toEqual([
      ['A001/notes.mov', 'not-media'],
      ['A001/outside.mov', 'unreadable'],
      ['A001/A001C001.XML', 'sidecar'],
    ]);
    const poster = await fetch(`${address}/clips/${clips[0]?.id}/poster`);
    expect([poster.status, poster.headers.get('content-type')]).toEqual([200, 'image/jpeg']);
  });

  it('again passes over what has not changed, and takes in what has', async () => {
    const production = await begin('Twice');
    await readCards(production);
    expect((await readCards(production)).total).toBeLessThan(3);
    await cp(join(saltLantern, 'day-2/F001/F001_r1.mov'), join(database.home, 'raid/cards/A001/A001C002.mov'));
    await readCards(production);
    expect((await get<ClipsAnswer>(`/productions/${production}/clips`)).lines.map((clip) => clip.stem)).toEqual([
      'A001C001',
      'A001C002',
    ]);
  });

  it('waits for a file that is still being written, and then reads it whole', async () => {
    const production = await begin('Growing');
    const whole = join(saltLantern, 'day-1/S009/S009C001.mov');
    const path = join(database.home, 'raid/growing/A001/A001C009.mov');
    const piece = Math.ceil((await stat(whole)).size / 9);
    await mkdir(dirname(path), { recursive: true });
    await writeFile(path, (await readFile(whole)).subarray(0, piece));
    // A process of its own writes on, whatever this one is busy with.
    let writing = true;
    const written = call('bash', [
      '-c',
      'for n in 1 2 3 4 5 6 7 8; do sleep 0.4; dd if="$1" of="$2" bs="$3" skip=$n seek=$n count=1 conv=notrunc status=none; done',
      ...['bash', whole, path, String(piece)],
    ]).finally(() => {
      writing = false;
    });
    const { body } = await post<ReadingAnswer>(`/productions/${production}/readings`, {
      store: 'raid',
      folder: 'growing',
    });
    while (writing) {
      expect((await get<ClipsAnswer>(`/productions/${production}/clips`)).ids).toEqual([]);
      await pause(100);
    }
    expect((await written).code).toBe(0);
    await until('the reading', async () =>
      (await get<ReadingAnswer[]>(`/productions/${production}/readings`)).find(
        (one) => one.id === body.id && one.state === 'done',
      ),
    );
    expect((await get<ClipsAnswer>(`/productions/${production}/clips`)).lines).toMatchObject([
      { stem: 'A001C009', frames: 120 },
    ]);
  });

  it('of a folder that is not there is refused before it begins', async () => {
    const production = await begin('Nowhere');
    for (const folder of ['gone', '../..', '/etc'])
      expect((await post(`/productions/${production}/readings`, { store: 'raid', folder })).status).toBe(404);
    expect((await get<FoldersAnswer>('/stores/raid/folders?folder=cards')).folders).toEqual(['A001']);
  });
});

describe('the clips sheet', () => {
  it('filters by any fact, every word of it, and sorts both ways', async () => {
    const production = await begin('Sheet');
    await readCards(production);
    const stems = async (query: string): Promise<string[]> =>
      (await get<ClipsAnswer>(`/productions/${production}/clips?${query}`)).lines.map((clip) => clip.stem);
    expect(await stems('sort=size&direction=down')).toEqual(['A001C002', 'A001C001']);
    expect(await stems('sort=rate&direction=down')).toEqual(['A001C001', 'A001C002']);
    expect(await stems('sort=starts&direction=up')).toEqual(['A001C002', 'A001C001']);
    expect(await stems('filter=prores')).toEqual(['A001C002']);
    expect(await stems('filter=1280x720 h.264')).toEqual(['A001C001']);
    expect(await stems('filter=1280x720 prores')).toEqual([]);
    expect(await stems(`filter=${encodeURIComponent("100%_\\'; DROP TABLE clip")}`)).toEqual([]);
    expect((await fetch(`${address}/productions/${production}/clips?sort=anything`)).status).toBe(400);
  });
});

describe('a run', () => {
  it('is checked, made, proved, live on the line, and shown with its pictures', async () => {
    const production = await begin('Run');
    await readCards(production);
    const { lines: clips } = await get<ClipsAnswer>(`/productions/${production}/clips?filter=A001C001`);
    const choice = { clips: clips.map((clip) => clip.id), recipe, store: 'shuttle', folder: 'made' };
    expect((await post<RunCheck>(`/productions/${production}/run-check`, choice)).body).toMatchObject({
      clips: 1,
      outputs: 2,
      refused: [],
      taken: [],
      toDecide: [],
    });

    const heard: string[] = [];
    const line = new AbortController();
    const listening = fetch(`${address}/live`, { signal: line.signal })
      .then(async (response) => {
        for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>)
          heard.push(new TextDecoder().decode(chunk));
      })
      .catch(() => undefined);
    await pause(300);
    const { body: run } = await post<RunAnswer>(`/productions/${production}/runs`, { ...choice, name: 'Night' });
    const ended = await until('the end', async () => {
      const now = await get<RunAnswer>(`/runs/${run.id}`);
      return now.endedAt ? now : null;
    });
    line.abort();
    await listening;
    expect(ended.legs).toEqual({ proved: 1 });
    expect(ended.legLines[0]?.outputs.map((output) => [output.path, output.state])).toEqual([
      ['intermediate/A001/A001C001.mov', 'proved'],
      ['proxy/A001/A001C001.mov', 'proved'],
    ]);
    expect(heard.join('')).toMatch(/"kind":"leg".*"state":"running"/);
    expect(heard.join('')).toMatch(/"state":"proved"/);

    const output = ended.legLines[0]?.outputs[1]?.id;
    const still = await fetch(`${address}/outputs/${output}/still?side=against&frame=24&width=320`);
    expect([still.status, still.headers.get('x-width'), still.headers.get('x-height')]).toEqual([200, '320', '180']);
    expect((await still.arrayBuffer()).byteLength).toBe(320 * 180 * 6);
    expect((await fetch(`${address}/outputs/${output}/still?side=against&frame=-1`)).status).toBe(400);
    const both = await get<Comparison>(`/outputs/${output}/comparison`);
    expect([both.against.title, both.output.title, both.frames, both.against.raster]).toEqual([
      'Original',
      'Proxy',
      120,
      { width: 1280, height: 720 },
    ]);
    // Nothing was put in the place of either.
    expect([both.against.replaced, both.output.replaced]).toEqual([null, null]);
    // The other of the same leg is there to be held against; of another clip there is none.
    expect(both.others.map(({ deliverable }) => deliverable)).toEqual(['Intermediate']);
    expect((await fetch(`${address}/outputs/${output}/comparison?against=${run.id}`)).status).toBe(404);
    const played = await fetch(`${address}/outputs/${output}/played?from=100&hear=nothing`);
    expect([played.status, played.headers.get('content-type')]).toEqual([200, 'video/mp4']);
    expect(
      Buffer.from(await played.arrayBuffer())
        .subarray(4, 8)
        .toString('latin1'),
    ).toBe('ftyp');
    const file = await fetch(`${address}/outputs/${output}/file`, { headers: { Range: 'bytes=4-99' } });
    expect([file.status, file.headers.get('content-disposition'), (await file.arrayBuffer()).byteLength]).toEqual([
      206,
      'attachment; filename=A001C001.mov',
      96,
    ]);
    const beyond = await fetch(`${address}/outputs/${output}/file`, { headers: { Range: 'bytes=999999999-' } });
    expect([beyond.status, await beyond.text()]).toEqual([400, expect.stringContaining('no such range') as string]);
    const opened = await fetch(`${address}/outputs/${output}/file?keep=false`);
    const sizes = ended.legLines[0]?.outputs.map(({ sizeBytes }) => sizeBytes) ?? [];
    expect([opened.headers.get('content-disposition'), (await opened.arrayBuffer()).byteLength]).toEqual([
      null,
      sizes[1],
    ]);
    const made = await get<MadeOfClip>(`/clips/${choice.clips[0]}/outputs`);
    expect(made.map(({ deliverable, run: name, oneFile }) => [deliverable, name, oneFile])).toEqual([
      ['Intermediate', 'Night', true],
      ['Proxy', 'Night', true],
    ]);
    const summed = await get<SizesAnswer>(`/productions/${production}/sizes?by=deliverable`);
    const originalBytes = clips[0]?.sizeBytes;
    expect(summed.all).toMatchObject({
      clips: 1,
      outputs: 2,
      originalBytes,
      outputBytes: sizes.reduce((a, b) => a + b),
    });
    expect(summed.lines.map(({ name, outputBytes }) => [name, outputBytes])).toEqual([
      ['Intermediate', sizes[0]],
      ['Proxy', sizes[1]],
    ]);
    const csv = await (await fetch(`${address}/runs/${run.id}/relink.csv`)).text();
    expect(csv.split('\r\n')[1]).toContain('A001C001,A001,S009,16:45:10;12,120,59.94');

    // Of a long run a page asks for the legs that changed.
    const some = await get<RunAnswer>(`/runs/${run.id}?legs=${ended.legLines[0]?.id}`);
    expect(some).toEqual({ ...ended, now: some.now, bytes: some.bytes, legLines: [some.legLines[0]] });
    expect((await get<RunAnswer>(`/runs/${run.id}?legs=${run.id}`)).legLines).toEqual([]);
    expect((await fetch(`${address}/runs/${run.id}?legs=x`)).status).toBe(400);

    // What is there already is said before the next run begins.
    expect((await post<RunCheck>(`/productions/${production}/run-check`, choice)).body.taken).toHaveLength(2);
  });

  it('is not begun where a store is not mounted, though its folder is there', async () => {
    const production = await begin('Unmounted');
    await readCards(production);
    const { lines: clips } = await get<ClipsAnswer>(`/productions/${production}/clips`);
    const choice = { clips: clips.map((clip) => clip.id), recipe, store: 'shuttle', folder: 'nowhere' };
    const mark = join(database.home, 'shuttle/.relay-store');
    await rename(mark, join(database.home, 'mark'));
    try {
      expect((await post<RunCheck>(`/productions/${production}/run-check`, choice)).body.stores).toMatchObject([
        { id: 'shuttle', there: false, freeBytes: 0 },
      ]);
      const refused = await post<{ error: { what: string } }>(`/productions/${production}/runs`, {
        ...choice,
        name: 'Nowhere',
        asTheyAre: true,
      });
      expect([refused.status, refused.body.error.what]).toEqual([507, 'Shuttle is full or not there']);
    } finally {
      await rename(join(database.home, 'mark'), mark);
    }
    expect(
      (await post<RunCheck>(`/productions/${production}/run-check`, choice)).body.stores[0]?.freeBytes,
    ).toBeGreaterThan(0);
  });

  it('says which originals are not there any more, before it is begun', async () => {
    const production = await begin('Gone');
    await readCards(production);
    const { lines: clips } = await get<ClipsAnswer>(`/productions/${production}/clips`);
    const choice = { clips: clips.map((clip) => clip.id), recipe, store: 'shuttle', folder: 'gone' };
    const gone = async (): Promise<string[]> =>
      (await post<RunCheck>(`/productions/${production}/run-check`, choice)).body.gone;
    expect(await gone()).toEqual([]);
    const [original, aside] = [join(database.home, 'raid/cards/A001/A001C001.mov'), join(database.home, 'aside.mov')];
    await rename(original, aside);
    try {
      expect(await gone()).toEqual(['cards/A001/A001C001.mov']);
    } finally {
      await rename(aside, original);
    }
  });

  it('says which clips would clash, and makes the others', async () => {
    const production = await begin('Clash');
    await readCards(production);
    const { lines: clips } = await get<ClipsAnswer>(`/productions/${production}/clips`);
    await database.db.query(
      `UPDATE clip SET description = jsonb_set(description, '{stem}', '"same"') WHERE production_id = $1`,
      [production],
    );
    const choice = { clips: clips.map((clip) => clip.id), recipe, store: 'shuttle', folder: 'clash' };
    const check = (await post<RunCheck>(`/productions/${production}/run-check`, choice)).body;
    expect(check).toMatchObject({ clips: 0, outputs: 0 });
    expect(check.refused.map((line) => line.problem.what)).toEqual([
      expect.stringContaining('A001/A001C002.mov'),
      expect.stringContaining('A001/A001C001.mov'),
    ]);
    // What mends the recipe says nothing of the places that this run alone chose.
    const places = { proxy: { store: 'raid', folder: 'for-the-cut' } };
    const elsewhere = (await post<RunCheck>(`/productions/${production}/run-check`, { ...choice, places })).body;
    expect(elsewhere.stores.map(({ id }) => id).sort()).toEqual(['raid', 'shuttle']);
    expect(elsewhere.remedy).toEqual(check.remedy);
    expect(elsewhere.remedy?.definition.deliverables.map(({ place }) => place)).toEqual([undefined, undefined]);
    const among = { proxy: { store: 'raid', folder: 'cards/out' } };
    const refused = await post<{ error: { what: string } }>(`/productions/${production}/run-check`, {
      ...choice,
      places: among,
    });
    expect([refused.status, refused.body.error.what]).toEqual([400, 'The outputs would lie among the originals']);
    // A way out of the store is none, of the run or of one of its deliverables.
    for (const way of [{ folder: '../up' }, { places: { proxy: { store: 'raid', folder: '../up' } } }]) {
      const out = await post<{ error: { what: string } }>(`/productions/${production}/run-check`, {
        ...choice,
        ...way,
      });
      expect([out.status, out.body.error.what]).toEqual([400, expect.stringContaining('leads out of the folder')]);
    }
  });
});

it('the wire knows the stores, also one that is not there', async () => {
  await database.stores.put('Gone', join(database.home, 'unplugged'));
  const site = await get<SiteAnswer>('/site');
  const store = (name: string): StoreAnswer | undefined => site.stores.find((one) => one.name === name);
  expect(store('Raid')?.freeBytes).toBeGreaterThan(0);
  expect(store('Gone')?.freeBytes).toBeNull();
  expect(site.legsOpen).toBe(0);
});

it('what happens comes to open pages at once, also to those that take compressed answers', async () => {
  const gone = new AbortController();
  const line = await fetch(`${server.address}/live`, {
    headers: { 'Accept-Encoding': 'gzip, br' },
    signal: gone.signal,
  });
  const reader = line.body?.getReader();
  let said = '';
  const heard = (async () => {
    for (;;) {
      const { value, done } = (await reader?.read()) ?? { done: true };
      if (done || said.includes('Heard at once')) return;
      said += new TextDecoder().decode(value);
      if (said.includes('"productions"')) return;
    }
  })();
  await server.post('/productions', { name: 'Heard at once' });
  await heard;
  gone.abort();
  expect(said).toContain('"what":"productions"');
  expect(line.headers.get('content-encoding')).toBeNull();
});
