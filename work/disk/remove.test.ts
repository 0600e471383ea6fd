import { appendFile, link, mkdir, readdir, readFile, rename, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { scratchFolder } from '../../testing/commands.ts';
import { hashOutput, outputBytes } from './hash.ts';
import { partNameBeside } from './place.ts';
import { removeMade, type KnownMade } from './remove.ts';

async function known(path: string): Promise<KnownMade> {
  return { sizeBytes: await outputBytes(path), xxh3: await hashOutput(path) };
}

it('what is what was made goes, a file or a set; what is not, stays under its name', async () => {
  const root = await scratchFolder();
  await mkdir(join(root, 'a/frames'), { recursive: true });
  await writeFile(join(root, 'a/one.mov'), 'picture');
  for (const n of [1, 2, 3]) await writeFile(join(root, `a/frames/${n}.tif`), `frame ${n}`);
  const [one, frames] = [await known(join(root, 'a/one.mov')), await known(join(root, 'a/frames'))];

  // Of the same size, and another content; another size; one file too many, or a folder, in a set.
  await writeFile(join(root, 'a/one.mov'), 'pictuRe');
  expect(await removeMade(root, 'a/one.mov', one, 'x.1')).toEqual({
    state: 'left',
    why: 'it was changed since it was made',
  });
  await appendFile(join(root, 'a/one.mov'), '!');
  expect(await removeMade(root, 'a/one.mov', one, 'x.1')).toMatchObject({ state: 'left' });
  await writeFile(join(root, 'a/frames/original.mov'), '');
  expect(await removeMade(root, 'a/frames', frames, 'x.2')).toMatchObject({ state: 'left' });
  await rename(join(root, 'a/frames/original.mov'), join(root, 'a/original.mov'));
  await mkdir(join(root, 'a/frames/inner'));
  expect(await removeMade(root, 'a/frames', frames, 'x.2')).toMatchObject({ state: 'left' });
  await rename(join(root, 'a/frames/inner'), join(root, 'a/inner'));
  expect((await readdir(join(root, 'a'))).sort()).toEqual(['frames', 'inner', 'one.mov', 'original.mov']);

  await writeFile(join(root, 'a/one.mov'), 'picture');
  expect(await removeMade(root, 'a/one.mov', one, 'x.1')).toEqual({ state: 'gone' });
  expect(await removeMade(root, 'a/frames', frames, 'x.2')).toEqual({ state: 'gone' });
  expect((await readdir(join(root, 'a'))).sort()).toEqual(['inner', 'original.mov']);
  expect(await removeMade(root, 'a/one.mov', one, 'x.1')).toEqual({ state: 'not there' });
  expect(await removeMade(root, 'b/one.mov', one, 'x.1')).toEqual({ state: 'not there' });
});

it('what somebody came to need while it was read stays', async () => {
  const root = await scratchFolder();
  await writeFile(join(root, 'one.mov'), 'picture');
  const made = await known(join(root, 'one.mov'));
  const needed = await removeMade(root, 'one.mov', made, 'x.1', () => Promise.resolve('somebody needs it'));
  expect(needed).toEqual({ state: 'left', why: 'somebody needs it' });
  // Touched in the very last moment.
  const touched = await removeMade(root, 'one.mov', made, 'x.1', async () => {
    await writeFile(join(root, 'one.mov'), 'Picture');
    return null;
  });
  expect(touched).toEqual({ state: 'left', why: 'it was changed while it was looked at' });
  expect(await readdir(root)).toEqual(['one.mov']);
  expect(await readFile(join(root, 'one.mov'), 'utf8')).toBe('Picture');
});

it('a link is not followed, on the way neither; a way out is none; another name of the same bytes stays', async () => {
  const root = await scratchFolder();
  const away = await scratchFolder();
  await writeFile(join(away, 'original.mov'), 'picture');
  const made = await known(join(away, 'original.mov'));
  await symlink(join(away, 'original.mov'), join(root, 'one.mov'));
  await symlink(away, join(root, 'way'));
  expect(await removeMade(root, 'one.mov', made, 'x.1')).toMatchObject({ state: 'left' });
  expect(await removeMade(root, 'way/original.mov', made, 'x.1')).toMatchObject({ state: 'left' });
  expect(await removeMade(root, '../original.mov', made, 'x.1')).toMatchObject({ state: 'left' });
  await link(join(away, 'original.mov'), join(root, 'two.mov'));
  expect(await removeMade(root, 'two.mov', made, 'x.1')).toEqual({ state: 'gone' });
  expect(await readFile(join(away, 'original.mov'), 'utf8')).toBe('picture');
});

it('what a kill left under a temporary name is put back and looked at anew', async () => {
  const root = await scratchFolder();
  await writeFile(join(root, 'one.mov'), 'picture');
  const made = await known(join(root, 'one.mov'));
  await rename(join(root, 'one.mov'), partNameBeside(join(root, 'one.mov'), 'x.1').place);
  expect(await removeMade(root, 'one.mov', made, 'y.1')).toEqual({ state: 'not there' });
  expect(await removeMade(root, 'one.mov', { ...made, xxh3: '0'.repeat(16) }, 'x.1')).toMatchObject({ state: 'left' });
  expect(await readdir(root)).toEqual(['one.mov']);
  expect(await removeMade(root, 'one.mov', made, 'x.1')).toEqual({ state: 'gone' });
  expect(await readdir(root)).toEqual([]);
});
