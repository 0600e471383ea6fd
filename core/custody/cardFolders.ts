/**
 * Folders that cameras lay at the root of their cards, and that are never named after a roll: DCIM (JEITA CP-3461, the
 * Design rule for Camera File system), PRIVATE (the SD Association's), the others common practice, no source.
 */
const atTheRoot = new Set(['DCIM', 'PRIVATE', 'CONTENTS', 'AVCHD', 'BPAV', 'XDROOT', 'M4ROOT']);

/** Whether a folder's name is a camera's own, and says nothing of the roll. */
export function isCardFolder(name: string): boolean {
  return atTheRoot.has(name.toUpperCase());
}

/** Whether the folders at a place are a card's: its root. */
export function looksLikeCard(folders: readonly string[]): boolean {
  return folders.some(isCardFolder);
}

/** Where a folder that was chosen as a card stands to the cards there are; null where it may well be one. */
export type CardPlacement = { kind: 'above'; cards: string[] } | { kind: 'within'; card: string } | null;

/**
 * Whether a folder was chosen too high or too low: `folder` is where it lies, `paths` are of files below it. Above two or
 * more cards each of them is one; within a camera's own folders something of the card is left out.
 */
export function placementOf(folder: string, paths: readonly string[]): CardPlacement {
  const names = folder.split('/');
  const inside = names.findIndex(isCardFolder);
  if (inside >= 0) return { kind: 'within', card: names.slice(0, inside).join('/') };
  const cards = new Set<string>();
  for (const path of paths) {
    const [first = '', second = ''] = path.split('/');
    if (isCardFolder(first)) return null;
    if (isCardFolder(second)) cards.add(first);
  }
  return cards.size > 0 ? { kind: 'above', cards: [...cards] } : null;
}
