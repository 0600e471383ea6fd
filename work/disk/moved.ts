import { dirname } from 'node:path';
import { under } from '@relay/core/naming/under';
import { holding, type Root } from './held.ts';
import { exists, flushFolders, nameAt, NameTaken } from './place.ts';

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

/**
 * Moves a file or folder below `root` to the first of some names below it that is free. Nothing is replaced. Answers the
 * name that it got.
 */
async function moveToFree(root: Root, relativePath: string, nameOf: (turn: number) => string): Promise<string> {
  return holding(async (held) => {
    const from = await held.place(root, relativePath);
    for (let turn = 1; ; turn += 1) {
      const to = await held.place(root, nameOf(turn), true);
      if (await exists(to)) continue;
      try {
        await nameAt(from, to);
        await flushFolders([dirname(from), dirname(to)]);
        return nameOf(turn);
      } catch (error) {
        // Somebody else took the name in between.
        if (!(error instanceof NameTaken)) throw error;
      }
    }
  });
}

/**
 * Sets a finished file or set below `root` aside as a version: under `superseded/`, its own path kept, its name
 * followed by the first number that is free. Nothing is replaced, and nothing is lost.
 */
export async function setAside(root: Root, relativePath: string): Promise<string> {
  return moveToFree(root, relativePath, (turn) => `superseded/${numbered(relativePath, turn)}`);
}

/**
 * Moves a file, or a folder with all that is in it, into a folder below the same root, its own path kept; where that is
 * taken, its name is followed by the first number that is free, from 2 on.
 */
export async function moveInto(root: Root, folder: string, relativePath: string): Promise<string> {
  return moveToFree(root, relativePath, (turn) =>
    under(folder, turn === 1 ? relativePath : numbered(relativePath, turn)),
  );
}

/** Gives what was set aside its name back, if that is free. */
export async function bringBack(root: Root, aside: string, finalPath: string): Promise<void> {
  await holding(async (held) => nameAt(await held.place(root, aside), finalPath));
}
