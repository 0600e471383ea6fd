import { copyFile, mkdir, readdir, readFile, rename, rm, symlink, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { call, scratchFolder } from '../../testing/commands.ts';
import { light, paintClip, TestInlet } from '../../testing/inlet.ts';
import type { Receipt } from '@relay/core/inlet/receipt';
import { pause } from '../../testing/site.ts';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { withPlaces } from '@relay/core/recipe/places';

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

describe('what cannot be used', () => {
  it('stays and is named with its remedy, links and circles of links are not followed, and nothing stops the rest', async () => {
    await writeFile(join(watched.source, 'broken.mov'), 'no clip at all, but long enough to be looked at');
    await symlink(watched.source, join(watched.source, 'round'));
    await symlink(join(clips, '2.mov'), join(watched.source, 'link.mov'));
    await drop(1, 'A.mov');
    const ended = await watched.watch({ once: true });
    expect([ended.made, ended.left, ended.waiting]).toEqual([1, 3, 0]);
    expect(
      watched
        .of('left')
        .map(({ path }) => path)
        .sort(),
    ).toEqual(['broken.mov', 'link.mov', 'round']);
    for (const { what, remedy } of watched.of('left'))
      expect([what, remedy].every((text) => text.length > 9)).toBe(true);
    // It is remembered as it was, and not tried again until it is another.
    const again = await TestInlet.at(join(home, String(count)));
    await again.watch({ once: true });
    expect(
      again
        .of('left')
        .map(({ path }) => path)
        .sort(),
    ).toEqual(['link.mov', 'round']);
  });

  it('for its name on the receiving systems is left with the reason, others of its batch are made', async () => {
    await drop(1, 'what?.mov');
    await drop(2, 'B.mov');
    await watched.watch({ once: true });
    expect(watched.made).toEqual(['B.mov']);
    expect(watched.of('left').map(({ path, what }) => [path, what])).toEqual([
      ['what?.mov', expect.stringMatching(/\?/)],
    ]);
  });

  it('since it may not be read is taken up as soon as it may', async () => {
    // Root reads everything: the command is run as nobody.
    await drop(1, 'A.mov');
    await drop(2, 'B.mov');
    const chmod = (mode: string, ...paths: string[]): Promise<unknown> => call('chmod', [mode, ...paths]);
    await call('chown', ['-R', '65534:65534', watched.source, watched.out]);
    for (const folder of [home, join(home, String(count))]) await chmod('0755', folder);
    await chmod('000', join(watched.source, 'B.mov'));
    const child = call(
      'setpriv',
      [
        ...['--reuid', '65534', '--regid', '65534', '--clear-groups', process.execPath],
        join(import.meta.dirname, '../../build/relay.mjs'),
        ...['watch', '--source', watched.source, '--out', watched.out, '--quiet', '1', '--json-lines', '--once'],
      ],
      { HOME: home, TMPDIR: '/tmp' },
    );
    const first = await child;
    expect(first.stdout).toMatch(/"event":"made","original":"A\.mov"/);
    expect(first.stdout).toMatch(/B\.mov cannot be read \(EACCES\)/);
    await chmod('644', join(watched.source, 'B.mov'));
    await watched.watch({ once: true });
    expect(watched.made).toEqual(['B.mov']);
  });
});

describe('what goes away', () => {
  it('and comes again, a folder or the whole store, waits anew and is made once', async () => {
    void watched.watch();
    await mkdir(join(watched.source, 'D'));
    await drop(1, 'D/A.mov');
    await watched.until('waits', () => watched.of('waits').length > 0);
    await rename(join(watched.source, 'D'), join(home, 'elsewhere'));
    await pause(1_500);
    await rename(join(home, 'elsewhere'), join(watched.source, 'D'));
    await watched.until('made', () => watched.made.length === 1);
    await rename(watched.source, `${watched.source}-away`);
    await drop(2, '../in-away/B.mov');
    await watched.until('away', () => watched.of('away').length === 1);
    await rename(`${watched.source}-away`, watched.source);
    await watched.until('made', () => watched.made.length === 2);
    expect([watched.made, watched.of('back').length]).toEqual([['B.mov', 'D/A.mov'], 1]);
  });

  it('where outputs go is waited for: nothing is written where it was mounted', async () => {
    const disk = { size: 'size=40m', args: ['-t', 'tmpfs', '-o', 'size=40m', 'tmpfs', watched.out] };
    expect((await call('mount', disk.args)).code, 'a disk could not be mounted: the tests run as root').toBe(0);
    try {
      void watched.watch();
      await watched.until('memory', async () => (await readdir(watched.out)).length > 0);
      await call('umount', ['-l', watched.out]);
      await drop(1, 'A.mov');
      await watched.until('away', () => watched.of('away').length === 1);
      expect(await readdir(watched.out)).toEqual([]);
      expect(watched.made).toEqual([]);
    } finally {
      await watched.over();
      await call('umount', ['-l', watched.out]);
    }
  });

  it('or a place of one deliverable', async () => {
    const other = join(home, `place-${count}`);
    await mkdir(other);
    expect((await call('mount', ['-t', 'tmpfs', '-o', 'size=40m', 'tmpfs', other])).code).toBe(0);
    try {
      const recipe = withPlaces(light, { store: 'own', folder: '' }, { proxy: { store: 'other', folder: '' } });
      const elsewhere = () => ({ root: other, folder: '' });
      void watched.watch({ recipe, elsewhere, outs: [watched.out, other] });
      await watched.until('memory', async () => (await readdir(watched.out)).length > 0);
      await call('umount', ['-l', other]);
      await drop(1, 'A.mov');
      await watched.until('away', () => watched.of('away').length === 1);
      expect([await readdir(other), watched.made]).toEqual([[], []]);
    } finally {
      await watched.over();
      await call('umount', ['-l', other]);
    }
  });

  it('while it is made, for another file of its name: what was made of either is whole, and the last is there', async () => {
    await paintClip(join(watched.source, 'A.mov'), 1, 1_500);
    void watched.watch({ recipe: finishAndCut });
    await watched.until('begun', () => watched.of('begun').length === 1);
    await copyFile(join(clips, '2.mov'), join(watched.source, '.new'));
    await rename(join(watched.source, '.new'), join(watched.source, 'A.mov'));
    await watched.until('both', () => watched.of('begun').length === 2 && watched.of('made').length > 0);
    await watched.until('made', () => watched.of('made').length + watched.of('left').length >= 2);
    const made = watched.of('made').at(-1);
    expect(made?.state).toBe('proved');
    const frames = await call('ffprobe', [
      ...['-v', 'error', '-count_packets', '-select_streams', 'v', '-show_entries', 'stream=nb_read_packets'],
      ...['-of', 'csv=p=0', join(watched.out, 'proxy/A.mov')],
    ]);
    expect(frames.stdout.trim()).toBe('5');
  });
});

describe('the clock', () => {
  it('set back an hour, or wrong on the other machine, changes nothing', async () => {
    await drop(1, 'A.mov');
    await utimes(join(watched.source, 'A.mov'), new Date('2031-01-01'), new Date('2031-01-01'));
    vi.setSystemTime(Date.now() - 3_600_000);
    try {
      await watched.watch({ once: true });
      expect(watched.made).toEqual(['A.mov']);
    } finally {
      vi.useRealTimers();
    }
  });
});

describe('a disk that fills', () => {
  it('at output three of five leaves no half output, and the rest is made by itself when there is room', async () => {
    const small = join(home, `small-${count}`);
    await mkdir(small);
    const mount = (size: string, ...rest: string[]): Promise<unknown> =>
      call('mount', [...rest, '-o', size, 'tmpfs', small]);
    await mount('size=4m', '-t', 'tmpfs');
    try {
      for (let n = 1; n <= 5; n += 1) await drop(n, `C${n}.mov`);
      const own = { store: 'own', folder: '' };
      const recipe = withPlaces(light, own, { proxy: { store: 'small', folder: '' } });
      const ballast = join(small, 'ballast');
      const elsewhere = () => ({ root: small, folder: '' });
      // Room for two: each may need some of it.
      void watched.watch({ recipe, elsewhere, lanes: 1, againMs: 2_000 });
      await watched.until('two', () => watched.made.length === 2);
      const { stdout } = await call('df', ['--output=avail', '-B1', small]);
      await writeFile(ballast, Buffer.alloc(Math.max(0, Number(stdout.split('\n')[1]) - 8_192)));
      await watched.until('left', () => watched.of('left').length > 0 || watched.made.length === 5);
      expect(watched.of('left')[0]).toMatchObject({ again: true, what: expect.stringMatching(/space|full/) as string });
      expect((await readdir(small, { recursive: true })).filter((name) => name.includes('relay-part'))).toEqual([]);
      await rm(ballast);
      await watched.until('all', () => new Set(watched.made).size === 5);
      expect(watched.made).toEqual(['C1.mov', 'C2.mov', 'C3.mov', 'C4.mov', 'C5.mov']);
    } finally {
      await watched.over();
      await call('umount', ['-l', small]);
    }
  });
});

describe('originals that are dealt with', () => {
  it('make room for a folder of the same name, which is heard of at once', async () => {
    await mkdir(join(watched.source, 'K1'));
    await drop(1, 'K1/A.mov');
    // Everything is looked at once an hour only: what is new is told by the system's events.
    void watched.watch({ moves: true, everyMs: 3_600_000 });
    await watched.until('the first', () => watched.of('moved').length === 1);
    await rm(join(watched.source, 'K1'), { recursive: true });
    await mkdir(join(watched.source, 'K1'));
    await pause(1_000);
    await drop(2, 'K1/B.mov');
    await watched.until('the second', () => watched.made.length === 2);
  });

  it('are moved, structures whole, never over anything, and not before every output is proved', async () => {
    await mkdir(join(watched.source, 'K1/DCIM'), { recursive: true });
    await drop(1, 'K1/DCIM/A.mov');
    await writeFile(join(watched.source, 'K1/DCIM/A.xml'), '<clip/>');
    await drop(2, 'B.mov');
    await writeFile(join(watched.source, 'bad.mov'), 'no clip at all, but long enough to be looked at');
    await mkdir(join(watched.source, 'done'));
    await writeFile(join(watched.source, 'done/B.mov'), 'somebody keeps this');
    // Nothing of it may be made, for its name.
    await drop(3, 'what?.mov');
    await mkdir(join(watched.source, 'left'));
    await writeFile(join(watched.source, 'left/bad.mov.receipt.json'), 'not ours');
    await watched.watch({ once: true, moves: true, receipts: ['json', 'text'] });
    const lies = (await readdir(watched.source, { recursive: true })).filter((name) => /\.\w{3,}$/.test(name)).sort();
    expect(lies).toEqual([
      'done.2/B.mov',
      'done.2/B.mov.receipt.json',
      'done.2/B.mov.receipt.txt',
      'done/B.mov',
      'done/K1.receipt.json',
      'done/K1.receipt.txt',
      'done/K1/DCIM/A.mov',
      'done/K1/DCIM/A.xml',
      'left/bad.mov',
      'left/bad.mov.receipt.2.json',
      'left/bad.mov.receipt.json',
      'left/bad.mov.receipt.txt',
      'left/what?.mov',
      'left/what?.mov.receipt.json',
      'left/what?.mov.receipt.txt',
    ]);
    expect(await readFile(join(watched.source, 'done/B.mov'), 'utf8')).toBe('somebody keeps this');
    const receipt = JSON.parse(await readFile(join(watched.source, 'done/K1.receipt.json'), 'utf8')) as Receipt;
    expect(receipt).toMatchObject({ thing: 'K1', end: 'made', originals: [{ path: 'done/K1/DCIM/A.mov' }] });
    const [made] = receipt.originals.flatMap(({ outputs }) => outputs);
    expect(made).toMatchObject({ folder: watched.out, state: 'proved' });
    // XXH3-64 by the reference implementation (xxhsum, package xxhash).
    const { stdout } = await call('xxhsum', ['-q', '-H3', join(made?.folder ?? '', made?.path ?? '')]);
    expect(/[0-9a-f]{16}/.exec(stdout)?.[0]).toBe(made?.xxh3);
    const text = await readFile(join(watched.source, 'left/bad.mov.receipt.txt'), 'utf8');
    expect(text).toMatch(/^Brisk Relay receipt\n\nbad\.mov: left\n[^]*left\/bad\.mov: left\n {2}\S/);
    // Brought back by hand it is known, wherever it lay.
    await rename(join(watched.source, 'done.2/B.mov'), join(watched.source, 'again.mov'));
    const again = await TestInlet.at(join(home, String(count)));
    await again.watch({ once: true });
    expect(again.made).toEqual([]);
  });
});

it('is told to stop in the middle of a batch: it ends at once, nothing is half made, and the rest is made the next time', async () => {
  for (let n = 0; n < 24; n += 1)
    await writeFile(
      join(watched.source, `C${n}.mov`),
      Buffer.concat([await readFile(join(clips, '1.mov')), Buffer.from(`\0\0\0\x0cfree${String(n).padStart(4, '0')}`)]),
    );
  const watching = watched.watch();
  await watched.until('begun', () => watched.of('begun').length > 0);
  const from = performance.now();
  await watched.over();
  await watching;
  expect(performance.now() - from).toBeLessThan(10_000);
  expect((await readdir(watched.out, { recursive: true })).filter((name) => name.includes('relay-part'))).toEqual([]);
  const before = watched.made.length;
  const again = await TestInlet.at(join(home, String(count)));
  await again.watch({ once: true });
  expect(before + again.made.length).toBe(24);
});

it('two watch one folder, each for its own outputs: both make everything once', async () => {
  const other = await TestInlet.at(join(home, `${count}-other`));
  await drop(1, 'A.mov');
  await drop(2, 'B.mov');
  await rm(other.source, { recursive: true });
  await symlink(watched.source, other.source);
  await Promise.all([watched.watch({ once: true }), other.watch({ once: true })]);
  expect([watched.made, other.made]).toEqual([
    ['A.mov', 'B.mov'],
    ['A.mov', 'B.mov'],
  ]);
});
