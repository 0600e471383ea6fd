import { appendFile, copyFile, mkdir, open, readdir, readFile, rename, rm, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { call, scratchFolder } from '../../testing/commands.ts';
import { paintClip, TestInlet } from '../../testing/inlet.ts';
import { pause } from '../../testing/site.ts';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { writeMhl } from '@relay/core/custody/mhl';

let clips: string;
let home: string;
let count = 0;
let watched: TestInlet;

beforeAll(async () => {
  clips = await scratchFolder();
  for (let n = 1; n <= 6; n += 1) await paintClip(join(clips, `${n}.mov`), n);
  home = await scratchFolder();
});
beforeEach(async () => {
  count += 1;
  watched = await TestInlet.at(join(home, String(count)));
});

const drop = (n: number, name: string): Promise<void> => copyFile(join(clips, `${n}.mov`), join(watched.source, name));
const outputs = async (): Promise<string[]> =>
  (await readdir(watched.out, { recursive: true })).filter((name) => name.endsWith('.mov')).sort();

describe('a copy that is not whole', () => {
  it('is left alone while it pauses for longer than the quiet time with the file open, and made once it is closed', async () => {
    void watched.watch();
    const bytes = await readFile(join(clips, '1.mov'));
    const copy = await open(join(watched.source, 'A.mov'), 'w');
    await copy.write(bytes.subarray(0, bytes.length / 2));
    await pause(2_000);
    expect(watched.of('taken')).toEqual([]);
    expect(watched.of('waits').at(-1)?.why).toMatch(/A\.mov is open/);
    await copy.write(bytes.subarray(bytes.length / 2));
    await copy.close();
    await watched.until('made', () => watched.made.length === 1);
    expect(watched.of('left')).toEqual([]);
  });

  it('that another machine pauses is left when it cannot be used, and made when it is whole: nothing of it stays', async () => {
    void watched.watch({ events: false, everyMs: 1_000 });
    const bytes = await readFile(join(clips, '1.mov'));
    await writeFile(join(watched.source, 'A.mov'), bytes.subarray(0, bytes.length / 2));
    await watched.until('left', () => watched.of('left').length === 1);
    expect(watched.of('left')[0]).toMatchObject({ path: 'A.mov', again: false });
    expect(await outputs()).toEqual([]);
    await appendFile(join(watched.source, 'A.mov'), bytes.subarray(bytes.length / 2));
    await watched.until('made', () => watched.made.length === 1);
    expect(await outputs()).toEqual(['proxy/A.mov']);
  });

  it('has a temporary name until it is whole', async () => {
    void watched.watch();
    await drop(1, 'A.mov.part');
    await writeFile(join(watched.source, 'A.mov'), '');
    await pause(1_500);
    expect(watched.of('taken')).toEqual([]);
    await rename(join(watched.source, 'A.mov.part'), join(watched.source, 'A.mov'));
    await watched.until('made', () => watched.made.length === 1);
    expect(watched.of('left')).toEqual([]);
  });

  it('is a card until all of it is there: its clips are taken up together', async () => {
    void watched.watch();
    const card = join(watched.source, 'C004', 'PRIVATE', 'CLIP');
    await mkdir(card, { recursive: true });
    await drop(1, 'C004/PRIVATE/CLIP/C1.mov');
    for (const n of [2, 3]) {
      await pause(450);
      await drop(n, `C004/PRIVATE/CLIP/C${n}.mov`);
    }
    await watched.until('made', () => watched.made.length === 3);
    expect(watched.of('taken').map(({ thing, files }) => [thing, files])).toEqual([['C004', 3]]);
    expect(await outputs()).toEqual(['C1', 'C2', 'C3'].map((name) => `proxy/C004/PRIVATE/CLIP/${name}.mov`));
  });

  it('is a card by its index alone, whatever its folders are called', async () => {
    void watched.watch();
    await mkdir(join(watched.source, 'K2', 'ESSENCE'), { recursive: true });
    await writeFile(join(watched.source, 'K2', 'CARD.XML'), '<card/>');
    await drop(1, 'K2/ESSENCE/C1.mov');
    await pause(450);
    await drop(2, 'K2/ESSENCE/C2.mov');
    await watched.until('made', () => watched.made.length === 2);
    expect(watched.of('taken').map(({ thing, files }) => [thing, files])).toEqual([['K2', 3]]);
  });

  it('is taken up at once when its manifest says that it is whole, or its partner', async () => {
    void watched.watch({ rules: { quietMs: 60_000, partner: { ending: 'done', needed: false } } });
    await mkdir(join(watched.source, 'R1'));
    await drop(1, 'R1/A.mov');
    const { length } = await readFile(join(clips, '1.mov'));
    const entry = { path: 'A.mov', sizeBytes: length, modifiedAt: null, hashes: { md5: '0'.repeat(32) } };
    const manifest = {
      generation: 1,
      createdAt: '2026-11-20T10:00:00Z',
      host: 'set',
      tool: 'a copy program',
      process: 'transfer' as const,
      entries: [{ ...entry, action: 'original' as const }],
    };
    await writeFile(join(watched.source, 'R1', 'R1.mhl'), writeMhl(manifest));
    await drop(2, 'B.mov');
    await drop(3, 'C.mov');
    await writeFile(join(watched.source, 'B.mov.done'), '');
    await watched.until('made', () => watched.made.length === 2);
    expect(watched.made).toEqual(['B.mov', 'R1/A.mov']);
    // A partner that came long before counts as well.
    await writeFile(join(watched.source, 'D.done'), '');
    await pause(1_000);
    await drop(4, 'D.mov');
    await watched.until('the fourth', () => watched.made.length === 3);
    expect(
      watched
        .of('taken')
        .map(({ thing, by }) => [thing, by])
        .sort(),
    ).toEqual([
      ['B.mov', 'partner'],
      ['D.mov', 'partner'],
      ['R1', 'manifest'],
    ]);
  });
});

describe('what was made is not made again', () => {
  beforeEach(async () => {
    await drop(1, 'A.mov');
    await watched.watch({ once: true });
    expect(watched.made).toEqual(['A.mov']);
    watched = await TestInlet.at(join(home, String(count)));
  });

  it('after a rename, as a second copy, or when the folder was moved and its times were lost', async () => {
    await rename(join(watched.source, 'A.mov'), join(watched.source, 'B.mov'));
    await mkdir(join(watched.source, 'deep'));
    await drop(1, 'deep/C.mov');
    await utimes(join(watched.source, 'deep/C.mov'), new Date('2020-01-01'), new Date('2020-01-01'));
    await watched.watch({ once: true });
    expect(watched.made).toEqual([]);
    expect(
      watched
        .of('known')
        .map(({ path, as }) => [path, as])
        .sort(),
    ).toEqual([
      ['B.mov', 'A.mov'],
      ['deep/C.mov', expect.stringMatching(/^[AB]\.mov$/)],
    ]);
    expect(await outputs()).toEqual(['proxy/A.mov']);
  });

  it('when it is a result that came back, by whatever name', async () => {
    await copyFile(join(watched.out, 'proxy/A.mov'), join(watched.source, 'new.mov'));
    await watched.watch({ once: true });
    expect([watched.made, watched.of('known').map(({ path, result }) => [path, result])]).toEqual([
      [],
      [['new.mov', true]],
    ]);
  });

  it('when the sheet and memory are lost but the outputs are there: they are proved, not made', async () => {
    await rm(join(watched.out, 'relay-inlet.jsonl'));
    await watched.watch({ once: true });
    expect(watched.of('made').flatMap(({ outputs: made }) => made.map(({ alreadyThere }) => alreadyThere))).toEqual([
      true,
    ]);
  });

  it('but new content under its name is a new version, and the old output is set aside', async () => {
    await drop(2, 'A.mov');
    await watched.watch({ once: true });
    expect(watched.made).toEqual(['A.mov']);
    expect(await outputs()).toEqual(['proxy/A.mov', 'superseded/proxy/A.1.mov']);
  });

  it('and originals whose outputs would get one name are left: where one is made, waits for its turn, or none is', async () => {
    await drop(2, 'A.mp4');
    for (const n of [3, 4]) await drop(n, `B.${n === 3 ? 'mov' : 'mp4'}`);
    await paintClip(join(watched.source, 'long.mov'), 5, 1_500);
    void watched.watch({ lanes: 1, recipe: finishAndCut });
    await watched.until('the long one', () => watched.of('begun').length === 1);
    await drop(5, 'D.mov');
    await watched.until('taken up', () => watched.of('taken').some(({ thing }) => thing === 'D.mov'));
    await drop(6, 'D.mp4');
    await watched.until('what is left', () => watched.of('left').length === 4);
    expect(
      watched
        .of('left')
        .map(({ what }) => what)
        .sort(),
    ).toEqual([
      'intermediate/B.mov would also be made from B.mov',
      'intermediate/B.mov would also be made from B.mp4',
      'intermediate/D.mov is already the name of what is made of D.mov',
      'proxy/A.mov is already the name of what is made of A.mov',
    ]);
    await watched.until('both', () => watched.made.length === 2);
    expect((await outputs()).filter((name) => name.includes('superseded'))).toEqual([]);
  });

  it('when two that are alike arrive together, or one while the other is made: one is made', async () => {
    for (const name of ['C.mov', 'D.mov']) await drop(3, name);
    for (const name of ['E.mov', 'deep.mov']) await drop(4, name);
    await watched.watch({ once: true, lanes: 1 });
    expect(watched.made).toHaveLength(2);
    expect(watched.of('known').map(({ path }) => path)).toHaveLength(2);
    // The copies are remembered with what they are copies of.
    const again = await TestInlet.at(join(home, String(count)));
    await again.watch({ once: true });
    expect([again.made, again.of('known')]).toEqual([[], []]);
  });

  it('but what was renamed before its turn is made under its new name', async () => {
    await paintClip(join(watched.source, 'A1.mov'), 1, 1_500);
    await drop(3, 'B.mov');
    void watched.watch({ lanes: 1, recipe: finishAndCut });
    await watched.until('the long one', () => watched.of('begun').length === 1);
    await rename(join(watched.source, 'B.mov'), join(watched.source, 'C.mov'));
    await watched.until('both', () => watched.made.length === 2);
    expect(watched.made).toEqual(['A1.mov', 'C.mov']);
    expect((await outputs()).filter((name) => name.startsWith('proxy'))).toEqual([
      'proxy/A.mov',
      'proxy/A1.mov',
      'proxy/C.mov',
    ]);
  });

  it('by a second process that would keep the same memory: it is refused', async () => {
    void watched.watch();
    await watched.until('keeper', async () => (await readFile(join(watched.out, 'relay-inlet.jsonl'), 'utf8')) !== '');
    const cli = await call(process.execPath, [
      join(import.meta.dirname, '../../build/relay.mjs'),
      ...['watch', '--source', watched.source, '--out', watched.out, '--once', '--quiet', '0'],
    ]);
    expect([cli.code, cli.stderr]).toEqual([2, expect.stringMatching(/is kept by process \d+, which watches/)]);
  });
});
