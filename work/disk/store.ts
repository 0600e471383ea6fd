import { opendir, stat, statfs } from 'node:fs/promises';
import type { MemberSystem } from '@relay/core/naming/systemPath';
import { under } from '@relay/core/naming/under';
import { asItsFolder, type Held, holding, type Place } from './held.ts';
import { markOf, writeMark } from './mark.ts';

/** A disk or folder that Brisk Relay may use. */
export interface Store {
  id: string;
  name: string;
  path: string;
  /**
   * A small file at its root says that it is this store: a share that is not mounted leaves an empty folder, which must
   * not be filled.
   */
  marked?: boolean;
  /** A card, or a disk that is mounted to be read: nothing is ever written to it, not even its mark. */
  readOnly?: boolean;
  /** Where it lay before it was said to lie here. */
  before?: string;
  /** Its path as members' machines write it, by system. */
  elsewhere?: Partial<Record<MemberSystem, string>>;
}

/** Marks a folder as a store, where it may be written to; whether it is marked now. */
export async function markAs(path: string, id: string): Promise<boolean> {
  try {
    await asItsFolder(await writeMark(path, id), path);
    return true;
  } catch {
    return false;
  }
}

/** Whether a store is there: mounted, and itself. */
export async function isThere(store: Store): Promise<boolean> {
  if (store.marked) return (await markOf(store.path)) === store.id;
  return stat(store.path).then(
    (facts) => facts.isDirectory(),
    () => false,
  );
}

/** A folder of a store: nothing is made in it while something else lies at the store's path. */
export function placeIn({ id, path, marked }: Store, folder: string): Place {
  return { root: path, folder, ...(marked ? { store: id } : {}) };
}

/** Bytes free and in all on a store's disk; null when it is not there. */
export async function storeSpace(store: Store): Promise<{ freeBytes: number; totalBytes: number } | null> {
  const facts = (await isThere(store)) ? await statfs(store.path).catch(() => null) : null;
  return facts ? { freeBytes: facts.bavail * facts.bsize, totalBytes: facts.blocks * facts.bsize } : null;
}

/** Folders of one folder that are told: nobody chooses among more. */
const mostFolders = 5_000;
const byNumber = new Intl.Collator('en', { numeric: true });

/**
 * Folders and the number of files directly in a folder of a store; hidden ones are passed over. A folder of very many
 * is looked through bit by bit.
 */
export async function lookInto(store: Store, folder: string): Promise<{ folders: string[]; files: number }> {
  return holding(async (held) => {
    const folders: string[] = [];
    let files = 0;
    for await (const entry of await opendir(await held.folder(store.path, folder), { bufferSize: 256 })) {
      if (entry.name.startsWith('.')) continue;
      if (entry.isDirectory() && folders.length < mostFolders) folders.push(entry.name);
      if (entry.isFile()) files += 1;
    }
    return { folders: folders.sort(byNumber.compare), files };
  });
}

/** A clip's original on this machine, held open. `root` is the folder that was read, `path` the file's below it. */
export async function originalIn(held: Held, store: Store, root: string, path: string): Promise<string> {
  return held.file(store.path, under(root, path));
}
