import type { CardFile } from '@relay/core/custody/card';
import { fitsXml, ignoredNames } from '@relay/core/custody/mhl';
import type { Root } from '../disk/held.ts';
import { walk, type Unseen } from '../disk/walk.ts';

export interface Card {
  root: Root;
  files: CardFile[];
  /** Folders with nothing in them; they are part of the structure. */
  emptyFolders: string[];
  /** What is on the card but cannot be copied, and why. */
  notCopied: Unseen[];
}

/** Litter of operating systems, and what is ours: not part of a card. */
export function isLitter(name: string): boolean {
  return ignoredNames.some(
    (pattern) =>
      pattern !== 'ascmhl' && (pattern.endsWith('*') ? name.startsWith(pattern.slice(0, -1)) : name === pattern),
  );
}

/**
 * Everything on a card, hidden files and sidecars included, sorted by path. Links, pipes and devices are named and left.
 * @throws the system's error where the card cannot be opened
 */
export async function lookAtCard(root: Root): Promise<Card> {
  const card: Card = { root, files: [], emptyFolders: [], notCopied: [] };
  const leave = (shownPath: string, why: string): void => void card.notCopied.push({ shownPath, why });
  await walk(
    root,
    {
      skips: isLitter,
      facts: true,
      onEmpty: (path) => card.emptyFolders.push(path),
      onUnseen: (one) => card.notCopied.push(one),
    },
    ({ name, path, kind, facts }) => {
      if (!fitsXml(name)) leave(path, 'its name holds characters that no manifest can hold');
      else if (kind === 'folder') return;
      else if (kind === 'link') leave(path, 'it is a link, and links are not followed');
      else if (kind === 'other') leave(path, 'it is no file');
      else if (facts) card.files.push({ path, sizeBytes: facts.size, modifiedAt: facts.mtime.toISOString() });
      else leave(path, 'it cannot be looked at');
    },
  );
  // What lies in a folder whose name no manifest can hold is named with it.
  card.files = card.files.filter((file) => fitsXml(file.path));
  card.emptyFolders = card.emptyFolders.filter((path) => fitsXml(path));
  return card;
}

export function cardBytes(card: Pick<Card, 'files'>): number {
  return card.files.reduce((sum, file) => sum + file.sizeBytes, 0);
}
