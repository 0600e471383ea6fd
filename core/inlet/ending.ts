/** How something that was taken up ended, and where its originals go then. */

/** How one part of it ended: a clip, or a file. *again*: that is not said yet, since it is tried again. */
export type PartEnd = 'proved' | 'needs eyes' | 'left' | 'again';

/** How all of it ended. */
export type ThingEnd = 'made' | 'needs eyes' | 'left';

/** Folders of an inlet for what was dealt with, where originals are moved. */
export const movedFolders = { done: 'done', left: 'left' } as const;

/** How a thing ended whose parts have all ended; null where one is tried again, or there is none. */
export function endOfThing(ends: readonly PartEnd[]): ThingEnd | null {
  if (ends.length === 0 || ends.includes('again')) return null;
  if (ends.includes('left')) return 'left';
  return ends.includes('needs eyes') ? 'needs eyes' : 'made';
}

/** The folder that a thing's originals go to; null where they stay, since not every output is proved. */
export function folderAfter(ends: readonly PartEnd[]): string | null {
  // What is left of it says nothing of a part that somebody must still look at.
  if (ends.includes('needs eyes')) return null;
  const end = endOfThing(ends);
  return end === null ? null : end === 'made' ? movedFolders.done : movedFolders.left;
}

/** The folder's name where others of the name hold the same files: originals keep their names, whatever happens. */
export function numberedFolder(folder: string, turn: number): string {
  return turn === 1 ? folder : `${folder}.${turn}`;
}

/** Whether a folder of an inlet is one that originals are moved to. */
export function isMovedFolder(path: string): boolean {
  return /^(?:done|left)(?:\.[2-9]|\.[1-9]\d+)?$/.test(path);
}
