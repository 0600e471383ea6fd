import { dirname } from 'node:path';
import { numberedFolder } from '@relay/core/inlet/ending';
import { under } from '@relay/core/naming/under';
import { holding, type Root } from './held.ts';
import { exists, flushFolders, nameAt, NameTaken, takenAmong } from './place.ts';

/** Files and folders that get another place below their root. Nothing is ever replaced by it, and nothing is lost. */

/** A path that ends in a number before its ending: `A001.2`, `A001C003.2.mov`. */
function numbered(relativePath: string, number: number): string {
  const dot = relativePath.lastIndexOf('.');
  const [stem, ending] =
    dot > relativePath.lastIndexOf('/') + 1
      ? [relativePath.slice(0, dot), relativePath.slice(dot)]
      : [relativePath, ''];
  return `${stem}.${number}${ending}`;
}

/** Where older versions are set aside, below the place of outputs. */
export const supersededFolder = 'superseded';

/** The path that something in the folder of older versions had; null where it was not set aside by us. */
export function asideOf(path: string): string | null {
  const match = /^(.*[^/])\.([1-9]\d*)(\.[^./]+)?$/.exec(path);
  return match ? `${match[1] ?? ''}${match[3] ?? ''}` : null;
}

/** Moves a file or folder below `root` to another name below it, whose folders are made. @throws NameTaken */
export async function moveTo(root: Root, from: string, to: string): Promise<void> {
  await holding(async (held) => {
    const place = await held.place(root, from);
    const target = await held.place(root, to, true);
    if (await exists(target)) throw new NameTaken(to);
    await nameAt(place, target);
    await flushFolders([dirname(place), dirname(target)]);
  });
}

/** Moves a name back or on, where it lies there; what cannot be moved stays. */
const moveQuietly = (root: Root, from: string, to: string): Promise<void> =>
  moveTo(root, from, to).catch(() => undefined);

/**
 * Moves names below `root` from one folder to another, all of them or none. A name that lies in the other folder
 * already, by a move that was broken off, or that somebody took away, is passed over.
 * @throws what keeps one of them from being moved; those before it are back
 */
export async function moveAll(
  root: Root,
  names: readonly string[],
  { from, to }: { from: string; to: string },
): Promise<void> {
  for (const [index, name] of names.entries()) {
    const [here, there] = [under(from, name), under(to, name)];
    try {
      await moveTo(root, here, there);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') continue;
      if (error instanceof NameTaken && (await takenAmong(root, [here])).length === 0) continue;
      for (const before of names.slice(0, index).reverse())
        await moveQuietly(root, under(to, before), under(from, before));
      throw error;
    }
  }
}

/**
 * Sets a finished file or set below `root` aside as a version: under `superseded/`, its own path kept, its name
 * followed by the first number that is free. Nothing is replaced, and nothing is lost.
 */
export async function setAside(root: Root, relativePath: string): Promise<string> {
  for (let turn = 1; ; turn += 1) {
    const to = under(supersededFolder, numbered(relativePath, turn));
    try {
      await moveTo(root, relativePath, to);
      return to;
    } catch (error) {
      if (!(error instanceof NameTaken)) throw error;
    }
  }
}

/** The first of `folder`, `folder.2`, `folder.3` … below `root` in which none of some paths is taken, from a turn on. */
export async function folderFreeFor(
  root: Root,
  folder: string,
  paths: readonly string[],
  from = 1,
): Promise<{ folder: string; turn: number }> {
  for (let turn = from; ; turn += 1) {
    const name = numberedFolder(folder, turn);
    const wanted = paths.map((path) => under(name, path));
    if ((await takenAmong(root, wanted)).length === 0) return { folder: name, turn };
  }
}

/** Gives what was set aside its name back, if that is free. */
export async function bringBack(root: Root, aside: string, finalPath: string): Promise<void> {
  await holding(async (held) => nameAt(await held.place(root, aside), finalPath));
}
