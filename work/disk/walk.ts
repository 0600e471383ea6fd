import { lstat, readdir } from 'node:fs/promises';
import type { Dirent, Stats } from 'node:fs';
import { holding, pathOf, type Root } from './held.ts';
import { under } from '@relay/core/naming/under';

/** A file below a folder: that folder, and its path relative to it with `/` between names. */
export interface FoundFile {
  root: Root;
  shownPath: string;
  /** Where it lay when it was found, for messages and for the command line. */
  path: string;
}

/** What could not be looked into, and why. */
export interface Unseen {
  shownPath: string;
  why: string;
}

/** Something below a folder, as it was found. */
export interface Entry {
  name: string;
  /** Relative to the folder that was walked, `/` between names. */
  path: string;
  kind: 'file' | 'folder' | 'link' | 'other';
  /** Of a file, where facts are asked for and can be had. */
  facts: Stats | null;
}

export interface WalkOptions {
  /** Names that are passed over, with all below them. */
  skips: (name: string) => boolean;
  facts?: boolean;
  /** How many folders deep; 0 for what lies directly in the root. All where it is not said. */
  depth?: number | undefined;
  /** A folder that holds nothing but what is passed over. */
  onEmpty?: (path: string) => void;
  onUnseen: (unseen: Unseen) => void;
}

/** Files and folders deeper or more than these are nobody's card. */
const most = { depth: 100, entries: 5_000_000 } as const;

/**
 * Goes through everything below `root`, folders before what is in them, each folder's names in order. Every folder is
 * held while it is looked into, and none is entered through a link.
 * @throws the system's error where `root` itself cannot be opened
 */
export async function walk(root: Root, options: WalkOptions, onEntry: (entry: Entry) => void): Promise<void> {
  let seen = 0;
  const visit = (parent: Root, name: string, path: string, depth: number): Promise<void> =>
    // eslint-disable-next-line complexity -- a list of what an entry of a folder may be
    holding(async (held) => {
      let folder: string;
      let entries: Dirent[];
      try {
        folder = await held.folder(parent, name);
        entries = await readdir(folder, { withFileTypes: true });
      } catch (error) {
        if (depth === 0) throw error;
        const { code, message } = error as NodeJS.ErrnoException;
        options.onUnseen({ shownPath: path, why: `the folder cannot be opened (${code ?? message})` });
        return;
      }
      const kept = entries.filter((entry) => !options.skips(entry.name)).sort((a, b) => (a.name < b.name ? -1 : 1));
      if (kept.length === 0 && depth > 0) options.onEmpty?.(path);
      for (const entry of kept) {
        const below = path === '' ? entry.name : `${path}/${entry.name}`;
        seen += 1;
        if (seen > most.entries) throw new Error(`${pathOf(root)} holds more than ${most.entries} files`);
        // Bytes that are no UTF-8 come as a mark that stands for them: by that name nothing is there.
        if (entry.name.includes('\uFFFD') && (await lstat(under(folder, entry.name)).catch(() => null)) === null) {
          options.onUnseen({
            shownPath: below,
            why: 'its name is not UTF-8, and no other machine would read it: rename it',
          });
          continue;
        }
        const kind = entry.isFile()
          ? 'file'
          : entry.isDirectory()
            ? 'folder'
            : entry.isSymbolicLink()
              ? 'link'
              : 'other';
        const facts =
          kind === 'file' && options.facts ? await lstat(under(folder, entry.name)).catch(() => null) : null;
        if (kind === 'folder' && depth >= most.depth)
          options.onUnseen({ shownPath: below, why: `it lies more than ${most.depth} folders deep` });
        else onEntry({ name: entry.name, path: below, kind, facts });
        if (kind === 'folder' && depth < (options.depth ?? most.depth))
          await visit(folder, entry.name, below, depth + 1);
      }
    });
  await visit(root, '', '', 0);
}

/**
 * Every file below `root`, sorted by path. Hidden names are passed over; links, pipes and devices are named and left.
 */
export async function filesBelow(root: Root): Promise<{ files: FoundFile[]; unseen: Unseen[] }> {
  const files: FoundFile[] = [];
  const unseen: Unseen[] = [];
  await walk(root, { skips: (name) => name.startsWith('.'), onUnseen: (one) => unseen.push(one) }, ({ path, kind }) => {
    if (kind === 'file') files.push({ root, shownPath: path, path: under(pathOf(root), path) });
    else if (kind !== 'folder')
      unseen.push({
        shownPath: path,
        why: kind === 'link' ? 'it is a link, and links are not followed' : 'it is no file',
      });
  });
  return { files, unseen };
}
