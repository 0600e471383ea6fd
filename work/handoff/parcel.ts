import { readdir } from 'node:fs/promises';
import type { TravelItem } from '@relay/core/handoff/travel';
import { under } from '@relay/core/naming/under';
import type { Problem } from '@relay/core/result';
import { hashOutput } from '../disk/hash.ts';
import { holding, NotAsItShould, type Root } from '../disk/held.ts';
import { fileFacts } from '../disk/place.ts';

/** Something that travels, with where it lies now. */
export interface ParcelItem extends Omit<TravelItem, 'key'> {
  from: { root: Root; path: string };
  /** XXH3 of what was sent under this path before, which it takes the place of. */
  replaces?: string | null;
}

/** One file that travels. */
export interface ParcelFile {
  /** Below the hand-off's folder. */
  path: string;
  from: { root: Root; path: string };
  sizeBytes: number;
  modifiedAt: string;
  /** As recorded; null where nobody took it, or it is a file of a set. */
  xxh3: string | null;
  replaces: string | null;
  /** The item that it is, or is of: its path. */
  item: string;
}

/** Items as they are found, file by file; what is not there, or not what was recorded, is named. */
export interface Parcel {
  files: ParcelFile[];
  problems: (Problem & { path: string })[];
}

/** Looks at every item where it lies. @throws nothing: what is wrong is in the answer */
export async function packed(items: readonly ParcelItem[], signal?: AbortSignal): Promise<Parcel> {
  const parcel: Parcel = { files: [], problems: [] };
  for (const item of items) {
    if (signal?.aborted) break;
    const found = await filesOf(item).catch((error: NodeJS.ErrnoException) => whyNot(item, error));
    if (Array.isArray(found)) parcel.files.push(...found);
    else parcel.problems.push({ path: item.path, ...found });
  }
  return parcel;
}

function whyNot({ path }: ParcelItem, error: NodeJS.ErrnoException): Problem {
  return error.code === 'ENOENT' || error.code === 'ENOTDIR'
    ? {
        kind: 'original gone',
        what: `${path} is not where it was made (any more)`,
        remedy: 'Make it again, or leave it out',
      }
    : { what: `${path} cannot be opened: ${error.message}`, remedy: 'See that its store is mounted, then go on' };
}

const changed = ({ path }: ParcelItem): Problem => ({
  kind: 'original changed',
  what: `${path} is not what was proved (any more)`,
  remedy: 'Make it again, then go on',
});

/** The files of an item, or why it does not travel. @throws the system's error where it is not there */
async function filesOf(item: ParcelItem): Promise<ParcelFile[] | Problem> {
  const { from, path, xxh3, replaces = null } = item;
  return holding(async (held): Promise<ParcelFile[] | Problem> => {
    const file = await held.file(from.root, from.path).catch((error: Error) => {
      if (error instanceof NotAsItShould) return null;
      throw error;
    });
    if (file !== null) {
      const facts = await fileFacts(file);
      if (!facts || facts.sizeBytes !== item.sizeBytes) return changed(item);
      return [{ path, from, ...facts, xxh3, replaces, item: path }];
    }
    const folder = await held.folder(from.root, from.path);
    // A set is told by all of its files together, before one of them travels.
    if (xxh3 !== null && (await hashOutput(folder)) !== xxh3) return changed(item);
    const files: ParcelFile[] = [];
    for (const name of (await readdir(folder)).sort()) {
      const facts = await fileFacts(under(folder, name));
      const inner = { root: from.root, path: under(from.path, name) };
      if (facts) files.push({ path: under(path, name), from: inner, ...facts, xxh3: null, replaces: null, item: path });
    }
    return files;
  });
}
