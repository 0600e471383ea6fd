import { mkdir, readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { scratchFolder } from '../../testing/commands.ts';
import { comparedPath, keepPicture } from './cache.ts';

it('a picture is kept whole under its name, or nothing of it stays', async () => {
  const folder = await scratchFolder();
  const path = comparedPath(folder, { id: 'one', xxh3: '0123456789abcdef' }, 'output', 7);
  await keepPicture(path, Buffer.from('picture'));
  expect(await readFile(path, 'utf8')).toBe('picture');
  expect(await readdir(join(folder, 'compared/one'))).toEqual(['0123456789abcdef-output-7.jpg']);
  // What it cannot be given the name of, and what it cannot even be written beside: neither is an error of who looks.
  const taken = comparedPath(folder, { id: 'two', xxh3: 'x' }, 'output', 0);
  await mkdir(join(taken, 'in the way'), { recursive: true });
  await keepPicture(taken, Buffer.from('picture'));
  expect(await readdir(join(folder, 'compared/two'))).toEqual(['x-output-0.jpg']);
  await writeFile(join(folder, 'compared/three'), 'a file where a folder should be');
  await keepPicture(comparedPath(folder, { id: 'three', xxh3: 'x' }, 'output', 0), Buffer.from('picture'));
  expect((await readdir(join(folder, 'compared'))).sort()).toEqual(['one', 'three', 'two']);
});
