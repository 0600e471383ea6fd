import { diskOf } from '../disk/disk.ts';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import {
  chmod,
  mkdir,
  readdir,
  readFile,
  rename,
  rm,
  stat,
  symlink,
  truncate,
  utimes,
  writeFile,
} from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { call, relay, scratchFolder } from '../../testing/commands.ts';
import { built } from '../../testing/demo.ts';
import { essence } from '../../testing/essence.ts';
import { pause, until } from '../../testing/site.ts';
import { readBack } from '../disk/readBack.ts';
import { Journal } from '../disk/journal.ts';
import { asShown } from '@relay/media/process/pinned';
import { verifyFolder } from '../custody/verify.ts';
import { arrive, type ArrivalOrder, type ArrivalResult } from './arrive.ts';

async function cardWith(files: Readonly<Record<string, Buffer | string>>): Promise<{ card: string; base: string }> {
  const base = await scratchFolder();
  const card = join(base, 'card');
  await mkdir(card);
  for (const [path, content] of Object.entries(files)) {
    await mkdir(join(card, path, '..'), { recursive: true });
    await writeFile(join(card, path), content);
    await utimes(join(card, path), new Date('2026-11-20T18:00:00Z'), new Date('2026-11-20T18:00:00Z'));
  }
  return { card, base };
}

const usual = {
  'ESSENCE/UNIT01/C0001.MXF': essence(5_300_001),
  'ESSENCE/UNIT01/C0001M01.XML': '<clip/>',
  'INDEX/CARD.XML': '<card/>',
  '.volume': 'hidden',
};

function order(base: string, card: string, rest: Partial<ArrivalOrder> = {}): ArrivalOrder {
  return {
    roll: 'A002',
    card,
    journals: join(base, 'journals'),
    hash: 'xxh128',
    alsoMd5: false,
    // Scratch folders lie on one disk.
    rule: { copies: 2, stores: 2, oneDisk: true },
    owner: `arrival.${hostname()}.test`,
    host: hostname(),
    destinations: ['raid', 'shuttle'].map((store) => ({ store, at: { root: base, folder: `${store}/A002` } })),
    ...rest,
  };
}

/** What the journals in a folder say. */
async function journalIn(folder: string): Promise<string> {
  const names = await readdir(folder).catch(() => [] as string[]);
  return (await Promise.all(names.map((name) => readFile(join(folder, name), 'utf8')))).join('');
}

async function filesIn(folder: string): Promise<string[]> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true });
  return entries
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name).slice(folder.length + 1))
    .sort();
}

describe('bringing a card in', () => {
  it('fills no folder that a store left behind, and goes on when the store is there again', async () => {
    const { card, base } = await cardWith(usual);
    const [raid, away] = [join(base, 'raid'), join(base, 'unmounted')];
    let asked = 0;
    let goesAt = 0;
    const there = async (): Promise<boolean> => {
      asked += 1;
      if (asked === goesAt) await rename(raid, away);
      return asked < goesAt;
    };
    const wanted = order(base, card);
    const destinations = wanted.destinations.map((one) => (one.store === 'raid' ? { ...one, there } : one));
    const refused = await arrive({ ...wanted, destinations });
    expect(refused).toMatchObject({ state: 'failed', clearing: { clear: false } });
    expect(refused.copies[0]?.problem?.what).toContain('raid is not there');
    expect(await readdir(base)).not.toContain('raid');

    // It goes just before the one large file: asked once to begin with, and once for each of the three small ones.
    [asked, goesAt] = [0, 5];
    const broken = await arrive({ ...wanted, destinations });
    expect(broken).toMatchObject({ state: 'failed', clearing: { clear: false } });
    expect(broken.copies.map((copy) => [copy.filesProved, copy.problem !== null])).toEqual([
      [3, true],
      [4, false],
    ]);
    expect(await readdir(base)).not.toContain('raid');

    await rename(away, raid);
    [asked, goesAt] = [0, Infinity];
    const resumed = await arrive({ ...wanted, destinations });
    expect(resumed).toMatchObject({ state: 'proved', clearing: { clear: true } });
    expect(resumed.copies.map((copy) => copy.filesProved)).toEqual([4, 4]);
  });

  it('copies the whole structure to both stores, byte for byte, with times, hidden files and empty folders, and says when the card may be cleared', async () => {
    const { card, base } = await cardWith(usual);
    await mkdir(join(card, 'AUDIO'));
    await writeFile(join(card, '.DS_Store'), 'litter');
    const result = await arrive(order(base, card));
    expect(result).toMatchObject({
      state: 'proved',
      files: 4,
      problems: [],
      notCopied: [],
      clearing: {
        clear: true,
        says: expect.stringContaining('may be cleared: 4 files proved in 2 copies on 2 stores'),
      },
    });
    for (const store of ['raid', 'shuttle']) {
      const folder = join(base, store, 'A002');
      expect((await filesIn(folder)).filter((path) => !path.startsWith('ascmhl/'))).toEqual(Object.keys(usual).sort());
      expect((await call('diff', ['-r', '--exclude=ascmhl', '--exclude=.DS_Store', card, folder])).stdout).toBe('');
      expect((await stat(join(folder, 'ESSENCE/UNIT01/C0001.MXF'))).mtime.toISOString()).toBe(
        '2026-11-20T18:00:00.000Z',
      );
      expect((await stat(join(folder, 'AUDIO'))).isDirectory()).toBe(true);
      expect(await verifyFolder(folder)).toMatchObject({ verified: true, same: 4 });
    }
  });

  it('asks for as many copies on as many stores as the rule says, and says why not till then', async () => {
    const { card, base } = await cardWith({ 'a.mov': 'x' });
    const one = await arrive(
      order(base, card, { destinations: [{ store: 'raid', at: { root: base, folder: 'raid/A002' } }] }),
    );
    expect(one).toMatchObject({
      state: 'proved',
      clearing: { clear: false, says: 'Keep the card: 1 copy is proved, 2 are asked for' },
    });
    const both = await arrive(
      order(base, card, {
        destinations: ['x', 'y'].map((part) => ({ store: 'raid', at: { root: base, folder: part } })),
      }),
    );
    expect(both.clearing).toMatchObject({
      clear: false,
      says: 'Keep the card: all copies lie on 1 store, 2 are asked for',
    });
  });

  it('lets no card be cleared by two copies on one disk, and names both', async () => {
    const { card, base } = await cardWith({ 'a.mov': 'x' });
    const { state, clearing, copies } = await arrive(order(base, card, { rule: { copies: 2, stores: 2 } }));
    expect([state, clearing.says]).toEqual([
      'proved',
      'Keep the card: raid and shuttle lie on 1 disk, 2 are asked for',
    ]);
    expect(copies.map(({ disk }) => disk)).toEqual(Array(2).fill(await diskOf(base)));
  });

  it('from the command line prints the same, with MD5 beside the hash asked for, and refuses what lies there already', async () => {
    const { card, base } = await cardWith(usual);
    const args = [
      'arrive',
      '--from',
      card,
      '--to',
      join(base, 'one'),
      '--to',
      join(base, 'two'),
      '--roll',
      'A002',
      '--hash',
      'xxh64',
      '--md5',
      '--one-disk',
      '--json',
    ];
    const { code, stdout } = await relay(...args);
    const result = JSON.parse(stdout) as ArrivalResult;
    expect([code, result.state, result.clearing.clear]).toEqual([0, 'proved', true]);
    const manifest = await readFile(join(base, 'one/A002', result.copies[0]?.manifest ?? ''), 'utf8');
    const clip = join(card, 'ESSENCE/UNIT01/C0001.MXF');
    expect(manifest).toContain((await call('xxhsum', ['-H1', clip])).stdout.split(' ')[0]);
    expect(manifest).toContain((await call('md5sum', [clip])).stdout.split(' ')[0]);
    const again = await relay(...args);
    expect([again.code, (JSON.parse(again.stdout) as ArrivalResult).copies[0]?.problem?.what]).toEqual([
      1,
      expect.stringContaining('is there already'),
    ]);
    expect(await verifyFolder(join(base, 'one/A002'))).toMatchObject({ verified: true });
    for (const wrong of [
      ['--from', card],
      ['--from', join(base, 'no'), '--to', base, '--roll', 'X'],
      ['--from', card, '--to', base, '--roll', '../x'],
      ['--from', card, '--to', base, '--to', base, '--roll', 'X'],
    ]) {
      expect((await relay('arrive', ...wrong)).code).toBe(2);
    }
  });

  it('takes names in other scripts, with blanks at their end, 255 bytes long, differing in case only, and files of no bytes', async () => {
    const names = [
      '日本語の名前.mov',
      'trailing ',
      ' leading',
      `${'n'.repeat(251)}.mov`,
      'clip.MOV',
      'Clip.MOV',
      'CLIP.MOV',
      'quote\'s & "x" <y>.wav',
      '%03d.mov',
      '\u00e9.mov',
      'e\u0301.mov',
      'take\\2.wav',
      'C:card.mov',
    ];
    const { card, base } = await cardWith(
      Object.fromEntries([...names.map((name, index) => [`D/${name}`, essence(1000, index + 1)]), ['D/nothing', '']]),
    );
    const result = await arrive(order(base, card));
    expect(result).toMatchObject({ state: 'proved', files: 14, clearing: { clear: true } });
    expect((await call('diff', ['-r', '--exclude=ascmhl', card, join(base, 'raid/A002')])).stdout).toBe('');
    expect(await verifyFolder(join(base, 'shuttle/A002'))).toMatchObject({ verified: true, same: 14 });
  });

  it('follows no link out of the card, names it, and then does not let the card be cleared', async () => {
    const { card, base } = await cardWith({ 'a.mov': 'x' });
    await symlink('/etc/passwd', join(card, 'b.mov'));
    await symlink('/etc', join(card, 'etc'));
    const result = await arrive(order(base, card));
    expect(result.notCopied.map((entry) => entry.shownPath)).toEqual(['b.mov', 'etc']);
    expect(result.clearing).toMatchObject({
      clear: false,
      against: [expect.stringContaining('b.mov was not copied'), expect.stringContaining('etc was not copied')],
    });
    expect(await filesIn(join(base, 'raid/A002'))).toEqual([
      'a.mov',
      expect.stringMatching(/^ascmhl\/0001/),
      'ascmhl/ascmhl_chain.xml',
    ]);
  });

  it('takes 1,000 tiny sidecars in one go', async () => {
    const { card, base } = await cardWith(
      Object.fromEntries(
        Array.from({ length: 1000 }, (_, index) => [`S/${Math.floor(index / 100)}/${index}.XML`, `<n>${index}</n>`]),
      ),
    );
    const result = await arrive(order(base, card));
    expect(result).toMatchObject({ state: 'proved', files: 1000, clearing: { clear: true } });
    expect(await verifyFolder(join(base, 'raid/A002'))).toMatchObject({ verified: true, same: 1000 });
  });
});

describe('what goes wrong', () => {
  it('a byte that flips in a copy after it was written is found, and nothing of that copy is left under its name', async () => {
    const { card, base } = await cardWith(usual);
    let flipped = '';
    const result = await arrive(
      order(base, card, {
        readBack: async (path, names, signal) => {
          if (!flipped && (await stat(path)).size > 1_000_000 && asShown(path).includes('/shuttle/')) {
            flipped = path;
            const content = await readFile(path);
            content[4_000_000] = (content[4_000_000] as number) ^ 4;
            await writeFile(path, content);
          }
          return readBack(path, names, signal);
        },
      }),
    );
    expect(flipped).not.toBe('');
    expect(result).toMatchObject({
      state: 'failed',
      problems: [{ path: 'ESSENCE/UNIT01/C0001.MXF', what: expect.stringContaining('reads back differently') }],
      clearing: { clear: false },
    });
    expect(result.copies.map((copy) => [copy.filesProved, copy.manifest !== null])).toEqual([
      [4, true],
      [3, false],
    ]);
    expect((await filesIn(join(base, 'shuttle/A002'))).filter((path) => !path.startsWith('.relay-'))).not.toContain(
      'ESSENCE/UNIT01/C0001.MXF',
    );
    // The copy that is whole has its manifest; resuming makes the other one good.
    const again = await arrive(order(base, card));
    expect(again).toMatchObject({
      state: 'proved',
      clearing: { clear: true },
      copies: [{ filesProved: 4, manifest: expect.stringMatching(/^ascmhl\/0001/) }, { filesProved: 4 }],
    });
    expect((await arrive(order(base, card))).copies[0]?.problem?.what).toContain('is there already');
    expect(await verifyFolder(join(base, 'shuttle/A002'))).toMatchObject({ verified: true, same: 4 });
  });

  it('a card pulled in the middle stops the arrival; put in again, it goes on from what is proved', async () => {
    const { card, base } = await cardWith(
      Object.fromEntries(Array.from({ length: 12 }, (_, index) => [`C/${index}.mov`, essence(2_000_000, index + 1)])),
    );
    let pulled = false;
    const result = await arrive(
      order(base, card, {
        onProgress: ({ filesDone }) => {
          if (filesDone === 4 && !pulled) {
            pulled = true;
            void rename(card, `${card}-pulled`);
          }
        },
      }),
    );
    expect(result).toMatchObject({
      state: 'failed',
      clearing: { clear: false },
      copies: [{ problem: { what: 'The card is gone' } }, {}],
    });
    await rename(`${card}-pulled`, card);
    let moved = 0;
    const again = await arrive(
      order(base, card, {
        onProgress: ({ bytesDone }) => {
          moved = bytesDone;
        },
      }),
    );
    expect(again).toMatchObject({ state: 'proved', files: 12, clearing: { clear: true } });
    expect(moved).toBe(24_000_000);
    expect(await verifyFolder(join(base, 'raid/A002'))).toMatchObject({ verified: true, same: 12 });
  });

  it('a kill in the middle loses nothing: the same command goes on, and copies only what was not proved', async () => {
    const { card, base } = await cardWith(
      Object.fromEntries(Array.from({ length: 30 }, (_, index) => [`C/${index}.mov`, essence(3_000_000, index + 1)])),
    );
    const args = [
      'arrive',
      '--from',
      card,
      '--to',
      join(base, 'raid'),
      '--to',
      join(base, 'shuttle'),
      '--roll',
      'A002',
      '--json',
    ];
    const env = { RELAY_HOME: join(base, 'home') };
    const child = spawn(process.execPath, [built, ...args], { stdio: 'ignore', env: { ...process.env, ...env } });
    await until('some files proved', async () => (await journalIn(join(base, 'home/journals'))).split('\n').length > 8);
    child.kill('SIGKILL');
    await once(child, 'close');
    const before = await Promise.all(
      (await filesIn(join(base, 'raid/A002')))
        .filter((path) => path.startsWith('C/') && !path.includes('.relay-'))
        .map(async (path) => [path, (await stat(join(base, 'raid/A002', path))).ino] as const),
    );
    expect(before.length).toBeGreaterThan(2);
    expect(before.length).toBeLessThan(30);
    const { code, stdout } = await call(process.execPath, [built, ...args], env);
    expect([code, (JSON.parse(stdout) as ArrivalResult).state]).toEqual([0, 'proved']);
    expect(await readdir(join(base, 'home/journals'))).toEqual([]);
    for (const [path, inode] of before)
      expect([path, (await stat(join(base, 'raid/A002', path))).ino]).toEqual([path, inode]);
    for (const store of ['raid', 'shuttle']) {
      expect((await filesIn(join(base, store, 'A002'))).filter((path) => path.includes('.relay-'))).toEqual([]);
      expect(await verifyFolder(join(base, store, 'A002'))).toMatchObject({ verified: true, same: 30 });
    }
  });

  it('stopping ends it between files, and it goes on later', async () => {
    const { card, base } = await cardWith(
      Object.fromEntries(Array.from({ length: 10 }, (_, index) => [`${index}.mov`, essence(2_000_000, index + 1)])),
    );
    const stop = new AbortController();
    const stopped = await arrive(
      order(base, card, {
        signal: stop.signal,
        onProgress: ({ filesDone }) => {
          if (filesDone >= 3) stop.abort();
        },
      }),
    );
    expect(stopped).toMatchObject({ state: 'stopped', clearing: { clear: false } });
    expect((await filesIn(base)).filter((path) => path.includes('.relay-part'))).toEqual([]);
    expect(await arrive(order(base, card))).toMatchObject({ state: 'proved', clearing: { clear: true } });
  });

  it('a disk that is too small is told before anything is written, one that fills meanwhile ends only its own copy', async () => {
    const { card, base } = await cardWith({ 'a.mov': essence(30_000_000), 'b.mov': essence(3_000_000, 9) });
    await mkdir(join(base, 'tiny'));
    const mounted = (await call('mount', ['-t', 'tmpfs', '-o', 'size=24m', 'tmpfs', join(base, 'tiny')])).code === 0;
    try {
      if (mounted) {
        const result = await arrive(
          order(base, card, {
            destinations: [
              { store: 'raid', at: { root: base, folder: 'raid/A002' } },
              { store: 'tiny', at: { root: base, folder: 'tiny/A002' } },
            ],
          }),
        );
        expect(result).toMatchObject({
          state: 'failed',
          copies: [{ problem: null }, { problem: { what: expect.stringContaining('Too little space on tiny') } }],
        });
        expect((await filesIn(join(base, 'raid/A002'))).filter((path) => path.endsWith('.mov'))).toEqual([]);
      }
    } finally {
      await call('umount', [join(base, 'tiny')]);
    }
    // A limit on the size of files stands in for a disk that fills in the middle of one: the larger is refused, the
    // smaller goes.
    const { code, stdout } = await call('bash', [
      '-c',
      'ulimit -f 8192; exec "$@"',
      'bash',
      process.execPath,
      built,
      'arrive',
      '--from',
      card,
      '--to',
      join(base, 'full'),
      '--roll',
      'A002',
      '--json',
    ]);
    const result = JSON.parse(stdout) as ArrivalResult;
    expect([code, result.state, result.copies[0]?.problem?.what]).toEqual([
      1,
      'failed',
      expect.stringContaining('The disk is full'),
    ]);
    expect(
      (await filesIn(join(base, 'full/A002'))).filter((path) => path === 'a.mov' || path.includes('.relay-part')),
    ).toEqual([]);
  });

  it('a place that may not be written is named, and the other copy is made whole', async () => {
    const { card, base } = await cardWith(usual);
    await mkdir(join(base, 'locked'));
    await chmod(join(base, 'locked'), 0o555);
    // Root may write everywhere but where a file stands in the way of a folder.
    await writeFile(join(base, 'blocked'), '');
    const result = await arrive(
      order(base, card, {
        destinations: [
          { store: 'raid', at: { root: base, folder: 'raid/A002' } },
          { store: 'blocked', at: { root: base, folder: process.getuid?.() === 0 ? 'blocked/A002' : 'locked/A002' } },
        ],
      }),
    );
    expect(result).toMatchObject({
      state: 'failed',
      copies: [{}, { problem: { what: expect.stringContaining('could not be finished') } }],
    });
  });

  it('a card whose own manifest lies does not pass, and one whose manifest is true grows its history', async () => {
    const { card, base } = await cardWith(usual);
    const first = await arrive(
      order(base, card, { destinations: [{ store: 'cart', at: { root: base, folder: 'cart/A002' } }] }),
    );
    expect(first.state).toBe('proved');
    const cart = join(base, 'cart/A002');
    const second = await arrive(order(base, cart));
    expect(second).toMatchObject({
      state: 'proved',
      cardManifest: { same: 4, missing: [], changed: [], extra: [] },
      clearing: { clear: true },
    });
    expect(second.copies[0]?.manifest).toMatch(/^ascmhl\/0002_/);
    await truncate(join(cart, 'INDEX/CARD.XML'), 3);
    await rm(join(cart, 'ESSENCE/UNIT01/C0001M01.XML'));
    await writeFile(join(cart, 'more.mov'), 'x');
    await mkdir(join(base, 'again'));
    const lied = await arrive(order(join(base, 'again'), cart));
    expect(lied).toMatchObject({
      state: 'failed',
      cardManifest: {
        same: 2,
        missing: ['ESSENCE/UNIT01/C0001M01.XML'],
        changed: [{ path: 'INDEX/CARD.XML' }],
        extra: ['more.mov'],
      },
      clearing: { clear: false },
    });
  });

  it('a card whose manifest was changed after it was written is not taken at its word, whatever it states', async () => {
    const { card, base } = await cardWith(usual);
    await arrive(order(base, card, { destinations: [{ store: 'cart', at: { root: base, folder: 'cart/A002' } }] }));
    const cart = join(base, 'cart/A002');
    const [name = ''] = (await readdir(join(cart, 'ascmhl'))).filter((file) => file.endsWith('.mhl'));
    const list = join(cart, 'ascmhl', name);
    // Somebody wrote another hash into the list, which the chain does not vouch for.
    const text = await readFile(list, 'utf8');
    await writeFile(
      list,
      text.replace(/(<xxh128[^>]*>)(.)/, (_, tag: string, digit: string) => tag + (digit === '0' ? '1' : '0')),
    );
    expect(await readFile(list, 'utf8')).not.toBe(text);
    const taken = await arrive(order(base, cart));
    // What it states is held against nothing: only the list itself is named.
    expect(taken).toMatchObject({
      problems: [],
      cardManifest: {
        same: 0,
        missing: [],
        changed: [{ why: expect.stringContaining('changed after it was written') }],
      },
      clearing: { clear: false },
    });
  });

  it('a place on the card itself is refused, one beside it whose name begins alike is not', async () => {
    const { card, base } = await cardWith(usual);
    const on = await arrive(
      order(base, card, { destinations: [{ store: 'x', at: { root: base, folder: 'card/copy' } }] }),
    );
    expect(on).toMatchObject({ state: 'failed', clearing: { clear: false } });
    expect(JSON.stringify(on)).toContain('lies on the card itself');
    expect(await readdir(card)).not.toContain('copy');
    const beside = await arrive(
      order(base, card, { destinations: [{ store: 'x', at: { root: base, folder: 'card-2/A002' } }] }),
    );
    expect(beside.state).toBe('proved');
  });

  it('a copy that somebody removed is made again, though the journal says that it was proved', async () => {
    const { card, base } = await cardWith(usual);
    // Broken off after the copies, before their manifest: the journal is what is known.
    const wanted = order(base, card);
    let calls = 0;
    const broken = await arrive({
      ...wanted,
      destinations: wanted.destinations.map((one) => ({ ...one, there: async () => (calls += 1) < 8 })),
    });
    expect(broken.state).toBe('failed');
    const copy = join(base, 'raid/A002/ESSENCE/UNIT01/C0001M01.XML');
    const known = await journalIn(join(base, 'journals'));
    expect(known).toContain('C0001M01.XML');
    await rm(copy, { force: true });
    const again = await arrive(wanted);
    expect(again).toMatchObject({ state: 'proved', clearing: { clear: true } });
    expect(await readFile(copy, 'utf8')).toBe('<clip/>');
  });

  it('a copy that was whole and has rotted since is not taken over by a resume, and neither is a card that reads differently', async () => {
    const { card, base } = await cardWith(usual);
    await arrive(
      order(base, card, { destinations: [order(base, card).destinations[0] as ArrivalOrder['destinations'][number]] }),
    );
    const copy = join(base, 'raid/A002/ESSENCE/UNIT01/C0001.MXF');
    const content = await readFile(copy);
    content[9] = (content[9] as number) ^ 1;
    await writeFile(copy, content);
    const rotten = await arrive(order(base, card));
    expect(rotten).toMatchObject({
      state: 'failed',
      problems: [{ what: expect.stringContaining('no longer what its manifest states') }],
      clearing: { clear: false },
    });
    // The card gives other bytes under the same size and time than the first copy got.
    await writeFile(copy, await readFile(join(card, 'ESSENCE/UNIT01/C0001.MXF')));
    await rm(join(base, 'shuttle'), { recursive: true });
    await writeFile(join(card, 'INDEX/CARD.XML'), '<cxrd/>');
    await utimes(join(card, 'INDEX/CARD.XML'), new Date('2026-11-20T18:00:00Z'), new Date('2026-11-20T18:00:00Z'));
    expect(await arrive(order(base, card))).toMatchObject({
      state: 'failed',
      problems: [{ path: 'INDEX/CARD.XML', what: expect.stringContaining('reads differently from the card') }],
      clearing: { clear: false },
    });
  });

  it('a crash between manifest and journal leaves one generation, not two', async () => {
    const { card, base } = await cardWith(usual);
    await arrive(order(base, card));
    const folder = join(base, 'raid/A002');
    // As it would lie there: the manifest is written, the journal not yet gone.
    await (await Journal.open(join(base, 'journals'), folder)).close();
    const again = await arrive(order(base, card));
    expect(again).toMatchObject({ state: 'proved', clearing: { clear: true } });
    expect((await readdir(join(folder, 'ascmhl'))).filter((name) => name.startsWith('0001_'))).toHaveLength(1);
    expect(await verifyFolder(folder)).toMatchObject({ verified: true, same: Object.keys(usual).length });
  });

  it('a file that changes while it is copied is named, and the rest goes on', async () => {
    const { card, base } = await cardWith({ 'growing.mov': essence(9_000_000), 'still.mov': essence(2_000_000, 3) });
    let touched = false;
    const result = await arrive(
      order(base, card, {
        onProgress: () => {
          if (touched) return;
          touched = true;
          void writeFile(join(card, 'growing.mov'), essence(9_500_000, 7));
        },
      }),
    );
    await pause(10);
    expect(result).toMatchObject({
      state: 'failed',
      problems: [{ path: 'growing.mov', what: expect.stringContaining('while it was copied') }],
      clearing: { clear: false },
    });
    expect((await filesIn(join(base, 'raid/A002'))).filter((path) => path.endsWith('.mov'))).toEqual(['still.mov']);
  });
});

describe('a hostile card', () => {
  const chainThatNames = (path: string): string =>
    `<?xml version="1.0"?><ascmhldirectory xmlns="urn:ASC:MHL:DIRECTORY:v2.0"><hashlist sequencenr="1"><path>${path}</path><c4>c4${'1'.repeat(88)}</c4></hashlist></ascmhldirectory>`;

  it('whose chain names things elsewhere removes nothing, and is not called proved', async () => {
    for (const climbs of [3, 4, 5, 6]) {
      const { card, base } = await cardWith(usual);
      const precious = join(base, 'precious');
      await mkdir(join(precious, 'folder.mhl'), { recursive: true });
      for (const name of ['list.mhl', 'folder.mhl/inner.mov']) await writeFile(join(precious, name), 'kept');
      const first = await arrive(
        order(base, card, { destinations: [{ store: 'cart', at: { root: base, folder: 'cart/A002' } }] }),
      );
      expect(first.state).toBe('proved');
      const cart = join(base, 'cart/A002');
      for (const name of ['list.mhl', 'folder.mhl']) {
        await writeFile(
          join(cart, 'ascmhl/ascmhl_chain.xml'),
          chainThatNames(`0002_x/${'../'.repeat(climbs)}precious/${name}`),
        );
        // What the path would go through is there.
        await mkdir(join(base, 'raid/A002/ascmhl/0002_x'), { recursive: true }).then(() =>
          rm(join(base, 'raid'), { recursive: true }),
        );
        const result = await arrive(
          order(base, cart, {
            destinations: [{ store: 'raid', at: { root: base, folder: `raid-${climbs}-${name}/A002` } }],
          }),
        );
        expect(result, name).toMatchObject({ state: 'failed', clearing: { clear: false } });
        expect(JSON.stringify(result.cardManifest?.changed)).toContain('is no single name');
        expect(await verifyFolder(cart)).toMatchObject({ verified: false });
      }
      expect(await filesIn(precious)).toEqual(['folder.mhl/inner.mov', 'list.mhl']);
    }
  });

  it('with pipes, devices and links among its lists is read to its end, and they are named', async () => {
    const { card, base } = await cardWith(usual);
    for (const name of ['card.md5', 'A002.mhl', 'sums.xxh128']) await call('mkfifo', [join(card, name)]);
    await symlink('/dev/zero', join(card, 'endless.mov'));
    const result = await arrive(order(base, card));
    expect(result.notCopied.map((one) => one.shownPath).sort()).toEqual([
      'A002.mhl',
      'card.md5',
      'endless.mov',
      'sums.xxh128',
    ]);
    expect(result.clearing.clear).toBe(false);
    expect(result.copies.map((copy) => copy.filesProved)).toEqual([4, 4]);
  });

  it('a file swapped for a link while it is copied is never read outside the card', async () => {
    const { card, base } = await cardWith({ ...usual, 'swap/clip.mov': essence(200_000, 5) });
    await mkdir(join(base, 'outside'));
    await writeFile(join(base, 'outside/clip.mov'), essence(200_000, 6));
    await utimes(join(base, 'outside/clip.mov'), new Date('2026-11-20T18:00:00Z'), new Date('2026-11-20T18:00:00Z'));
    let swapping = true;
    const swapper = (async () => {
      while (swapping) {
        await rename(join(card, 'swap'), join(card, '.swapped'));
        await symlink(join(base, 'outside'), join(card, 'swap'));
        await rm(join(card, 'swap'));
        await rename(join(card, '.swapped'), join(card, 'swap'));
      }
    })();
    for (let turn = 0; turn < 12; turn += 1)
      await arrive(
        order(base, card, { destinations: [{ store: 'raid', at: { root: base, folder: `raid-${turn}` } }] }),
      );
    swapping = false;
    await swapper;
    const copies = (await filesIn(base)).filter((path) => /^raid-\d+\/.*clip\.mov$/.test(path));
    const wanted = essence(200_000, 5);
    for (const path of copies) expect((await readFile(join(base, path))).equals(wanted), path).toBe(true);
  });

  it('a journal or a link planted on a destination proves nothing, and is not written through', async () => {
    const { card, base } = await cardWith(usual);
    const victim = join(base, 'victim');
    await writeFile(victim, 'kept');
    await mkdir(join(base, 'raid/A002'), { recursive: true });
    // As an earlier version kept it: here a neighbour's.
    await symlink(victim, join(base, 'raid/A002/.relay-arrival.jsonl'));
    expect((await arrive(order(base, card))).state).toBe('failed');
    expect(await readFile(victim, 'utf8')).toBe('kept');
    // A journal of the site's own, and a copy that was exchanged since it was written.
    const [raid] = order(base, card).destinations;
    await rm(join(base, 'raid'), { recursive: true });
    const stop = new AbortController();
    const begun = order(base, card, {
      destinations: [raid as ArrivalOrder['destinations'][number]],
      signal: stop.signal,
      onProgress: ({ filesDone }) => {
        if (filesDone >= 3) stop.abort();
      },
    });
    expect((await arrive(begun)).state).toBe('stopped');
    const copied = (await filesIn(join(base, 'raid/A002'))).find((path) => path.endsWith('CARD.XML')) as string;
    await writeFile(join(base, 'raid/A002', copied), '<fake/>');
    const resumed = await arrive(order(base, card, { destinations: begun.destinations }));
    expect(resumed).toMatchObject({
      state: 'failed',
      problems: [{ path: copied, what: expect.stringContaining('is not what lies on the card') }],
      clearing: { clear: false },
    });
  });
});
