import { mkdir, mkdtemp, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { goneFrom } from './present.ts';

it('says which files are not there any more: a file, a folder, behind a link, a whole store', async () => {
  const path = await mkdtemp(join(tmpdir(), 'relay-gone-'));
  await mkdir(join(path, 'day-1/A001'), { recursive: true });
  await writeFile(join(path, 'day-1/A001/a.mov'), '');
  await writeFile(join(path, 'root.mov'), '');
  await symlink(join(path, 'day-1'), join(path, 'linked'));
  const store = { id: 'raid', name: 'Raid', path };
  const asked = ['day-1/A001/a.mov', 'day-1/A001/b.mov', 'day-2/A001/a.mov', 'linked/A001/a.mov', 'root.mov', 'r.mov'];
  expect([...(await goneFrom(store, asked))]).toEqual([
    'day-1/A001/b.mov',
    'day-2/A001/a.mov',
    'linked/A001/a.mov',
    'r.mov',
  ]);
  await rm(path, { recursive: true });
  expect((await goneFrom(store, asked)).size).toBe(asked.length);
});
