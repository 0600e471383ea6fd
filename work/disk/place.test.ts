import { mkdir, mkdtemp, readdir, readFile, rename, rm, symlink, writeFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { call, scratchFolder } from '../../testing/commands.ts';
import { hashFile } from './hash.ts';
import { diskProblem } from './diskProblem.ts';
import { holding, NotAsItShould, StoreAway } from './held.ts';
import { pause } from '../../testing/site.ts';
import {
  discard,
  discardAbandoned,
  discardLeftovers,
  discardPart,
  Exchanged,
  exists,
  fileFacts,
  flush,
  giveName,
  leavePart,
  NameTaken,
  partBeside,
  readText,
  setBeside,
  takenAmong,
  writeWhole,
  type Part,
} from './place.ts';
import { markAs, placeIn } from './store.ts';
import { filesBelow } from './walk.ts';

/** A finished part with a text in it, its folder made. */
async function partWith(
  folder: string,
  path: string,
  owner: string,
  text: string,
): Promise<{ part: Part; final: string }> {
  return holding(async (held) => {
    await held.place(folder, path, true);
    const final = join(folder, path);
    const part = await partBeside(final, owner);
    await part.handle.writeFile(text);
    await flush(part);
    return { part, final };
  });
}

describe('places', () => {
  it('stay inside their root, by name and through links', async () => {
    const root = join(await scratchFolder(), 'store');
    await mkdir(join(root, 'inner'), { recursive: true });
    await symlink('/etc', join(root, 'out'));
    await symlink(join(root, 'inner'), join(root, 'in'));
    await holding(async (held) => {
      await writeFile(await held.place(root, 'not/yet/there.mov', true), 'made');
      for (const path of ['../elsewhere', '/etc/passwd', 'a/../../b', 'out/passwd', 'in/x', 'inner/\0', ''])
        await expect(held.place(root, path, true), path).rejects.toThrow();
      await expect(held.file(root, 'out')).rejects.toThrow(NotAsItShould);
    });
    expect(await readFile(join(root, 'not/yet/there.mov'), 'utf8')).toBe('made');
    expect(await readdir(root)).toEqual(['in', 'inner', 'not', 'out']);
  });

  it("once held, lead nowhere else, whatever is put in the folder's place", async () => {
    const base = await scratchFolder();
    const outside = await mkdtemp(join(base, 'outside-'));
    await mkdir(join(base, 'store/out'), { recursive: true });
    await holding(async (held) => {
      const place = await held.place(join(base, 'store'), 'out/proxy.mov');
      await rename(join(base, 'store/out'), join(base, 'store/away'));
      await symlink(outside, join(base, 'store/out'));
      await writeFile(place, 'x');
    });
    expect(await readdir(outside)).toEqual([]);
    expect(await readdir(join(base, 'store/away'))).toEqual(['proxy.mov']);
  });

  it('a link that is swapped in again and again is never read through, nor written through', async () => {
    const base = await scratchFolder();
    await mkdir(join(base, 'outside'));
    await writeFile(join(base, 'outside/clip.mov'), 'secret');
    await mkdir(join(base, 'store/roll'), { recursive: true });
    await writeFile(join(base, 'store/roll/clip.mov'), 'clip');
    let swapping = true;
    const swapper = (async () => {
      while (swapping) {
        await rename(join(base, 'store/roll'), join(base, 'store/aside'));
        await symlink(join(base, 'outside'), join(base, 'store/roll'));
        await rm(join(base, 'store/roll'));
        await rename(join(base, 'store/aside'), join(base, 'store/roll'));
        await pause(1);
      }
    })();
    const read: string[] = [];
    for (let turn = 0; turn < 600; turn += 1) {
      await holding(async (held) => {
        read.push(await readText(await held.file(join(base, 'store'), 'roll/clip.mov'), 100));
      }).catch(() => undefined);
      await holding(async (held) => writeFile(await held.place(join(base, 'store'), `roll/${turn}.txt`), 'x')).catch(
        () => undefined,
      );
    }
    swapping = false;
    await swapper;
    expect(read.length).toBeGreaterThan(20);
    expect(new Set(read)).toEqual(new Set(['clip']));
    expect(await readdir(join(base, 'outside'))).toEqual(['clip.mov']);
  });

  it('are files only: pipes, devices and links are neither waited for nor followed', async () => {
    const root = await scratchFolder();
    await call('mkfifo', [join(root, 'card.md5')]);
    await symlink('/etc/hostname', join(root, 'link'));
    await holding(async (held) => {
      for (const name of ['card.md5', 'link']) await expect(held.file(root, name), name).rejects.toThrow(NotAsItShould);
    });
    await expect(readText(join(root, 'card.md5'), 100)).rejects.toThrow();
    expect(await fileFacts(join(root, 'link'))).toBeNull();
    const { files, unseen } = await filesBelow(root);
    expect([files, unseen.map((one) => one.shownPath)]).toEqual([[], ['card.md5', 'link']]);
  });

  it('that are taken are told, many at once, and none outside', async () => {
    const root = await scratchFolder();
    await mkdir(join(root, 'proxy/A001'), { recursive: true });
    for (const name of ['proxy/A001/a.mov', 'proxy/A001/b.mov', 'top.mov']) await writeFile(join(root, name), 'x');
    expect(
      await takenAmong(root, ['proxy/A001/a.mov', 'proxy/A001/c.mov', 'proxy/B001/a.mov', 'top.mov', 'proxy/A001']),
    ).toEqual(['proxy/A001/a.mov', 'top.mov', 'proxy/A001']);
    await expect(takenAmong(root, ['../elsewhere.mov'])).rejects.toThrow();
  });

  it('are named in one step that replaces nothing', async () => {
    const folder = await scratchFolder();
    const { part: first, final } = await partWith(folder, 'deep/er/A001C003.mov', 'leg', 'first');
    await giveName(first, final);
    const { part: second } = await partWith(folder, 'deep/er/A001C003.mov', 'leg', 'second');
    await expect(giveName(second, final)).rejects.toThrow(NameTaken);
    expect(await readFile(final, 'utf8')).toBe('first');
    const { part: others } = await partWith(folder, 'deep/er/A001C003.mov', 'other', "another leg's");
    await Promise.all([leavePart(second), leavePart(others)]);
    await discardLeftovers(folder, ['deep/er/A001C003.mov'], 'leg');
    expect((await readdir(join(folder, 'deep/er'))).length).toBe(2);
    expect(await exists(second.place)).toBe(false);
  });

  it('say so when something else was put under the temporary name', async () => {
    const folder = await scratchFolder();
    const { part, final } = await partWith(folder, 'A001C003.mov', 'leg', 'proved');
    await rm(part.place);
    await writeFile(part.place, "a stranger's");
    await expect(giveName(part, final)).rejects.toThrow(Exchanged);
    await discard(part);
  });

  it('are cleared of what a dead owner left, and of nothing else', async () => {
    const folder = await scratchFolder();
    const { part: mine } = await partWith(folder, 'a/x.mov', 'cli.host.1.0', 'x');
    const { part: theirs } = await partWith(folder, 'a/y.mov', 'cli.host.2.0', 'x');
    await Promise.all([leavePart(mine), leavePart(theirs)]);
    await writeFile(join(folder, 'a/z.mov'), 'x');
    await discardAbandoned(folder, (owner) => owner === 'cli.host.1.0');
    expect((await readdir(join(folder, 'a'))).length).toBe(2);
    expect(await exists(mine.place)).toBe(false);
  });

  it('nothing is made in the empty folder that a marked store leaves where it was unmounted', async () => {
    const folder = await scratchFolder();
    const at = join(folder, 'shuttle');
    await mkdir(at);
    expect(await markAs(at, 'shuttle')).toBe(true);
    const place = placeIn({ id: 'shuttle', name: 'Shuttle', path: at, marked: true }, 'out');
    await holding((held) => held.folder(place, 'proxy', true));
    expect(await readdir(join(at, 'out'))).toEqual(['proxy']);
    await rename(at, join(folder, 'away'));
    await mkdir(at);
    const making = holding((held) => held.place(place, 'proxy/C001.mov', true));
    await expect(making).rejects.toThrow(StoreAway);
    expect(diskProblem(await making.catch((error: unknown) => error), 'C001.mov').what).toContain('is not its store');
    expect(await readdir(at)).toEqual([]);
    // Another store in its place is as little it.
    await markAs(at, 'estuary');
    await expect(holding((held) => held.folder(place, '', true))).rejects.toThrow(StoreAway);
    expect(await readdir(at)).toEqual(['.relay-store']);
  });

  it("nothing is removed but by a temporary name, never deeper than a set's own files, and nothing outside", async () => {
    const folder = await scratchFolder();
    await mkdir(join(folder, 'store'));
    await writeFile(join(folder, 'precious.mhl'), 'x');
    await writeFile(join(folder, 'store/precious.mov'), 'x');
    for (const path of ['../precious.mhl', 'precious.mov', 'ascmhl/../../precious.mhl'])
      await expect(discardPart(join(folder, 'store'), path), path).rejects.toThrow();
    // A planted set with a folder in it is not one of ours: what lies in the folder is left.
    const planted = join(folder, 'store/.relay-part-cli.host.1.0-aaaa');
    await mkdir(join(planted, 'deeper'), { recursive: true });
    await writeFile(join(planted, 'deeper/precious.mov'), 'x');
    await symlink(folder, join(folder, 'store/.relay-part-cli.host.1.0-bbbb'));
    await discardAbandoned(join(folder, 'store'), () => true);
    expect(await readFile(join(planted, 'deeper/precious.mov'), 'utf8')).toBe('x');
    expect((await readdir(folder)).sort()).toEqual(['precious.mhl', 'store']);
    const set = await setBeside(join(folder, 'store/set'), 'leg');
    await writeFile(join(set.path, '0001.dpx'), 'x');
    await discard(set);
    expect(await exists(set.place)).toBe(false);
  });

  it('belong to whoever owns the folder they are made in', async (context) => {
    if (process.getuid?.() !== 0) context.skip();
    const folder = await scratchFolder();
    await mkdir(join(folder, 'theirs'));
    await call('chown', ['65534:65534', join(folder, 'theirs')]);
    const { part, final } = await partWith(folder, 'theirs/new/clip.mov', 'leg', 'x');
    await giveName(part, final);
    const owners = (await call('stat', ['-c', '%u:%g', join(folder, 'theirs/new'), final])).stdout;
    expect(owners).toBe('65534:65534\n65534:65534\n');
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

it("a sheet that a killed process was writing is cleared up by the next one; another machine's is left", async () => {
  const folder = await scratchFolder();
  // A number that no process has here: beyond Linux's highest.
  const [dead, elsewhere] = [
    `.relay-part-sheet.${hostname()}.4194305-aaaa`,
    '.relay-part-sheet.other-machine.4194305-bbbb',
  ];
  for (const name of [dead, elsewhere]) await writeFile(join(folder, name), 'half');
  await writeWhole(join(folder, 'relink.csv'), 'whole');
  expect((await readdir(folder)).sort()).toEqual([elsewhere, 'relink.csv']);
});
