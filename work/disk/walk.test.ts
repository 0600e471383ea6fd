import { symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { scratchFolder } from '../../testing/commands.ts';
import { filesBelow } from './walk.ts';

it('names what it leaves: links, and names that no other machine would read; a name that holds the mark for such is a name', async () => {
  const folder = await scratchFolder();
  await writeFile(join(folder, 'A001C001.mov'), 'a');
  await writeFile(join(folder, 'odd\uFFFDname.mov'), 'b');
  await writeFile(
    Buffer.concat([Buffer.from(`${folder}/`), Buffer.from([0x41, 0xff, 0x42]), Buffer.from('.mov')]),
    'c',
  );
  await symlink(join(folder, 'A001C001.mov'), join(folder, 'link.mov'));
  const { files, unseen } = await filesBelow({ root: folder, folder: '' });
  expect(files.map(({ shownPath }) => shownPath)).toEqual(['A001C001.mov', 'odd\uFFFDname.mov']);
  expect(unseen).toEqual([
    { shownPath: 'A\uFFFDB.mov', why: 'its name is not UTF-8, and no other machine would read it: rename it' },
    { shownPath: 'link.mov', why: 'it is a link, and links are not followed' },
  ]);
});
