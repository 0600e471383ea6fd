import { readdir } from 'node:fs/promises';
import { folderAndName } from '@relay/core/naming/under';
import { holding } from './held.ts';
import { isThere, type Store } from './store.ts';

/**
 * Which of some files of a store are not there any more. Looked up folder by folder, so that ten thousand clips cost as
 * many looks as they have folders; a folder that cannot be opened has none of them.
 */
export async function goneFrom(store: Store, paths: readonly string[]): Promise<Set<string>> {
  if (!(await isThere(store))) return new Set(paths);
  const byFolder = new Map<string, string[]>();
  for (const path of paths) {
    const { folder } = folderAndName(path);
    byFolder.set(folder, [...(byFolder.get(folder) ?? []), path]);
  }
  return holding(async (held) => {
    const gone = new Set<string>();
    for (const [folder, inFolder] of byFolder) {
      const names = await held
        .folder(store.path, folder)
        .then((open) => readdir(open))
        .catch(() => []);
      const there = new Set(names);
      for (const path of inFolder) if (!there.has(folderAndName(path).name)) gone.add(path);
    }
    return gone;
  });
}
