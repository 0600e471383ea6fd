import { copyFile, mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { InletAnswer } from '@relay/contract/inlets';
import type { RunAnswer } from '@relay/contract/runs';
import type { Receipt } from '@relay/core/inlet/receipt';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { call, ffmpegMakes } from '../../testing/commands.ts';
import { InletSite, proved } from '../../testing/inletSite.ts';
import { pause } from '../../testing/site.ts';

/** What becomes of originals once an inlet has dealt with them. */

let night: InletSite;
beforeAll(async () => {
  night = await InletSite.start();
});
afterAll(() => night.site.close());
beforeEach(() => night.next());

const after = { originals: 'move', receipts: ['json', 'text'] } as const;
const moving = { after: { originals: after.originals, receipts: [...after.receipts] } };
const allEnded =
  (things: number) =>
  (now: InletAnswer): boolean =>
    now.things.length === things && now.things.every(({ ended }) => ended !== null);
const lies = async (): Promise<string[]> =>
  (await readdir(night.in(), { recursive: true })).filter((name) => /\.\w{3,}$/.test(name)).sort();
const rootOf = async (path: string): Promise<string[]> =>
  (
    await night.site.database.db.query<{ root: string }[]>(
      'SELECT root FROM clip WHERE path = $1 AND starts_with(root, $2) AND description IS NOT NULL ORDER BY root',
      [path, night.from],
    )
  ).map(({ root }) => root);

describe('originals that are dealt with', () => {
  it('are moved with a receipt, never over anything; what is known of them follows, and nothing is made twice', async () => {
    await mkdir(night.in('done'));
    await writeFile(night.in('done/B.mov'), 'somebody keeps this');
    const { body } = await night.add(moving);
    await night.drop(1, 'A.mov');
    await writeFile(night.in('A.xml'), '<clip><scene>14</scene></clip>');
    await night.drop(2, 'B.mov');
    await writeFile(night.in('bad.mov'), 'no clip at all, but long enough to be looked at');
    const ended = await night.until('ended', body.id, allEnded(3));
    expect(ended.things.map(({ key, ended: one }) => [key, one?.end, one?.lies]).sort()).toEqual([
      ['A.mov', 'made', 'done'],
      ['B.mov', 'made', 'done.2'],
      ['bad.mov', 'left', 'left'],
    ]);
    expect(await lies()).toEqual([
      'done.2/B.mov',
      'done.2/B.mov.receipt.json',
      'done.2/B.mov.receipt.txt',
      'done/A.mov',
      'done/A.mov.receipt.json',
      'done/A.mov.receipt.txt',
      'done/A.xml',
      'done/B.mov',
      'left/bad.mov',
      'left/bad.mov.receipt.json',
      'left/bad.mov.receipt.txt',
    ]);
    expect(await readFile(night.in('done/B.mov'), 'utf8')).toBe('somebody keeps this');
    const receipt = JSON.parse(await readFile(night.in('done/A.mov.receipt.json'), 'utf8')) as Receipt;
    expect(receipt).toMatchObject({
      inlet: night.name,
      end: 'made',
      originals: [{ path: 'done/A.mov', end: 'proved' }],
    });
    const [output] = receipt.originals[0]?.outputs ?? [];
    expect(output).toMatchObject({ folder: `Shuttle/${night.to}`, path: 'proxy/A.mov', state: 'proved' });
    const { size } = await stat(join(night.site.database.home, 'Shuttle', night.to, 'proxy/A.mov'));
    expect(output?.sizeBytes).toBe(size);
    expect([await rootOf('A.mov'), await rootOf('B.mov')]).toEqual([[`${night.from}/done`], [`${night.from}/done.2`]]);

    // A person runs what was moved, into another folder.
    const [clip] = await night.site.database.db.query<{ id: string }[]>('SELECT id FROM clip WHERE root = $1', [
      `${night.from}/done`,
    ]);
    const { body: run, status: begun } = await night.site.post<{ id: string }>(
      `/productions/${night.production}/runs`,
      {
        name: 'by hand',
        clips: [clip?.id],
        recipe: night.recipe,
        store: 'shuttle',
        folder: `${night.to}-hand`,
      },
    );
    expect(begun).toBe(201);
    await waitFor(async () => (await night.site.get<RunAnswer>(`/runs/${run.id}`)).legLines[0]?.state === 'proved');

    // Dropped again under any name it is known, also when somebody cleared it up meanwhile.
    await night.drop(1, 'A.mov');
    await night.until('known', body.id, ({ things }) => things.length === 4);
    await rm(night.in('done'), { recursive: true });
    await night.drop(1, 'again.mov');
    const known = await night.until('known again', body.id, ({ things }) => things.length === 5);
    expect(known.things.slice(0, 2).map(({ known: count, clips }) => [count, clips])).toEqual([
      [1, 0],
      [1, 0],
    ]);
    expect(await night.outputs()).toEqual(['proxy/A.mov', 'proxy/B.mov']);
  });

  it('make room for a new version of their name: the old output is set aside, the new original lies beside the old', async () => {
    const { body } = await night.add(moving);
    await night.drop(1, 'A.mov');
    await night.until('made', body.id, allEnded(1));
    await night.drop(2, 'A.mov');
    const again = await night.until('made again', body.id, allEnded(2));
    expect(again.things.map(({ ended, left }) => [ended?.end, ended?.lies, left])).toEqual([
      ['made', 'done.2', []],
      ['made', 'done', []],
    ]);
    expect(await night.outputs()).toEqual(['proxy/A.mov', 'superseded/proxy/A.1.mov']);
  });

  it('are moved with all that belongs to them or not at all, and it is said', async () => {
    const { body } = await night.add({ ...moving, begin: { kind: 'at', time: inAnHour() } });
    await night.drop(1, 'A.mov');
    await writeFile(night.in('A.xml'), '<clip><scene>14</scene></clip>');
    const taken = await night.until('taken', body.id, ({ things }) => things.length === 1);
    // A file that something is mounted on cannot be moved (rename(2), EBUSY; link(2), EXDEV).
    await call('mount', ['--bind', night.in('A.xml'), night.in('A.xml')]);
    try {
      await night.site.post(`/runs/${taken.things[0]?.runs[0]?.id ?? ''}`, { notBefore: null });
      const ended = await night.until('ended', body.id, allEnded(1));
      expect(ended.things[0]?.ended).toMatchObject({ end: 'made', lies: '' });
      expect(ended.things[0]?.trouble).toMatch(/^A\.mov was not moved: /);
      expect((await lies()).filter((name) => !name.includes('receipt'))).toEqual(['A.mov', 'A.xml']);
      expect(await rootOf('A.mov')).toEqual([night.from]);
    } finally {
      await call('umount', ['-l', night.in('A.xml')]);
    }
  });

  it('are moved from a full disk, too; that no receipt could be laid is said', async () => {
    await call('mount', ['-t', 'tmpfs', '-o', 'size=1m', 'tmpfs', night.in()]);
    try {
      const { body } = await night.add({ ...moving, begin: { kind: 'at', time: inAnHour() } });
      await night.drop(1, 'A.mov');
      const taken = await night.until('taken', body.id, ({ things }) => things.length === 1);
      await writeFile(night.in('.ballast'), Buffer.alloc(2_000_000, 1)).catch(() => undefined);
      await night.site.post(`/runs/${taken.things[0]?.runs[0]?.id ?? ''}`, { notBefore: null });
      const ended = await night.until('ended', body.id, allEnded(1));
      expect(ended.things[0]?.ended).toMatchObject({ end: 'made', lies: 'done' });
      expect(ended.things[0]?.trouble).toMatch(/^No receipt lies beside A\.mov: The disk is full/);
      const there = await readdir(night.in('done'));
      expect(there.filter((name) => name.includes('receipt.') || name.includes('relay-part'))).toEqual([]);
      expect(there).toContain('A.mov');
    } finally {
      await call('umount', ['-l', night.in()]);
    }
  });

  it('wait where their store is away, and are moved when it is back', async () => {
    const { body } = await night.add({ ...moving, begin: { kind: 'at', time: inAnHour() } });
    await night.drop(3, 'A.mov');
    const taken = await night.until('taken', body.id, ({ things }) => things.length === 1);
    const { db } = night.site.database;
    const looked = (): Promise<unknown[]> =>
      db.query('SELECT 1 FROM clip WHERE root = $1 AND looked_at IS NOT NULL', [night.from]);
    await waitFor(async () => (await looked()).length === 1);
    // As long as it is looked at, it waits for that.
    await db.query('UPDATE clip SET looked_at = NULL WHERE root = $1', [night.from]);
    await night.site.post(`/runs/${taken.things[0]?.runs[0]?.id ?? ''}`, { notBefore: null });
    await waitFor(async () => proved(await night.inlet(body.id)) === 1);
    const estuary = join(night.site.database.home, 'Estuary');
    await rename(estuary, `${estuary}-away`);
    await db.query('UPDATE clip SET looked_at = now() WHERE root = $1', [night.from]);
    await pause(4_000);
    expect((await night.inlet(body.id)).things[0]?.ended).toBeNull();
    await rename(`${estuary}-away`, estuary);
    const back = await night.until('moved', body.id, allEnded(1));
    expect(back.things[0]?.ended?.lies).toBe('done');
    expect(back.things[0]?.trouble).toBeNull();
    expect(await rootOf('A.mov')).toEqual([`${night.from}/done`]);
    expect(await lies()).toContain('done/A.mov');
  });

  it('that are left go back to be tried again, and then with the others when they are made', async () => {
    const { body } = await night.add(moving);
    const whole = await readFile(join(night.clips, '3.mov'));
    await writeFile(night.in('C.mov'), whole.subarray(0, whole.length / 2));
    const left = await night.until('left', body.id, allEnded(1));
    expect(await lies()).toEqual(['left/C.mov', 'left/C.mov.receipt.json', 'left/C.mov.receipt.txt']);
    await writeFile(night.in('left/C.mov'), whole);
    const { status } = await night.site.post(`/things/${left.things[0]?.id ?? ''}/again`);
    expect(status).toBe(204);
    const made = await night.until('made', body.id, (now) => allEnded(1)(now) && now.things[0]?.ended?.end === 'made');
    expect(made.things[0]?.ended?.lies).toBe('done');
    expect((await lies()).filter((name) => name.endsWith('.mov'))).toEqual(['done/C.mov']);
  });

  it('that are left do not go back where another of the name was taken up since', async () => {
    const { body } = await night.add(moving);
    const whole = await readFile(join(night.clips, '4.mov'));
    await writeFile(night.in('C.mov'), whole.subarray(0, whole.length / 2));
    const left = await night.until('left', body.id, allEnded(1));
    await night.drop(4, 'C.mov');
    await night.until('made', body.id, ({ things }) => things[0]?.ended?.end === 'made');
    const again = (): Promise<{ status: number; body: { error: { what: string } } }> =>
      night.site.post(`/things/${left.things[0]?.id ?? ''}/again`);
    // The newer has gone on to done: the name is free, and the older comes back.
    expect((await again()).status).toBe(204);
    await night.until('left again', body.id, allEnded(2));
    await writeFile(night.in('C.mov'), 'somebody puts another there');
    const refused = await night.site.post<{ error: { what: string } }>(
      `/things/${(await night.inlet(body.id)).things.find(({ ended }) => ended?.end === 'left')?.id ?? ''}/again`,
    );
    expect([refused.status, refused.body.error.what]).toEqual([
      409,
      expect.stringMatching(/^C\.mov cannot be moved back: /) as string,
    ]);
    expect(await readFile(night.in('C.mov'), 'utf8')).toBe('somebody puts another there');
  });

  it('stay as a whole while something of their folder still waits for a decision', async () => {
    const { body } = await night.add({ ...moving, decideRules: { noTimecode: 'wait' } });
    await mkdir(night.in('K1/DCIM'), { recursive: true });
    await night.drop(1, 'K1/DCIM/A.mov');
    await night.until('made', body.id, ({ things }) => things[0]?.ended?.end === 'made');
    expect(await lies()).toContain('done/K1/DCIM/A.mov');
    // A second card of the name, of which one clip waits; both are there before either was quiet.
    await mkdir(night.in('K1/DCIM'), { recursive: true });
    const unlabelled = join(night.clips, 'unlabelled.mov');
    await ffmpegMakes('-i', join(night.clips, '4.mov'), '-c', 'copy', '-write_tmcd', '0', unlabelled);
    await night.drop(2, 'K1/DCIM/B.mov');
    await copyFile(unlabelled, night.in('K1/DCIM/D.mov'));
    await night.until('waits', body.id, ({ things }) => things[0]?.waits.length === 1 && things[0].legs.proved === 1);
    await pause(3_500);
    expect((await lies()).filter((name) => name.startsWith('K1/'))).toEqual(['K1/DCIM/B.mov', 'K1/DCIM/D.mov']);
    const [clip] = (await night.inlet(body.id)).things[0]?.waits ?? [];
    await night.site.database.db.query(
      `INSERT INTO decision (clip_id, rule, answer, note, who) VALUES ($1, 'noTimecode', 'as it is', '', 'assistant')`,
      [clip?.clip],
    );
    const ended = await night.until('ended', body.id, ({ things }) => things[0]?.ended?.end === 'made');
    expect(ended.things[0]?.ended?.lies).toBe('done.2');
    expect(await lies()).toEqual(
      expect.arrayContaining(['done.2/K1.receipt.json', 'done.2/K1/DCIM/B.mov', 'done.2/K1/DCIM/D.mov']),
    );
  });

  it('are found where they were moved to, if the server was killed between the move and writing that down', async () => {
    const { body } = await night.add();
    await night.drop(4, 'A.mov');
    const { things } = await night.until('made', body.id, allEnded(1));
    await night.site.post(`/inlets/${body.id}/pause`, { paused: true });
    await pause(2_500);
    await mkdir(night.in('done'));
    await rename(night.in('A.mov'), night.in('done/A.mov'));
    await night.site.database.db.query(
      'UPDATE inlet_thing SET ended = NULL, ended_at = NULL, moving = $2 WHERE id = $1',
      [things[0]?.id, JSON.stringify({ from: '', to: 'done', names: ['A.mov'] })],
    );
    await night.site.post(`/inlets/${body.id}/pause`, { paused: false });
    await night.until('found', body.id, ({ things: now }) => now[0]?.ended?.lies === 'done');
    expect(await rootOf('A.mov')).toEqual([`${night.from}/done`]);
  });

  it('stay where another production has read them, and it is said', async () => {
    const { body: other } = await night.site.post<{ id: string }>('/productions', { name: `Other ${night.name}` });
    const { body } = await night.add({ ...moving, begin: { kind: 'at', time: inAnHour() } });
    await night.drop(1, 'A.mov');
    const taken = await night.until('taken', body.id, ({ things }) => things.length === 1);
    await night.site.database.db.query(
      `INSERT INTO clip (production_id, store_id, root, path, stem, roll, size_bytes, description)
       SELECT $1, store_id, '', root || '/' || path, stem, roll, size_bytes, description
       FROM clip
       WHERE root = $2`,
      [other.id, night.from],
    );
    await night.site.post(`/runs/${taken.things[0]?.runs[0]?.id ?? ''}`, { notBefore: null });
    const ended = await night.until('ended', body.id, allEnded(1));
    expect(ended.things[0]?.trouble).toBe(
      `A.mov was not moved: Other ${night.name} has read it in the store itself, and would lose it`,
    );
    expect(await lies()).toContain('A.mov');
  });
});

it('is refused where another inlet would lose its originals by it', async () => {
  const first = await night.add();
  const second = await night.add({ ...moving, name: `${night.name} moves` });
  expect([first.status, second.status]).toEqual([201, 409]);
  expect(second.body.error.what).toBe(
    `${night.name} moves would move originals away from ${night.name}: both follow ${night.from}`,
  );
});

it('tells every open page once what it had in hand has ended', async () => {
  const lines: string[] = [];
  const stop = new AbortController();
  const stream = await fetch(`${night.site.address}/live`, { signal: stop.signal });
  void (async () => {
    for await (const chunk of stream.body as unknown as AsyncIterable<Uint8Array>)
      lines.push(
        ...Buffer.from(chunk)
          .toString()
          .split('\n')
          .filter((line) => line.includes('"kind":"inlet"')),
      );
  })().catch(() => undefined);
  const { body } = await night.add();
  await night.drop(1, 'A.mov');
  await night.drop(2, 'B.mov');
  await writeFile(night.in('bad.mov'), 'no clip at all, but long enough to be looked at');
  await night.until('ended', body.id, allEnded(3));
  await waitFor(() => Promise.resolve(lines.length > 0));
  await pause(3_000);
  stop.abort();
  expect(lines.map((line) => JSON.parse(line.replace('data: ', '')) as unknown)).toEqual([
    { kind: 'inlet', production: night.production, inlet: body.id, name: night.name, made: 2, left: 1, eyes: 0 },
  ]);
});

const inAnHour = (): string => new Date(Date.now() + 3_600_000).toTimeString().slice(0, 5);

async function waitFor(holds: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; tries < 600; tries += 1) {
    if (await holds()) return;
    await pause(100);
  }
  throw new Error('waited in vain');
}
