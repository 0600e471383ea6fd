import { mkdir, rename, rm, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { beforeEach, expect, it } from 'vitest';
import { scratchFolder } from '../../testing/commands.ts';
import { Listing } from './listing.ts';

let root: string;
const names = Array.from({ length: 20 }, (_, n) => `C${n}.mov`);
const options = { passes: () => false, remembered: () => false };

beforeEach(async () => {
  root = await scratchFolder();
  await mkdir(join(root, 'in'));
  for (const name of names) await writeFile(join(root, 'in', name), name);
});

it('counts what lies there, however often it looks, and refuses more than anybody has', async () => {
  const listing = new Listing(root, { ...options, mostFiles: 25 });
  for (let turn = 0; turn < 5; turn += 1) await listing.look('everything');
  for (let turn = 0; turn < 5; turn += 1) await listing.look('everything', ['in']);
  // What went is counted no more, a folder with all that lay in it.
  await rename(join(root, 'in'), join(root, 'other'));
  await listing.look('everything');
  expect(listing.waiting).toHaveLength(20);
  for (let n = 0; n < 6; n += 1) await writeFile(join(root, `more${n}`), '');
  await expect(listing.look('everything')).rejects.toThrow('more than 25 files lie in the inlet');
});

it('tells of links as long as they lie there', async () => {
  const listing = new Listing(root, options);
  await symlink(root, join(root, 'in', 'round'));
  await listing.look('everything');
  expect(listing.unseen).toEqual([{ shownPath: 'in/round', why: 'it is a link, and links are not followed' }]);
  await rm(join(root, 'in', 'round'));
  await listing.look('everything', ['in']);
  expect(listing.unseen).toEqual([]);
});

it('knows the size of what lies at a path, also of what was dealt with', async () => {
  const listing = new Listing(root, options);
  await listing.look('everything');
  for (const file of listing.waiting) listing.settle(file);
  expect(listing.waiting).toEqual([]);
  expect([listing.sizeAt('in/C1.mov'), listing.sizeAt('in/D.mov'), listing.sizeAt('C1.mov')]).toEqual([6, null, null]);
  await rm(join(root, 'in', 'C1.mov'));
  await listing.look('everything');
  expect(listing.sizeAt('in/C1.mov')).toBeNull();
});

it('looks at names alone where nothing is new, and closely where it is told to', async () => {
  const listing = new Listing(root, options);
  await listing.look('everything');
  for (const file of listing.waiting) listing.settle(file);
  listing.keepAnEyeOn('in/C2.mov');
  for (const name of ['C1.mov', 'C2.mov']) await writeFile(join(root, 'in', name), 'something longer');
  await listing.look('names');
  expect(listing.waiting.map(({ path }) => path)).toEqual(['in/C2.mov']);
  await listing.look('everything');
  expect(listing.waiting.map(({ path }) => path).sort()).toEqual(['in/C1.mov', 'in/C2.mov']);
});
