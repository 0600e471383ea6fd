/**
 * Folders that cameras lay at the root of their cards, and never name after a roll: DCIM (JEITA CP-3461, the Design rule
 * for Camera File system), PRIVATE (the SD Association's), the others common practice, no source.
 */
const atTheRoot = ['DCIM', 'PRIVATE', 'CONTENTS', 'AVCHD', 'BPAV', 'XDROOT', 'M4ROOT', 'MISC', 'VIDEO', 'CLIP'];

/** Those that alone tell a card; the others are common names of folders too. */
const telling = new Set(['DCIM', 'PRIVATE', 'CONTENTS', 'AVCHD', 'BPAV', 'XDROOT', 'M4ROOT']);

/** Whether a folder's name is a camera's own, and says nothing of the roll. */
export function isCardFolder(name: string): boolean {
  return atTheRoot.includes(name.toUpperCase());
}

/** Whether the folders at a place are a card's: its root. */
export function looksLikeCard(folders: readonly string[]): boolean {
  return folders.some((name) => telling.has(name.toUpperCase()));
}
