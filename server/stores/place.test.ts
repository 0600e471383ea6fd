import { mkdir, readdir, readFile, symlink, writeFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { call, scratchFolder } from '../../testing/commands.ts';
import { discardAbandoned, discardLeftovers, exists, giveName, hashFile, NameTaken, placeInside, takenAmong, temporaryBeside, writeWhole } from './place.ts';
import { filesBelow } from './walk.ts';

describe('places', () => {
  it('stay inside their root, by name and through links', async () => {
    const root = join(await scratchFolder(), 'store');
    await mkdir(join(root, 'inner'), { recursive: true });
    await symlink('/etc', join(root, 'out'));
    await symlink(join(root, 'inner'), join(root, 'in'));
    expect(await placeInside(root, 'not/yet/there.mov')).toBe(join(root, 'not/yet/there.mov'));
    for (const path of ['../elsewhere', '/etc/passwd', 'a/../../b', 'out/passwd', 'out']) await expect(placeInside(root, path)).rejects.toThrow();
  });

  it('that are taken are told, many at once, and none outside', async () => {
    const root = await scratchFolder();
    await mkdir(join(root, 'proxy/A001'), { recursive: true });
    for (const name of ['proxy/A001/a.mov', 'proxy/A001/b.mov', 'top.mov']) await writeFile(join(root, name), 'x');
    expect(await takenAmong(root, ['proxy/A001/a.mov', 'proxy/A001/c.mov', 'proxy/B001/a.mov', 'top.mov', 'proxy/A001'])).toEqual(['proxy/A001/a.mov', 'top.mov', 'proxy/A001']);
    await expect(takenAmong(root, ['../elsewhere.mov'])).rejects.toThrow();
  });

  it('are named in one step that replaces nothing', async () => {
    const folder = await scratchFolder();
    const final = join(folder, 'deep/er/A001C003.mov');
    const first = await temporaryBeside(final, 'leg');
    await writeFile(first, 'first');
    await giveName(first, final);
    const second = await temporaryBeside(final, 'leg');
    await writeFile(second, 'second');
    await expect(giveName(second, final)).rejects.toThrow(NameTaken);
    expect(await readFile(final, 'utf8')).toBe('first');
    await writeFile(await temporaryBeside(final, 'other'), 'another leg\'s');
    await discardLeftovers([final], 'leg');
    expect((await readdir(join(folder, 'deep/er'))).length).toBe(2);
    expect(await exists(second)).toBe(false);
  });

  it('are cleared of what a dead owner left, and of nothing else', async () => {
    const folder = await scratchFolder();
    const mine = await temporaryBeside(join(folder, 'a/x.mov'), 'cli.host.1.0');
    const theirs = await temporaryBeside(join(folder, 'a/y.mov'), 'cli.host.2.0');
    for (const path of [mine, theirs, join(folder, 'a/z.mov')]) await writeFile(path, 'x');
    await discardAbandoned(folder, (owner) => owner === 'cli.host.1.0');
    expect((await readdir(join(folder, 'a'))).length).toBe(2);
    expect(await exists(mine)).toBe(false);
  });

  it('are hashed as xxhsum does', async () => {
    const path = join(await scratchFolder(), 'file');
    await writeFile(path, Buffer.from(Array.from({ length: 300_000 }, (_, i) => (i * 31) % 256)));
    expect((await call('xxhsum', ['-H3', path])).stdout).toContain(await hashFile(path));
  });
});

describe('looking below a folder', () => {
  it('finds files at any depth, passes over hidden ones, and follows no link out', async () => {
    const root = await scratchFolder();
    await mkdir(join(root, 'a/b'), { recursive: true });
    await writeFile(join(root, 'a/b/clip.mov'), '');
    await writeFile(join(root, '.hidden'), '');
    await symlink('/etc/passwd', join(root, 'a/secret.mov'));
    await symlink(join(root, 'gone'), join(root, 'a/nowhere.mov'));
    await symlink(join(root, 'a'), join(root, 'a/loop'));
    const { files, unseen } = await filesBelow(root);
    expect(files.map((file) => file.shownPath)).toEqual(['a/b/clip.mov']);
    expect(unseen.map((entry) => entry.shownPath).sort()).toEqual(['a/loop', 'a/nowhere.mov', 'a/secret.mov']);
  });
});

it('a sheet that a killed process was writing is cleared up by the next one; another machine\'s is left', async () => {
  const folder = await scratchFolder();
  // A number that no process has here: beyond Linux's highest.
  const [dead, elsewhere] = [`.relay-part-sheet.${hostname()}.4194305-aaaa`, '.relay-part-sheet.other-machine.4194305-bbbb'];
  for (const name of [dead, elsewhere]) await writeFile(join(folder, name), 'half');
  await writeWhole(join(folder, 'relink.csv'), 'whole');
  expect((await readdir(folder)).sort()).toEqual([elsewhere, 'relink.csv']);
});
