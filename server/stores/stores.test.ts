import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { scratchFolder } from '../../testing/commands.ts';
import { isThere, storeSpace } from '@relay/work/disk/store';
import { Stores } from './stores.ts';

it('a store is itself by its mark: an empty folder where a share was mounted is not it, nor is another store', async () => {
  const base = await scratchFolder();
  const stores = new Stores(join(base, 'stores.json'));
  const share = join(base, 'share');
  await mkdir(share);
  await stores.put('Night Shuttle', share);
  const store = async () => {
    const one = await stores.get('night-shuttle');
    if (!one) throw new Error('not kept');
    return one;
  };
  expect(await store()).toMatchObject({ name: 'Night Shuttle', path: share, marked: true });
  expect([await isThere(await store()), (await storeSpace(await store())) !== null]).toEqual([true, true]);

  // Unmounted: its folder is there, and empty.
  await rename(share, join(base, 'elsewhere'));
  await mkdir(share);
  expect([await isThere(await store()), await storeSpace(await store())]).toEqual([false, null]);
  await expect(stores.put('Night Shuttle', share)).rejects.toThrow('mount it first');
  await expect(stores.put('Day Shuttle', join(base, 'elsewhere'))).rejects.toThrow(
    'is the store night-shuttle already',
  );

  // Another store's disk where it was: its mark is there, but is not this store's.
  await writeFile(join(share, '.relay-store'), 'day-shuttle\n');
  expect([await isThere(await store()), await storeSpace(await store())]).toEqual([false, null]);

  // Mounted at another place, what members call it stays.
  await stores.putElsewhere('night-shuttle', { windows: 'S:\\night' });
  await stores.put('Night Shuttle', join(base, 'elsewhere'));
  expect(await store()).toMatchObject({
    path: join(base, 'elsewhere'),
    marked: true,
    elsewhere: { windows: 'S:\\night' },
  });
  expect(await isThere(await store())).toBe(true);

  // A mark that somebody cleared away is written again where its files are.
  await rm(join(base, 'elsewhere', '.relay-store'));
  await writeFile(join(base, 'elsewhere', 'A001C003.mov'), 'x');
  expect(await isThere(await store())).toBe(false);
  await stores.put('Night Shuttle', join(base, 'elsewhere'));
  expect(await readFile(join(base, 'elsewhere', '.relay-store'), 'utf8')).toBe('night-shuttle\n');
});
