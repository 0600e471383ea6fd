import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { scratchFolder } from '../../testing/commands.ts';
import { foldersIn } from './stores.ts';

it('tells a folder that is not there from a store that is away', async () => {
  const path = await scratchFolder();
  await mkdir(join(path, 'day-1', 'A001'), { recursive: true });
  const shuttle = { id: 'shuttle', name: 'Shuttle', path, readOnly: false };
  expect(await foldersIn(shuttle, 'day-1')).toEqual({ folder: 'day-1', folders: ['A001'], files: 0 });
  await expect(foldersIn(shuttle, 'day-1/A002')).rejects.toMatchObject({
    status: 404,
    problem: { what: 'Shuttle has no folder day-1/A002', kind: 'no such folder' },
  });
  const away = { ...shuttle, path: join(path, 'unmounted') };
  await expect(foldersIn(away, 'day-1')).rejects.toMatchObject({
    status: 404,
    problem: { what: 'day-1 cannot be opened', remedy: 'See that the store is mounted' },
  });
});
