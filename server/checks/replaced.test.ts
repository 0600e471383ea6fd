import { mkdir, rm, stat, truncate, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { hashFile, hashFiles, hashOutput } from '@relay/work/disk/hash';
import { beforeAll, beforeEach, expect, it } from 'vitest';
import { scratchFolder } from '../../testing/commands.ts';
import { originalReplaced, outputReplaced, replacedBy, type Known } from './replaced.ts';

let folder: string;
let file: string;
let known: Known;

beforeAll(async () => {
  folder = await scratchFolder();
});
beforeEach(async () => {
  file = join(folder, 'proxy.mov');
  await writeFile(file, 'what was proved');
  known = { sizeBytes: 15, xxh3: await hashFile(file), at: new Date() };
});

const inAnHour = new Date(Date.now() + 3_600_000);
const write = async (text: string, at = inAnHour): Promise<void> => {
  await writeFile(file, text);
  await utimes(file, at, at);
};

it('what lies where it was proved is the same, also where it was copied back', async () => {
  expect(await outputReplaced(file, known)).toBeNull();
  await write('what was proved');
  expect(await outputReplaced(file, known)).toBeNull();
});

it('what has another size, or other contents, is another; and so is what is gone', async () => {
  await write('something else', known.at);
  expect(await outputReplaced(file, known)).toBe('size');
  await write('what was moved!');
  expect(await outputReplaced(file, known)).toBe('contents');
  await rm(file);
  expect(await outputReplaced(file, known)).toBe('size');
});

it('where nobody read it, or it is large, nothing is read: it is said to have been written since', async () => {
  await write('what was moved!');
  expect(await outputReplaced(file, { ...known, xxh3: null })).toBe('written');
  // What breaks off while it is read shows all the same.
  const broken = (): Promise<string> => Promise.reject(new Error('EIO'));
  expect(await replacedBy({ sizeBytes: 15, modifiedAt: inAnHour.toISOString() }, known, broken)).toBe('written');
  // A hole takes no room, and would take seconds to read.
  await truncate(file, 2 ** 29 + 1);
  const found = { sizeBytes: (await stat(file)).size, modifiedAt: inAnHour.toISOString() };
  let reads = 0;
  const counted = (): Promise<string> => Promise.resolve(String((reads += 1)));
  expect(await replacedBy(found, { ...known, sizeBytes: 2 ** 29 + 1 }, counted)).toBe('written');
  expect(reads).toBe(0);
});

it('of a folder the newest file says when it was written', async () => {
  const images = join(folder, 'images');
  await mkdir(images);
  for (const name of ['1.dpx', '2.dpx', '3.dpx']) await writeFile(join(images, name), name);
  const all = { sizeBytes: 15, xxh3: await hashOutput(images), at: new Date() };
  expect(await outputReplaced(images, all)).toBeNull();
  await writeFile(join(images, '2.dpx'), '8.dpx');
  await utimes(join(images, '2.dpx'), inAnHour, inAnHour);
  expect(await outputReplaced(images, all)).toBe('contents');
});

it('an original is known by the times it may carry, an older one of its size too', async () => {
  const time = (await stat(file)).mtime.toISOString();
  const original = { ...known, times: [time, null] };
  expect(await originalReplaced([file], original)).toBeNull();
  const older = new Date('2025-03-01T10:00:00Z');
  await write('what was moved!', older);
  expect(await originalReplaced([file], original)).toBe('contents');
  // Found elsewhere, with the time that it carries there.
  expect(await originalReplaced([file], { ...original, times: [time, older.toISOString()] })).toBeNull();
});

it('of several files any may have been written since', async () => {
  const second = join(folder, 'second.mov');
  await writeFile(second, 'its other part');
  const both = { sizeBytes: 29, xxh3: await hashFiles([file, second]), at: new Date() };
  expect(await originalReplaced([file, second], both)).toBeNull();
  await writeFile(second, 'its first part');
  await utimes(second, inAnHour, inAnHour);
  expect(await originalReplaced([file, second], both)).toBe('contents');
});
