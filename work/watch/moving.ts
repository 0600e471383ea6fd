import type { WatchEvent } from '@relay/contract/watch';
import type { Problem } from '@relay/core/result';
import { under } from '@relay/core/naming/under';
import { diskProblem } from '../disk/diskProblem.ts';
import { folderFreeFor, moveTo } from '../disk/moved.ts';
import type { Follower, Ready } from './follower.ts';
import type { InletMemory } from './memory.ts';

export interface MovingOptions {
  source: string;
  memory: InletMemory;
  tell: (event: WatchEvent) => void;
  onProblem: (path: string, problem: Problem) => void;
}

/**
 * Moves what was dealt with, by its names, into a folder beside, and remembers its files where they lie then. Answers
 * the folder: another of its kind where one of the names is taken there.
 */
export async function moveAway(
  { files }: Ready,
  names: readonly string[],
  wanted: string,
  { source, memory, tell, onProblem }: MovingOptions,
): Promise<string> {
  const paths = files.map(({ path }) => path);
  const { folder } = await folderFreeFor(source, wanted, names);
  for (const from of names) {
    try {
      const to = under(folder, from);
      await moveTo(source, from, to);
      tell({ event: 'moved', from, to });
      for (const path of paths) {
        const known = path === from || path.startsWith(`${from}/`) ? memory.taken.at(path) : undefined;
        if (known) await memory.addTaken({ ...known, path: under(folder, path) });
      }
    } catch (error) {
      // Somebody took it away before.
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') continue;
      const { what, remedy } = diskProblem(error, from);
      onProblem(from, { what: `${from} could not be moved: ${what}`, remedy });
    }
  }
  return folder;
}

/** The names in its inlet's folder by which a thing lies there: of a structure its folder, else its files. */
export function namesOf(
  { key, kind }: Pick<Ready['thing'], 'key' | 'kind'>,
  paths: readonly string[],
  follower: Follower,
): string[] {
  if (kind === 'files') return [...new Set([...paths, ...follower.partnersOf(paths)])];
  return key === '' ? [...new Set(paths.map((path) => path.split('/')[0] ?? path))] : [key];
}

/** Whether something of a structure has only just arrived: it is not moved away from that. */
export function isStillArriving(
  { key, kind }: Pick<Ready['thing'], 'key' | 'kind'>,
  waiting: readonly string[],
): boolean {
  return kind === 'structure' && waiting.some((path) => key === '' || path.startsWith(`${key}/`));
}
