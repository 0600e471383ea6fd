import { mkdir, symlink, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { expect, it } from 'vitest';
import { scratchFolder } from '../../testing/commands.ts';
import { diskOf, diskOfDevice, diskOfMount, type DiskTables } from './disk.ts';

/** A made-up table of devices and mounts, in which the scratch folder lies on what each test says. */
async function tables(files: Record<string, string>, links: Record<string, string> = {}): Promise<DiskTables> {
  const sys = await scratchFolder();
  for (const [path, text] of Object.entries(files)) {
    await mkdir(dirname(join(sys, path)), { recursive: true });
    await writeFile(join(sys, path), text);
  }
  for (const [path, target] of Object.entries(links)) {
    await mkdir(dirname(join(sys, path)), { recursive: true });
    await symlink(join(sys, target), join(sys, path));
  }
  return { sys, mounts: join(sys, 'mountinfo') };
}

it('two folders of one file system lie on one disk, and what is not there on none', async () => {
  const [one, other] = [await scratchFolder(), await scratchFolder()];
  expect(await diskOf(one)).toMatch(/^(disk|volume|server) ./);
  expect(await diskOf(other)).toBe(await diskOf(one));
  expect(await diskOf(join(one, 'gone'))).toBeNull();
});

it('partitions are of one disk, known by its serial number; a volume over two names both', async () => {
  const partition = await tables(
    { 'devices/sda/device/wwid': 'naa.5000  1\n', 'devices/sda/sda2/partition': '2\n' },
    { 'dev/block/8:2': 'devices/sda/sda2' },
  );
  expect(await diskOfDevice('8:2', partition)).toBe('disk naa.5000 1');
  const volume = await tables(
    { 'devices/dm-0/size': '1', 'devices/sdb/serial': 'B\n', 'devices/sdc/sdc1/partition': '1\n' },
    {
      'dev/block/253:0': 'devices/dm-0',
      'devices/dm-0/slaves/sdb': 'devices/sdb',
      'devices/dm-0/slaves/sdc1': 'devices/sdc/sdc1',
    },
  );
  expect(await diskOfDevice('253:0', volume)).toBe('disk B + disk sdc');
});

it('shares of one server count as one, and memory as itself', async () => {
  const shares = await tables({
    mountinfo: `40 1 0:40 / /a rw - nfs4 Raid.example:/vol/a rw
41 1 0:41 / /b rw - nfs4 raid.example:/vol/b rw
42 1 0:42 / /c rw - cifs //raid.example/c rw
43 1 0:43 / /d rw - nfs4 [fd00::1]:/vol rw
44 1 0:44 / /e rw - tmpfs tmpfs rw
`,
  });
  const on = (path: string, at: string): Promise<string> => diskOfMount(path, at, shares);
  expect([await on('/a/x', '0:40'), await on('/b', '0:41'), await on('/c', '0:42')]).toEqual(
    Array(3).fill('server raid.example'),
  );
  expect([await on('/d', '0:43'), await on('/e', '0:44')]).toEqual(['server [fd00::1]', 'volume 0:44']);
});
