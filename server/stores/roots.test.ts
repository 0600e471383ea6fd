import { mkdir, mkdtemp, readdir, rename, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { watchMounts } from './mountWatch.ts';
import { Roots } from './roots.ts';
import type { Store } from '@relay/work/disk/store';
import { Stores, type StoreUse } from './stores.ts';
import { pause } from '../../testing/site.ts';

let home: string;
let roots: Roots;
let stores: Stores;
const at = (...names: string[]): string => join(home, ...names);
const line = (path: string, options = 'rw'): string =>
  `40 1 8:17 / ${path.replaceAll(' ', '\\040')} ${options} - exfat /dev/sdb1 ${options}\n`;
const mounted = (text: string): Promise<void> => writeFile(at('mounts'), text);
/** Asks for a folder of a root to lie in a store. */
const settle = (root: string, folder: string, use: StoreUse = 'read'): ReturnType<Roots['settle']> =>
  roots.settle({ root: at(root), folder, use });

beforeAll(async () => {
  home = await mkdtemp(join(tmpdir(), 'relay-roots-'));
  for (const folder of ['ada/footage/day-1/A001', 'ada/.hidden/x', 'media/SALT A001/DCIM', 'media/Shuttle/day-2'])
    await mkdir(at(folder), { recursive: true });
  await symlink('/etc', at('ada/elsewhere'));
  await mounted(line(at('media/SALT A001'), 'ro') + line(at('media/Shuttle')));
  stores = new Stores(at('stores.json'));
  roots = new Roots(
    { folders: [at('ada')], mountedBelow: [at('media'), at('nowhere')], mountTable: at('mounts') },
    stores,
  );
});
afterAll(() => rm(home, { recursive: true, force: true }));

it('tells folders that are allowed, and drives and cards that are mounted; a card by its folders', async () => {
  const found = (await roots.list()).map(({ name, kind, readOnly, store }) => [name, kind, readOnly, store]);
  expect(found).toEqual([
    ['SALT A001', 'card', true, null],
    ['Shuttle', 'drive', false, null],
    ['ada', 'folder', false, null],
  ]);
});

it('a folder lies in the folder around it, so that outputs have a place beside; nothing is written to be read', async () => {
  const first = await settle('ada', 'footage/day-1');
  expect(first).toEqual({ store: { id: 'footage', name: 'footage', path: at('ada/footage') }, folder: 'day-1' });
  expect(await settle('ada', 'footage/day-1/A001')).toMatchObject({ store: { id: 'footage' }, folder: 'day-1/A001' });
  expect((await stores.list()).length).toBe(1);
  expect(await readdir(at('ada/footage'))).toEqual(['day-1']);
  // A mark comes with the first thing that is made there; an empty folder, as an unmounted share leaves it, gets none.
  await stores.markFirst(first.store);
  expect([await readdir(at('ada/footage')), (await stores.get('footage'))?.marked]).toEqual([
    ['.relay-store', 'day-1'],
    true,
  ]);
  await mkdir(at('empty'));
  await stores.markFirst({ id: 'empty', name: 'Empty', path: at('empty') });
  expect(await readdir(at('empty'))).toEqual([]);
});

it('a drive is a store whole; what is brought in from stays as it is, and so does a card', async () => {
  const recorder = await settle('media/Shuttle', 'day-2', 'bring in');
  expect(recorder).toMatchObject({ store: { id: 'shuttle', readOnly: true }, folder: 'day-2' });
  await stores.markFirst(recorder.store);
  const card = await settle('media/SALT A001', '');
  expect(card).toMatchObject({ store: { id: 'salt-a001', readOnly: true }, folder: '' });
  for (const [drive, inside] of [
    ['SALT A001', ['DCIM']],
    ['Shuttle', ['day-2']],
  ] as const)
    expect(await readdir(at('media', drive))).toEqual(inside);
  expect((await roots.list()).map((root) => root.store)).toEqual(['salt-a001', 'shuttle', null]);
});

it('a drive that was brought in from takes outputs once somebody says so; a card never does', async () => {
  const { store } = await settle('media/Shuttle', '', 'make');
  expect(store).toEqual({ id: 'shuttle', name: 'Shuttle', path: at('media/Shuttle'), marked: true });
  await expect(settle('media/SALT A001', 'DCIM', 'make')).rejects.toThrow('nothing is made on it');
});

it('where something is to be made the folder itself is the store; a taken name gets a number, and no store is moved', async () => {
  await mkdir(at('ada/other/footage'), { recursive: true });
  expect(await settle('ada', 'other/footage', 'make')).toMatchObject({ store: { id: 'footage-2', name: 'footage 2' } });
  expect((await stores.get('footage'))?.path).toBe(at('ada/footage'));
  await mkdir(at('ada/Card bay'));
  expect(await settle('ada', 'Card bay', 'make')).toMatchObject({ store: { id: 'card-bay-2' } });
});

it('a store that was taken off the list is known again by its mark; one that is known elsewhere is not moved', async () => {
  await stores.forget('footage');
  await stores.forget('footage-2');
  expect(await settle('ada', 'other/footage', 'make')).toMatchObject({ store: { id: 'footage-2', name: 'footage' } });
  await mkdir(at('ada/copied'));
  await writeFile(at('ada/copied/.relay-store'), 'footage-2\n');
  await expect(settle('ada', 'copied', 'make')).rejects.toMatchObject({ status: 409 });
  // A stranger's disk may say anything of itself.
  await writeFile(at('ada/copied/.relay-store'), '../../etc\n');
  expect(await settle('ada', 'copied', 'make')).toEqual({
    store: { id: 'copied', name: 'copied', path: at('ada/copied') },
    folder: '',
  });
  await mkdir(at('ada/sly'));
  await writeFile(at('ada/sly/.relay-store'), 'card-bay\n');
  expect(await settle('ada', 'sly', 'make')).toMatchObject({ store: { id: 'sly' } });
});

it('a list that cannot be written is said so, and stays as it was', async () => {
  const before = await stores.list();
  const full = new Stores(at('stores.json', 'below-a-file.json'));
  await expect(full.add(at('ada'), 'read')).rejects.toMatchObject({ status: 507 });
  expect(await stores.list()).toEqual(before);
});

it('a store whose mark could not be written down, or that a kill came between, works on and is marked the next time', async () => {
  await mkdir(at('ada/half/day-1'), { recursive: true });
  const { store } = await settle('ada', 'half', 'read');
  // Its mark is on the disk, the list knows nothing of it.
  await writeFile(join(store.path, '.relay-store'), `${store.id}\n`);
  const full = new Stores(at('stores.json', 'below-a-file.json'));
  await full.markFirst(store);
  expect((await stores.get(store.id))?.marked).toBeUndefined();
  await stores.markFirst(store);
  expect((await stores.get(store.id))?.marked).toBe(true);
});

it('two that write the list at once leave it whole, and nothing beside it', async () => {
  await Promise.all(Array.from({ length: 8 }, () => stores.letWrite('footage-2')));
  expect((await stores.list()).map(({ id }) => id)).toContain('footage-2');
  expect((await readdir(at())).filter((name) => name.includes('stores.json') && name !== 'stores.json')).toEqual([]);
  expect((await readdir(at())).filter((name) => name.startsWith('.relay'))).toEqual([]);
});

it('nothing leads out: other roots, dots, links and hidden folders', async () => {
  await expect(settle('', 'ada')).rejects.toThrow('is not there');
  await expect(roots.root('/etc')).rejects.toThrow('is not there');
  await expect(settle('ada', '../media')).rejects.toThrow('is hidden');
  await expect(settle('ada', 'footage/../../media')).rejects.toThrow('is hidden');
  await expect(settle('ada', '.hidden/x')).rejects.toThrow('is hidden');
  await expect(settle('ada', 'elsewhere')).rejects.toThrow('cannot be opened');
  await expect(settle('ada', 'gone')).rejects.toThrow('cannot be opened');
});

it('what is mounted or taken away is noticed', async () => {
  let changes = 0;
  const watch = watchMounts(at('mounts'), () => (changes += 1));
  await pause(300);
  await mounted(line(at('media/Shuttle')));
  for (let wait = 0; wait < 60 && changes === 0; wait += 1) await pause(100);
  watch.close();
  expect(changes).toBe(1);
  expect((await roots.list()).map((root) => root.name)).toContain('Shuttle');
  await expect(roots.root(at('media/SALT A001'))).rejects.toThrow('is not there');
});

it('a store that is away lies in another folder where that carries its mark, and goes back to where it lay', async () => {
  await mkdir(at('ada/moving/inner'), { recursive: true });
  await stores.put('Moving', at('ada/moving'));
  const store = async () => (await stores.get('moving')) as Store;
  const lies = async (folder: string): Promise<void> => roots.lies(await store(), { root: at('ada'), folder });
  await expect(lies('footage')).rejects.toMatchObject({
    problem: { what: expect.stringContaining('Moving is there') },
  });
  await rename(at('ada/moving'), at('ada/renamed'));
  await expect(lies('footage')).rejects.toMatchObject({ problem: { what: expect.stringContaining('another store') } });
  await expect(lies('renamed/inner')).rejects.toMatchObject({
    problem: { what: expect.stringContaining('not marked as Moving') },
  });
  await expect(lies('elsewhere')).rejects.toMatchObject({ status: 404 });
  await expect(lies('.hidden/x')).rejects.toMatchObject({ status: 400 });
  await lies('renamed');
  expect(await store()).toMatchObject({ path: at('ada/renamed'), before: at('ada/moving'), marked: true });
  await stores.movedBack(await store());
  expect(await store()).toEqual({ id: 'moving', name: 'Moving', path: at('ada/moving'), marked: true });
  await expect(stores.movedBack(await store())).rejects.toMatchObject({ status: 409 });
});
