import type { WatchEvent } from '@relay/contract/watch';
import type { Problem } from '@relay/core/result';
import { diskProblem } from '../disk/diskProblem.ts';
import { moveInto } from '../disk/moved.ts';
import type { Follower, Ready } from './follower.ts';
import type { InletMemory } from './memory.ts';

/** Folders of an inlet for what was dealt with, where it is moved. */
export const movedFolders = { done: 'done', left: 'left' } as const;

/** How a part of something that was taken up ended. */
export type PartEnd = 'proved' | 'needs eyes' | 'left' | 'again';

export interface MovingOptions {
  source: string;
  memory: InletMemory;
  follower: Follower;
  tell: (event: WatchEvent) => void;
  onProblem: (path: string, problem: Problem) => void;
}

/**
 * Where something goes whose parts have all ended: null where it stays, since a part is not proved, or is tried again.
 */
export function whereTo(ends: readonly PartEnd[]): keyof typeof movedFolders | null {
  if (ends.length === 0 || ends.some((end) => end === 'again' || end === 'needs eyes')) return null;
  return ends.includes('left') ? 'left' : 'done';
}

/** Moves what was dealt with, with what lies beside it, and remembers its files where they lie then. */
export async function moveAway(
  { thing, files }: Ready,
  into: keyof typeof movedFolders,
  { source, memory, follower, tell, onProblem }: MovingOptions,
): Promise<void> {
  const paths = files.map(({ path }) => path);
  for (const from of namesToMove(thing, paths, follower)) {
    try {
      const to = await moveInto(source, movedFolders[into], from);
      tell({ event: 'moved', from, to });
      for (const path of paths) {
        const known = path === from || path.startsWith(`${from}/`) ? memory.taken.at(path) : undefined;
        if (known) await memory.addTaken({ ...known, path: `${to}${path.slice(from.length)}` });
      }
    } catch (error) {
      // Somebody took it away before.
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') continue;
      const { what, remedy } = diskProblem(error, from);
      onProblem(from, { what: `${from} could not be moved: ${what}`, remedy });
    }
  }
}

/** What is moved of a thing: a structure's folder whole, but not while something of it has only just arrived. */
function namesToMove({ key, kind }: Ready['thing'], paths: readonly string[], follower: Follower): string[] {
  if (kind === 'files') return [...new Set([...paths, ...follower.partnersOf(paths)])];
  const inside = (path: string): boolean => key === '' || path.startsWith(`${key}/`);
  if (follower.waitingPaths.some(inside)) return [];
  return key === '' ? [...new Set(paths.map((path) => path.split('/')[0] ?? path))] : [key];
}
