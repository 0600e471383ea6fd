import { mkdir, mkdtemp, readdir, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { watchMounts } from './mountWatch.ts';
import { Roots } from './roots.ts';
import { Stores } from './stores.ts';
import { pause } from '../../testing/site.ts';

let home: string;
let roots: Roots;
let stores: Stores;
const at = (...names: string[]): string => join(home, ...names);
const line = (path: string, options = 'rw'): string =>
  `40 1 8:17 / ${path.replaceAll(' ', '\\040')} ${options} - exfat /dev/sdb1 ${options}\n`;
const mounted = (text: string): Promise<void> => writeFile(at('mounts'), text);
/** Asks for a folder of a root to lie in a store. */
const settle = (root: string, folder: string, itself = false): ReturnType<Roots['settle']> =>
  roots.settle({ root: at(root), folder, itself });

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

it('a folder lies in the folder around it, so that outputs have a place beside; the next one in the same store', async () => {
  const first = await settle('ada', 'footage/day-1');
  expect(first).toMatchObject({ store: { id: 'footage', path: at('ada/footage'), marked: true }, folder: 'day-1' });
  expect(await settle('ada', 'footage/day-1/A001')).toMatchObject({ store: { id: 'footage' }, folder: 'day-1/A001' });
  expect((await stores.list()).length).toBe(1);
});

it('a drive is a store whole, a card is one that is only read from and gets no mark', async () => {
  expect(await settle('media/Shuttle', 'day-2')).toMatchObject({ store: { id: 'shuttle' }, folder: 'day-2' });
  const card = await settle('media/SALT A001', '');
  expect(card).toMatchObject({ store: { id: 'salt-a001', readOnly: true }, folder: '' });
  expect(await readdir(at('media/SALT A001'))).toEqual(['DCIM']);
  expect((await roots.list()).map((root) => root.store)).toEqual(['salt-a001', 'shuttle', null]);
});

it('where the folder itself is wanted it is the store; a name that is taken gets a number, and no store is moved', async () => {
  await mkdir(at('ada/other/footage'), { recursive: true });
  expect(await settle('ada', 'other/footage', true)).toMatchObject({ store: { id: 'footage-2', name: 'footage 2' } });
  expect((await stores.get('footage'))?.path).toBe(at('ada/footage'));
  await stores.forget('footage-2');
  expect(await readdir(at('ada/other/footage'))).toEqual(['.relay-store']);
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
