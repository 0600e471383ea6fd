import { appendFileSync } from 'node:fs';
import { mkdir, open, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { call, scratchFolder } from '../../testing/commands.ts';
import { essence } from '../../testing/essence.ts';
import { verifyFolder } from '../custody/verify.ts';
import { hashFile, hashOutput } from '../disk/hash.ts';
import { readBack } from '../disk/readBack.ts';
import { deliver } from './deliver.ts';
import type { DeliveryOrder } from './underWay.ts';
import type { ParcelItem } from './parcel.ts';

/** Outputs in a folder of their own, as a run left them, and a drive beside it. */
async function handed(files: Readonly<Record<string, Buffer | string>>): Promise<{
  base: string;
  out: string;
  drive: string;
  items: ParcelItem[];
  order: (more?: Partial<DeliveryOrder>) => DeliveryOrder;
}> {
  const base = await scratchFolder();
  const [out, drive] = [join(base, 'out'), join(base, 'drive')];
  await mkdir(drive);
  const items: ParcelItem[] = [];
  for (const [path, content] of Object.entries(files)) {
    await mkdir(dirname(join(out, path)), { recursive: true });
    await writeFile(join(out, path), content);
    const sizeBytes = Buffer.byteLength(content);
    items.push({ path, kind: 'output', sizeBytes, xxh3: await hashFile(join(out, path)), from: { root: out, path } });
  }
  const order = (more: Partial<DeliveryOrder> = {}): DeliveryOrder => ({
    id: 'one',
    items,
    texts: (came) => [{ path: 'READ ME.txt', text: `${[...came].join('\n')}\n` }],
    to: { store: 'drive', at: { root: drive, folder: 'for-the-edit' } },
    mark: { receiver: 'r', called: 'The edit', handoffs: [{ id: 'one', name: 'First', at: '2026-11-20' }] },
    journals: join(base, 'journals'),
    host: 'test',
    ...more,
  });
  return { base, out, drive, items, order };
}

const two = { 'proxy/A001/1.mp4': essence(300_000), 'proxy/A001/2.mp4': essence(6_000_000, 2) };

/** All below a folder but what is hidden, and the history. */
async function namesBelow(folder: string): Promise<string[]> {
  const names = await readdir(folder, { recursive: true, withFileTypes: true });
  return names
    .filter((entry) => entry.isFile() && !entry.parentPath.endsWith('ascmhl'))
    .map((entry) => join(entry.parentPath, entry.name).slice(folder.length + 1))
    .sort();
}
const shown = async (folder: string): Promise<string[]> =>
  (await namesBelow(folder)).filter((name) => name !== '.relay-handoff');

describe('a hand-off to a folder', () => {
  it('keeps its folders, is proved, carries its mark, and verifies anywhere; a byte flipped later is found', async () => {
    const { drive, order } = await handed(two);
    const made = await deliver(order());
    expect(made).toMatchObject({ state: 'proved', files: 2, problem: null, problems: [] });
    const at = join(drive, 'for-the-edit');
    expect(await namesBelow(at)).toEqual(['.relay-handoff', 'READ ME.txt', 'proxy/A001/1.mp4', 'proxy/A001/2.mp4']);
    expect((await readFile(join(at, 'proxy/A001/2.mp4'))).equals(two['proxy/A001/2.mp4'])).toBe(true);
    expect(await readFile(join(at, 'READ ME.txt'), 'utf8')).toBe('proxy/A001/1.mp4\nproxy/A001/2.mp4\n');
    // Times are those of the outputs; the reference for its sums is xxhsum.
    expect((await call('xxhsum', ['-H3', join(at, 'proxy/A001/1.mp4')])).stdout).toContain(made.came[0]?.xxh3);
    expect(await verifyFolder(at, { record: false })).toMatchObject({ verified: true, files: 3 });
    const file = await open(join(at, 'proxy/A001/2.mp4'), 'r+');
    await file.write(Buffer.from([1]), 0, 1, 4_000_000);
    await file.close();
    expect((await verifyFolder(at)).changed.map(({ path }) => path)).toEqual(['proxy/A001/2.mp4']);
  });

  it('the next time replaces what it sent under the same path, and nothing else; the sheet goes on', async () => {
    const { out, drive, items, order } = await handed(two);
    await deliver(order());
    const fresh = essence(310_000, 9);
    await writeFile(join(out, 'proxy/A001/1.mp4'), fresh);
    const path = join(out, 'proxy/A001/1.mp4');
    const next = { ...(items[0] as ParcelItem), sizeBytes: fresh.length, xxh3: await hashFile(path) };
    const again = await deliver(order({ id: 'two', items: [{ ...next, replaces: items[0]?.xxh3 ?? null }] }));
    expect(again).toMatchObject({ state: 'proved', problems: [] });
    const at = join(drive, 'for-the-edit');
    expect((await readFile(join(at, 'proxy/A001/1.mp4'))).equals(fresh)).toBe(true);
    expect(await namesBelow(at)).toEqual(['.relay-handoff', 'READ ME.txt', 'proxy/A001/1.mp4', 'proxy/A001/2.mp4']);
    expect(await verifyFolder(at, { record: false })).toMatchObject({ verified: true, files: 3 });
    // What somebody else put there is not what was sent: it stays, and is named.
    await writeFile(join(at, 'proxy/A001/1.mp4'), 'theirs');
    const kept = await deliver(order({ id: 'three', items: [{ ...next, replaces: items[0]?.xxh3 ?? null }] }));
    expect(kept.state).toBe('failed');
    expect(kept.problems.map(({ what }) => what)).toEqual([expect.stringContaining('is there already')]);
    expect(await readFile(join(at, 'proxy/A001/1.mp4'), 'utf8')).toBe('theirs');
  });

  it('a set travels file by file, and is told by all of them', async () => {
    const { out, drive, order } = await handed({ 'dpx/1/1.0001.dpx': 'one', 'dpx/1/1.0002.dpx': 'two' });
    const item: ParcelItem = {
      path: 'dpx/1',
      kind: 'output',
      sizeBytes: 6,
      xxh3: await hashOutput(join(out, 'dpx/1')),
      from: { root: out, path: 'dpx/1' },
    };
    expect(await deliver(order({ items: [item] }))).toMatchObject({ state: 'proved', files: 2 });
    expect(await shown(join(drive, 'for-the-edit'))).toEqual(['READ ME.txt', 'dpx/1/1.0001.dpx', 'dpx/1/1.0002.dpx']);
    await writeFile(join(out, 'dpx/1/1.0002.dpx'), 'TWO');
    const other = await deliver(order({ id: 'two', items: [item] }));
    expect(other.problems.map(({ path, kind }) => [path, kind])).toEqual([['dpx/1', 'original changed']]);
  });

  it('what somebody wrote there under our name is left, and said', async () => {
    const { drive, order } = await handed(two);
    await mkdir(join(drive, 'for-the-edit'));
    await writeFile(join(drive, 'for-the-edit/READ ME.txt'), 'mine');
    const made = await deliver(order());
    expect(made.problem?.what).toContain('READ ME.txt is there already and is not ours');
    expect(await readFile(join(drive, 'for-the-edit/READ ME.txt'), 'utf8')).toBe('mine');
  });
});

describe('faults', () => {
  it('an output that was deleted or changed by hand is named, and the rest comes', async () => {
    const { out, drive, order } = await handed({ ...two, 'proxy/A001/3.mp4': essence(5_000, 3) });
    await rm(join(out, 'proxy/A001/1.mp4'));
    // As long as before, but other bytes: only its sum tells.
    await writeFile(join(out, 'proxy/A001/3.mp4'), essence(5_000, 4));
    const made = await deliver(order());
    expect(made.state).toBe('failed');
    expect(made.problems.map(({ what }) => what)).toEqual([
      'proxy/A001/1.mp4 is not where it was made (any more)',
      'proxy/A001/3.mp4 cannot be sent: it is not what was recorded of it (any more)',
    ]);
    expect(await shown(join(drive, 'for-the-edit'))).toEqual(['READ ME.txt', 'proxy/A001/2.mp4']);
    expect(await verifyFolder(join(drive, 'for-the-edit'), { record: false })).toMatchObject({ verified: true });
  });

  it('a file that is superseded while it is copied gets no name there', async () => {
    const { out, drive, order } = await handed(two);
    let done = false;
    const made = await deliver(
      order({
        onProgress: ({ bytesDone }) => {
          // In the middle of the second, which is read in two pieces.
          if (!done && bytesDone > 4_000_000) {
            done = true;
            appendFileSync(join(out, 'proxy/A001/2.mp4'), 'more');
          }
        },
      }),
    );
    expect(made.problems.map(({ what }) => what)).toEqual([
      'proxy/A001/2.mp4 cannot be sent: it changed while it was copied',
    ]);
    expect(await shown(join(drive, 'for-the-edit'))).toEqual(['READ ME.txt', 'proxy/A001/1.mp4']);
  });

  it('a drive that is pulled out ends it, and it goes on from what is proved', async () => {
    const { base, drive, order } = await handed({ ...two, 'proxy/A001/9.mp4': essence(9_000_000, 5) });
    const read: string[] = [];
    const counted: NonNullable<DeliveryOrder['readBack']> = async (path, names, signal) => {
      const back = await readBack(path, names, signal);
      read.push(path);
      if (read.length === 1) await rename(drive, join(base, 'pulled'));
      return back;
    };
    const first = await deliver(order({ readBack: counted }));
    expect(first.state).toBe('failed');
    expect(first.problem?.what).toContain('the drive was taken out');
    expect(await readdir(base)).not.toContain('drive');
    await rename(join(base, 'pulled'), drive);
    read.length = 1;
    const second = await deliver(order({ readBack: counted }));
    expect(second).toMatchObject({ state: 'proved', problem: null, problems: [] });
    // What was proved before was read from the drive again, and not copied again.
    expect(read.length - 1).toBe(2);
    expect(await shown(join(drive, 'for-the-edit'))).toEqual([
      'READ ME.txt',
      'proxy/A001/1.mp4',
      'proxy/A001/2.mp4',
      'proxy/A001/9.mp4',
    ]);
  });

  it('a drive that is too small, that fills, or that may not be written to, says so, and holds nothing half-made', async () => {
    const { drive, order } = await handed({ ...two, 'proxy/A001/9.mp4': essence(9_000_000, 5) });
    const mount = async (options: string): Promise<void> => {
      expect((await call('mount', ['-t', 'tmpfs', '-o', options, 'tmpfs', drive])).code, 'the tests run as root').toBe(
        0,
      );
    };
    await mount('size=12m');
    try {
      const small = await deliver(order());
      expect(small.problem).toMatchObject({
        kind: 'disk full',
        what: expect.stringContaining('Too little space') as string,
      });
      await call('umount', ['-l', drive]);
      await mount('size=40m');
      let filled = false;
      const full = await deliver(
        order({
          onProgress: () => {
            if (!filled) {
              filled = true;
              void writeFile(join(drive, 'somebody-elses'), Buffer.alloc(45 << 20)).catch(() => undefined);
            }
          },
          readBack: async (path, names, signal) => {
            await new Promise((resolve) => setTimeout(resolve, 300));
            return readBack(path, names, signal);
          },
        }),
      );
      expect(full.problem?.what).toMatch(/The disk is full/);
      expect((await namesBelow(drive)).filter((name) => name.includes('.relay-part'))).toEqual([]);
      await rm(join(drive, 'somebody-elses'));
      expect(await deliver(order())).toMatchObject({ state: 'proved' });
      await call('mount', ['-o', 'remount,ro', drive]);
      const closed = await deliver(order({ id: 'two', to: { store: 'drive', at: { root: drive, folder: 'other' } } }));
      expect(closed.problem).toMatchObject({ kind: 'not writable' });
    } finally {
      await call('umount', ['-l', drive]);
    }
  });

  it('what the file system there does not take is named before anything is copied: 4 GB on FAT, names of one case', async () => {
    const { out, drive, items, order } = await handed({ ...two, 'proxy/A001/1.MP4': 'other' });
    const long = join(out, 'proxy/long.mov');
    // A stand-in: no file system of that kind is mounted here, the limits are core's, and the file has holes.
    const file = await open(long, 'w');
    await file.truncate(2 ** 32);
    await file.close();
    const item: ParcelItem = {
      path: 'proxy/long.mov',
      kind: 'output',
      sizeBytes: (await stat(long)).size,
      xxh3: null,
      from: { root: out, path: 'proxy/long.mov' },
    };
    const room = await deliver(order({ items: [...items, item], system: 'fat32' }));
    expect(room.problems.map(({ path }) => path)).toEqual(['proxy/A001/1.MP4', 'proxy/long.mov']);
    expect(await shown(join(drive, 'for-the-edit'))).toEqual(['READ ME.txt', 'proxy/A001/1.mp4', 'proxy/A001/2.mp4']);
  });

  it('of a set that is not taken whole nothing counts as come', async () => {
    const { out, drive, order } = await handed({ 'dpx/1/1.0001.dpx': 'one', 'dpx/1/1: 2.dpx': 'two' });
    const from = { root: out, path: 'dpx/1' };
    const item: ParcelItem = { path: 'dpx/1', kind: 'output', sizeBytes: 6, xxh3: null, from };
    const made = await deliver(order({ items: [item], system: 'exfat' }));
    expect([made.state, made.whole, made.manifest]).toEqual(['failed', [], null]);
    expect(made.problems.map(({ what }) => what)).toEqual([expect.stringContaining('holds :, which exFAT refuses')]);
    expect(await shown(join(drive, 'for-the-edit'))).toEqual(['dpx/1/1.0001.dpx']);
  });

  it('paths that lead out of the folder are refused', async () => {
    const { base, drive, items, order } = await handed(two);
    const out = { ...(items[0] as ParcelItem), path: '../../out-of-it.mp4' };
    const made = await deliver(order({ items: [out] }));
    expect(made.state).toBe('failed');
    expect(await shown(drive)).toEqual([]);
    expect((await readdir(base)).sort()).toEqual(['drive', 'journals', 'out']);
  });
});
