import { under } from '@relay/core/naming/under';
import type { OutputPlace } from '@relay/core/recipe/recipe';
import { asideOf, supersededFolder } from '@relay/work/disk/moved';
import { isThere, placeIn, type Store } from '@relay/work/disk/store';
import { walk } from '@relay/work/disk/walk';

/** What lies in a place's folder of older versions, by the path that it had. */
export interface AsideThing {
  /** Below the place. */
  path: string;
  /** The path that it had. */
  was: string;
}

/** The path that something in a place's folder of older versions had; null of any other. */
export function nameBefore(path: string): string | null {
  return path.startsWith(`${supersededFolder}/`) ? asideOf(path.slice(supersededFolder.length + 1)) : null;
}

/** Everything that was set aside as an older version in a place, of the paths that are known there. */
export async function setAsideIn(
  store: Store,
  { folder }: OutputPlace,
  known: ReadonlySet<string>,
): Promise<AsideThing[]> {
  if (!(await isThere(store))) return [];
  const found: AsideThing[] = [];
  const inside: string[] = [];
  await walk(
    placeIn(store, under(folder, supersededFolder)),
    { skips: (name) => name.startsWith('.'), onUnseen: () => undefined },
    ({ path, kind }) => {
      // What lies in a set goes with it.
      if (inside.some((set) => path.startsWith(`${set}/`))) return;
      const was = asideOf(path);
      if (was === null || !known.has(was) || (kind !== 'file' && kind !== 'folder')) return;
      if (kind === 'folder') inside.push(path);
      found.push({ path: under(supersededFolder, path), was });
    },
  ).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'ENOENT' && error.code !== 'ENOTDIR') throw error;
  });
  return found;
}
