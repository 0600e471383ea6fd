import { constants } from 'node:fs';
import { lchown, lstat, mkdir, open, realpath, stat, type FileHandle } from 'node:fs/promises';
import { folderAndName, OutOfPlace, under } from '@relay/core/naming/under';
import { letGo, pin } from '@relay/media/process/pinned';
import { markOf } from './mark.ts';

/**
 * Users' folders and files, each opened once and held for one piece of work. Every folder on the way is opened relative
 * to the one before, without following a link (open(2), O_NOFOLLOW); what is named in a held folder cannot be led
 * elsewhere any more, whoever renames or replaces it meanwhile.
 */

const { O_RDONLY, O_DIRECTORY, O_NOFOLLOW, O_NONBLOCK } = constants;
/** A descriptor that only says where something is, and needs no right to read it (open(2); Node has no name for it). */
const O_PATH = 0o10000000;

/** Thrown where a link, a pipe or a device lies in the place of a folder or a file. */
export class NotAsItShould extends Error {
  readonly code = 'RELAY_NOT_AS_IT_SHOULD';
}

/** Thrown where something is to be made in a store and what lies at its path is not that store any more. */
export class StoreAway extends Error {
  readonly code = 'RELAY_STORE_AWAY';
}

/**
 * A folder that places lie below: `root` as the site's own settings (or the command line) name it, where links are
 * followed on the way, and `folder` below it, where none are.
 */
export interface Place {
  root: string;
  folder: string;
  /**
   * The store that the root is marked as, where it is: no folder is made in a root without that mark. It is looked for
   * in the very folder that is opened, so that a share that goes away in between is not taken for its empty folder.
   */
  store?: string;
}

/** A place, or a root alone. */
export type Root = string | Place;

/** The path of a place, as people know it. */
export function pathOf(root: Root): string {
  return typeof root === 'string' ? root : under(root.root, root.folder);
}

/** Where a place lies, to be compared with others: links are followed on the way to its root only. */
export async function realPathOf(root: Root): Promise<string> {
  const place = typeof root === 'string' ? { root, folder: '' } : root;
  return under(await realpath(place.root).catch(() => place.root), place.folder);
}

export class Held {
  private readonly handles: FileHandle[] = [];
  private readonly folders = new Map<string, Promise<string>>();
  private closed = false;

  /**
   * A folder below `root`, as the path of its descriptor. A root may itself be a held folder.
   * @throws OutOfPlace, NotAsItShould, StoreAway, or the system's error, ENOENT among them
   */
  folder(root: Root, relative: string, make = false): Promise<string> {
    const place =
      typeof root === 'string' ? { root, folder: relative } : { ...root, folder: under(root.folder, relative) };
    const key = `${make ? 'make' : 'there'} ${place.root}\0${place.folder}`;
    const known = this.folders.get(key);
    if (known) return known;
    const opening = this.openFolder(place, make);
    this.folders.set(key, opening);
    opening.catch(() => this.folders.delete(key));
    return opening;
  }

  private async openFolder({ root, folder: relative, store }: Place, make: boolean): Promise<string> {
    const shown = under(root, relative);
    let at = await open(root, O_PATH | O_DIRECTORY);
    try {
      if (make && store !== undefined && (await markOf(`/proc/self/fd/${at.fd}`)) !== store)
        throw new StoreAway(`${root} is not its store any more: it was unmounted, or exchanged`);
      for (const name of relative === '' ? [] : relative.split('/')) {
        const next = await inside(at, name, make, shown);
        await at.close();
        at = next;
      }
    } catch (error) {
      await at.close();
      throw error;
    }
    return this.keep(at, shown);
  }

  /** The place of a file below `root`: a name in a held folder. Whether something lies there is not asked. */
  async place(root: Root, relative: string, make = false): Promise<string> {
    const { folder, name } = folderAndName(relative);
    if (name === '') throw new OutOfPlace(relative, 'is no name of a file');
    under('', relative);
    return `${await this.folder(root, folder, make)}/${name}`;
  }

  /**
   * A regular file below `root`, opened to be read, as the path of its descriptor.
   * @throws NotAsItShould for a link, a pipe, a device; the system's error where it is not there
   */
  async file(root: Root, relative: string): Promise<string> {
    const place = await this.place(root, relative);
    const file = await open(place, O_RDONLY | O_NOFOLLOW | O_NONBLOCK).catch((error: NodeJS.ErrnoException) => {
      throw error.code === 'ELOOP' ? new NotAsItShould(`${relative} is a link, and links are not followed`) : error;
    });
    if (!(await file.stat()).isFile()) {
      await file.close();
      throw new NotAsItShould(`${relative} is no regular file`);
    }
    return this.keep(file, under(pathOf(root), relative));
  }

  private async keep(handle: FileHandle, shown: string): Promise<string> {
    if (this.closed) {
      await handle.close();
      throw new Error(`${shown} is not wanted any more`);
    }
    this.handles.push(handle);
    return pin(handle, shown);
  }

  async close(): Promise<void> {
    this.closed = true;
    for (const handle of this.handles.splice(0)) {
      letGo(handle);
      await handle.close().catch(() => undefined);
    }
  }
}

/** One folder inside another; made where it is not there and should be. */
async function inside(parent: FileHandle, name: string, make: boolean, shown: string): Promise<FileHandle> {
  const path = `/proc/self/fd/${parent.fd}/${name}`;
  const attempt = (): Promise<FileHandle> => open(path, O_PATH | O_DIRECTORY | O_NOFOLLOW);
  try {
    return await attempt();
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    // A link, with these flags, is "no directory".
    if ((code === 'ENOTDIR' || code === 'ELOOP') && (await lstat(path)).isSymbolicLink())
      throw new NotAsItShould(`${shown}: ${name} is a link, and links are not followed`);
    if (code !== 'ENOENT' || !make) throw error;
    await mkdir(path).catch((failure: NodeJS.ErrnoException) => {
      if (failure.code !== 'EEXIST') throw failure;
    });
    const made = await attempt();
    await asItsFolder(path, `/proc/self/fd/${parent.fd}`);
    return made;
  }
}

/** Gives what was made in a folder to whoever owns the folder, where this process may. */
export async function asItsFolder(path: string, folder: string): Promise<void> {
  const [mine, owner] = [process.geteuid?.(), await stat(folder)];
  if (owner.uid !== mine) await lchown(path, owner.uid, owner.gid).catch(() => undefined);
}

/** Holds what a piece of work opens until it is over. */
export async function holding<T>(work: (held: Held) => Promise<T>): Promise<T> {
  const held = new Held();
  try {
    return await work(held);
  } finally {
    await held.close();
  }
}
