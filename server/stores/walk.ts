import { readdir, realpath, stat } from 'node:fs/promises';
import { join, sep } from 'node:path';

/** A file below a folder: where it lies, and its path relative to the folder with `/` between names. */
export interface FoundFile {
  path: string;
  shownPath: string;
}

/** What could not be looked into, and why. */
export interface Unseen {
  shownPath: string;
  why: string;
}

/**
 * Every file below `root`, sorted by path. Hidden names are passed over; links are followed only to what lies
 * inside `root` itself, and never twice.
 */
export async function filesBelow(root: string): Promise<{ files: FoundFile[]; unseen: Unseen[] }> {
  const inside = await realpath(root);
  const files: FoundFile[] = [];
  const unseen: Unseen[] = [];
  const visit = async (folder: string, shown: string): Promise<void> => {
    const entries = await readdir(folder, { withFileTypes: true }).catch((error: NodeJS.ErrnoException) => {
      unseen.push({ shownPath: shown || '.', why: `the folder cannot be opened (${error.code})` });
      return [];
    });
    for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
      if (entry.name.startsWith('.')) continue;
      const path = join(folder, entry.name);
      const shownPath = shown === '' ? entry.name : `${shown}/${entry.name}`;
      if (entry.isDirectory()) await visit(path, shownPath);
      else if (entry.isFile()) files.push({ path, shownPath });
      else if (entry.isSymbolicLink()) await followLink(path, shownPath);
    }
  };
  const followLink = async (path: string, shownPath: string): Promise<void> => {
    const target = await realpath(path).catch(() => null);
    if (target === null) unseen.push({ shownPath, why: 'the link leads nowhere' });
    else if (!target.startsWith(inside + sep)) unseen.push({ shownPath, why: 'the link leads out of the folder' });
    else if ((await stat(target)).isFile()) files.push({ path: target, shownPath });
    else unseen.push({ shownPath, why: 'links to folders are not followed' });
  };
  await visit(inside, '');
  return { files, unseen };
}
