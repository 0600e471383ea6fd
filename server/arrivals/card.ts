import { lstat, readdir, realpath } from 'node:fs/promises';
import { join } from 'node:path';
import type { CardFile } from '@relay/core/custody/card';
import { ignoredNames } from '../custody/mhl.ts';
import { fitsXml } from '../custody/xml.ts';
import type { Unseen } from '../stores/walk.ts';

export interface Card {
  root: string;
  files: CardFile[];
  /** Folders with nothing in them; they are part of the structure. */
  emptyFolders: string[];
  /** What is on the card but cannot be copied, and why. */
  notCopied: Unseen[];
}

/** Litter of operating systems, and what is ours: not part of a card. */
export function isLitter(name: string): boolean {
  return ignoredNames.some((pattern) => pattern !== 'ascmhl' && (pattern.endsWith('*') ? name.startsWith(pattern.slice(0, -1)) : name === pattern));
}

/** Everything on a card, hidden files and sidecars included, sorted by path. Links are never followed; they are named. */
export async function lookAtCard(folder: string): Promise<Card> {
  const root = await realpath(folder);
  const card: Card = { root, files: [], emptyFolders: [], notCopied: [] };
  const visit = async (below: string): Promise<void> => {
    const entries = await readdir(join(root, below), { withFileTypes: true }).catch((error: NodeJS.ErrnoException) => {
      if (below === '') throw error;
      card.notCopied.push({ shownPath: below, why: `the folder cannot be opened (${error.code ?? error.message})` });
      return null;
    });
    if (entries === null) return;
    const kept = entries.filter((entry) => !isLitter(entry.name)).sort((a, b) => (a.name < b.name ? -1 : 1));
    if (kept.length === 0 && below !== '') card.emptyFolders.push(below);
    for (const entry of kept) {
      const path = below === '' ? entry.name : `${below}/${entry.name}`;
      if (!fitsXml(entry.name)) card.notCopied.push({ shownPath: path, why: 'its name holds characters that no manifest can hold' });
      else if (entry.isDirectory()) await visit(path);
      else if (entry.isFile()) {
        const facts = await lstat(join(root, path)).catch(() => null);
        if (facts) card.files.push({ path, sizeBytes: facts.size, modifiedAt: facts.mtime.toISOString() });
        else card.notCopied.push({ shownPath: path, why: 'it cannot be looked at' });
      } else card.notCopied.push({ shownPath: path, why: entry.isSymbolicLink() ? 'it is a link, and links are not followed' : 'it is no file' });
    }
  };
  await visit('');
  return card;
}

export function cardBytes(card: Pick<Card, 'files'>): number {
  return card.files.reduce((sum, file) => sum + file.sizeBytes, 0);
}
