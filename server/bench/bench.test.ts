import type { ProductionAnswer } from '@relay/contract/site';
import type { BenchAnswer, BenchGroup, ChainedClip } from '@relay/contract/bench';
import type { LutAnswer, LutLine } from '@relay/contract/colour';
import type { CorrectionsChanged } from '@relay/contract/corrections';
import { emptyChain, type Chain } from '@relay/core/colour/chain/chain';
import { fromCodes } from '@relay/core/colour/ycbcr';
import { identity3d } from '@relay/core/colour/lut/lut';
import { writeCube } from '@relay/core/colour/lut/cubeWrite';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { createHash } from 'node:crypto';
import { cp, mkdir, rename } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { RunAnswer } from '@relay/contract/runs';
import { saltLantern } from '../../testing/demo.ts';
import { startTestServer, type TestServer } from '../../testing/server.ts';

let server: TestServer;
let production: string;
beforeAll(async () => {
  server = await startTestServer();
  const { home, stores } = server.database;
  await mkdir(join(home, 'shuttle'), { recursive: true });
  for (const name of ['A001C003.mov', 'A001C004.mov'])
    await cp(join(saltLantern, 'day-1/A001', name), join(home, 'raid/cards/A001', name), { recursive: true });
  await stores.put('Raid', join(home, 'raid'));
  await stores.put('Shuttle', join(home, 'shuttle'));
  await server.database.db.query('INSERT INTO recipe (definition) VALUES ($1)', [JSON.stringify(finishAndCut)]);
  production = (await server.post<ProductionAnswer>('/productions', { name: 'Looks' })).body.id;
  await server.post(`/productions/${production}/readings`, { store: 'raid', folder: 'cards' });
  for (let wait = 0; wait < 300; wait += 1) {
    if ((await server.get<ProductionAnswer>(`/productions/${production}`)).counts.clips === 2) break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
});
afterAll(() => server?.close());

const bring = async (text: string, name: string) => {
  const response = await fetch(`${server.address}/luts?name=${encodeURIComponent(name)}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: text,
  });
  return { status: response.status, body: (await response.json()) as LutAnswer & { error?: { what: string } } };
};
const clipId = async (stem: string): Promise<string> =>
  (await server.database.db.query<{ id: string }[]>('SELECT id FROM clip WHERE stem = $1', [stem]))[0]?.id as string;
const benchOf = async (stem: string) => server.get<BenchAnswer>(`/clips/${await clipId(stem)}/bench`);
const camera: Chain = { ...emptyChain, input: 'slog3-sgamut3cine', output: 'bt709', rendering: 'estuary' };

describe('the cabinet', () => {
  const text = writeCube({ cube: identity3d(3), title: 'Quay' });

  it('keeps bytes as they are, by their hash, examined', async () => {
    const { status, body } = await bring(text, 'quay.cube');
    expect(status).toBe(201);
    expect(body).toMatchObject({
      hash: createHash('sha256').update(text).digest('hex'),
      name: 'quay',
      format: 'cube',
      says: '3-point cube',
      sound: true,
      older: 0,
      usedBy: 0,
    });
    expect(body.examined.findings.map((finding) => finding.rule)).toEqual(['identity']);
    expect(await (await fetch(`${server.address}/luts/${body.hash}/file`)).text()).toBe(text);
    expect((await bring(text, 'another-name.cube')).body.hash).toBe(body.hash);
  });

  it('shows the newest version of a name and finds the older ones', async () => {
    const second = (await bring(writeCube({ cube: identity3d(4), title: 'Quay' }), 'quay.cube')).body;
    const lines = (await server.get<LutLine[]>('/luts')).filter((line) => line.name === 'quay');
    expect(lines).toMatchObject([{ hash: second.hash, older: 1 }]);
    expect(second.versions).toHaveLength(2);
  });

  it('goes by its file, with its title beside: files that share a title are not versions of each other', async () => {
    const other = (await bring(writeCube({ cube: identity3d(5), title: 'Quay' }), 'pier.cube')).body;
    expect(other).toMatchObject({ name: 'pier', says: '5-point cube, titled Quay', older: 0 });
    expect((await server.get<LutLine[]>('/luts')).map((line) => line.name)).toEqual(
      expect.arrayContaining(['pier', 'quay']),
    );
    await fetch(`${server.address}/luts/${other.hash}`, { method: 'DELETE' });
  });

  it('refuses what is no LUT, with the line, and keeps nothing of it', async () => {
    const before = (await server.get<LutLine[]>('/luts')).length;
    expect(await bring('LUT_3D_SIZE 2\n0 0 nan\n', 'bad.cube')).toMatchObject({
      status: 400,
      body: { error: { what: 'bad.cube: line 2: nan is not a number that a picture can have' } },
    });
    expect((await bring('', 'empty.cube')).status).toBe(400);
    expect((await server.post('/luts/from-store', { store: 'raid', path: '../secret' })).status).toBeGreaterThanOrEqual(
      400,
    );
    expect((await server.post('/luts/from-store', { store: 'raid', path: 'salt-lantern/not-there.cube' })).status).toBe(
      404,
    );
    expect((await server.get<LutLine[]>('/luts')).length).toBe(before);
  });

  it('takes names, tags and what a LUT takes and gives', async () => {
    const [line] = await server.get<LutLine[]>('/luts');
    const { body } = await server.post<LutAnswer>(`/luts/${line?.hash}`, {
      name: 'Quay look',
      tags: ['look'],
      takes: 'bt709',
      rangeOut: 'legal',
    });
    expect(body).toMatchObject({ name: 'Quay look', tags: ['look'], takes: 'bt709', gives: null, rangeOut: 'legal' });
    expect((await server.post(`/luts/${line?.hash}`, { takes: 'slog9' })).status).toBe(400);
  });
});

describe('chains', () => {
  it('hold by the nearest rule, reach clips that fit, and are undone', async () => {
    const { group } = await benchOf('A001C003');
    const logs = async (): Promise<number> =>
      (await server.get<ProductionAnswer>(`/productions/${production}`)).counts.logWithout;
    for (let wait = 0; wait < 300 && (await logs()) < 2; wait += 1)
      await new Promise((resolve) => setTimeout(resolve, 100));
    expect(await logs()).toBe(2);
    const wide = await server.post<CorrectionsChanged>(`/productions/${production}/colour`, {
      to: { scope: 'group', key: group.key },
      chain: camera,
    });
    expect(wide.body).toMatchObject({ clips: 2, replaced: 0 });
    expect(await benchOf('A001C004')).toMatchObject({ chain: camera, from: { scope: 'group' }, rollClips: 2 });
    // Said once, it is no longer a finding either.
    expect(
      await server.database.db.query(`SELECT stem FROM clip WHERE findings @> '[{"rule": "logAsVideo"}]'`),
    ).toEqual([]);
    const own: Chain = { ...camera, rendering: null };
    const near = await server.post<CorrectionsChanged>(`/productions/${production}/colour`, {
      to: { scope: 'clip', clips: [await clipId('A001C004')] },
      chain: own,
    });
    expect(await benchOf('A001C004')).toMatchObject({ chain: own, from: { scope: 'clip' } });
    expect(await benchOf('A001C003')).toMatchObject({ chain: camera });
    // What is used on a whole roll holds for the whole roll: the nearer rule gives way, and comes back with an undo.
    const roll = await server.post<CorrectionsChanged>(`/productions/${production}/colour`, {
      to: { scope: 'roll', key: 'A001' },
      chain: null,
    });
    expect(roll.body).toMatchObject({ clips: 2, replaced: 1 });
    expect(await benchOf('A001C004')).toMatchObject({ chain: null, from: { scope: 'roll' } });
    expect((await server.post(`/correction-changes/${near.body.change}/undo`)).status).toBe(409);
    expect((await server.post(`/correction-changes/${roll.body.change}/undo`)).status).toBe(204);
    expect((await server.post(`/correction-changes/${roll.body.change}/undo`)).status).toBe(409);
    expect(await benchOf('A001C004')).toMatchObject({ chain: own, from: { scope: 'clip' } });
    expect((await server.post(`/correction-changes/${near.body.change}/undo`)).status).toBe(204);
    expect(await benchOf('A001C004')).toMatchObject({ chain: camera, from: { scope: 'group' } });
    const groups = await server.get<BenchGroup[]>(`/productions/${production}/bench`);
    expect(groups.find((one) => one.key === group.key)).toMatchObject({
      clips: 2,
      chained: 2,
      says: 'S-Log3, S-Gamut3.Cine → BT.709 by estuary',
    });
    expect(
      (
        await server.get<ChainedClip[]>(
          `/productions/${production}/colour?scope=group&key=${encodeURIComponent(group.key)}`,
        )
      ).map((clip) => clip.stem),
    ).toEqual(['A001C003', 'A001C004']);
  });

  it('refuse what is no chain', async () => {
    for (const chain of [
      { ...camera, input: 'slog9' },
      {
        ...camera,
        steps: [
          {
            kind: 'cdl',
            id: 'a',
            name: 'x',
            cdl: { slope: [1, 1, 1], offset: [0, 0, 0], power: [0, 1, 1], saturation: 1 },
          },
        ],
      },
      { ...camera, surprise: 1 },
    ]) {
      expect(
        (await server.post(`/productions/${production}/colour`, { to: { scope: 'production' }, chain })).status,
      ).toBe(400);
    }
    expect(
      (await server.post(`/productions/${production}/colour`, { to: { scope: 'roll', key: 'Z999' }, chain: camera }))
        .status,
    ).toBe(404);
  });
});

it("a frame comes in full depth: the 18 % patch of the chart is S-Log3's 420 of 1023", async () => {
  const response = await fetch(`${server.address}/clips/${await clipId('A001C003')}/frame?frame=30`);
  const [width, height] = [Number(response.headers.get('x-width')), Number(response.headers.get('x-height'))];
  expect([width, height, response.headers.get('x-matrix')]).toEqual([1920, 1080, 'bt709']);
  const planes = new Uint16Array(await response.arrayBuffer());
  // The fourth patch of the chart's bottom row is painted at 18 % (demo/scene/slate.ts).
  const { matrix, offset } = fromCodes('bt709');
  const at = (x: number, y: number): number[] => {
    const codes = [0, 1, 2].map((p) => (planes[p * width * height + y * width + x] as number) / 65_535);
    return [0, 3, 6].map(
      (row) =>
        (matrix[row] as number) * (codes[0] as number) +
        (matrix[row + 1] as number) * (codes[1] as number) +
        (matrix[row + 2] as number) * (codes[2] as number) +
        offset[(row / 3) as 0 | 1 | 2],
    );
  };
  const patch = [0, 1, 2].map(
    (c) => [...Array(64).keys()].reduce((sum, n) => sum + (at(1511 + (n % 8), 356 + (n >> 3))[c] as number), 0) / 64,
  );
  for (const value of patch) expect(Math.abs(value * 1023 - 420)).toBeLessThan(4);
  expect((await fetch(`${server.address}/clips/${await clipId('A001C003')}/frame?frame=99999`)).status).toBe(404);
});

it('a frame of an original that is away names the file, and what to do about its store', async () => {
  const { home } = server.database;
  const id = await clipId('A001C004');
  const said = async (): Promise<unknown> => (await fetch(`${server.address}/clips/${id}/frame?frame=0`)).json();
  const what = 'A001/A001C004.mov is not there (any more)';
  const moved = async (from: string, remedy: string): Promise<void> => {
    await rename(join(home, from), join(home, 'elsewhere'));
    expect(await said()).toEqual({ error: { what, remedy } });
    await rename(join(home, 'elsewhere'), join(home, from));
  };
  await moved(
    'raid/cards/A001/A001C004.mov',
    'See whether it is on Raid; look for what moved under Arrivals, Originals',
  );
  await moved('raid', 'Mount Raid, then look again');
});

it("a run bakes the chain from the cabinet's bytes, proves it by core, and lays the LUT beside the intermediate", async () => {
  const { hash } = (await bring(writeCube({ cube: identity3d(5), title: 'Run look' }), 'run-look.cube')).body;
  const chain: Chain = {
    ...camera,
    steps: [
      {
        kind: 'lut',
        id: 'l',
        name: 'Run look',
        muted: false,
        lut: hash,
        takes: 'bt709',
        gives: 'bt709',
        rangeIn: 'full',
        rangeOut: 'full',
      },
    ],
  };
  const clip = await clipId('A001C004');
  await server.post(`/productions/${production}/colour`, { to: { scope: 'clip', clips: [clip] }, chain });
  const [recipe] = await server.get<{ id: string }[]>('/recipes');
  const { body: run } = await server.post<RunAnswer>(`/productions/${production}/runs`, {
    clips: [clip],
    recipe: recipe?.id,
    store: 'shuttle',
    folder: 'looks',
    name: 'Looks',
    asTheyAre: true,
  });
  let answer = run;
  for (let wait = 0; wait < 1200 && !answer.endedAt; wait += 1) {
    await new Promise((resolve) => setTimeout(resolve, 100));
    answer = await server.get<RunAnswer>(`/runs/${run.id}`);
  }
  expect(answer.legLines.map((leg) => [leg.state, leg.problem])).toEqual([['proved', null]]);
  const outputs = await server.database.db.query<
    {
      role: string;
      proof: { comparisons: { name: string; found: string; holds: boolean }[] };
      relink: { lut: string; colour: string };
    }[]
  >('SELECT role, proof, relink FROM output o JOIN leg l ON l.id = o.leg_id WHERE l.run_id = $1 ORDER BY role', [
    run.id,
  ]);
  expect(outputs.map((output) => output.role)).toEqual(['intermediate', 'proxy']);
  expect(outputs[1]?.proof.comparisons.find((one) => one.name === 'colour by the chain')).toMatchObject({
    holds: true,
  });
  expect(outputs[1]?.relink.colour).toContain('Run look');
  expect(outputs[0]?.relink.lut).toMatch(/^luts\/run-look-[0-9a-f]{8}\.cube$/);
  const { runs } = await server.get<LutAnswer>(`/luts/${hash}`);
  expect(runs).toMatchObject([{ name: 'Looks' }]);
});
