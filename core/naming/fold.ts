/**
 * When two names are one. File systems that ignore case each have a table of their own: exFAT and NTFS lift every 16-bit unit by a table
 * written on the disk (exFAT file system specification, 7.2; NTFS, `$UpCase`), APFS and HFS+ normalise and fold by Unicode's full case
 * folding (The Unicode Standard, 3.13, D145). A name must be its own on all of them at once, so names are told apart by what *none* of
 * them takes for the same: some that only one system takes for one are called one here too.
 */

/** Letters one by one: a whole word's Σ would become ς at its end, which is no other letter to a file system. */
function lowered(text: string): string {
  return Array.from(text, (letter) => letter.toLowerCase()).join('');
}

/** ASCII. */
const plainLetters = /^[\u0000-\u007f]*$/;

/** A name in the form in which it is one with every name that some system takes for the same. */
export function folded(name: string): string {
  // Most names are of these letters alone, which all tables agree about: of ten thousand paths the rest takes a second.
  if (plainLetters.test(name)) return name.toLowerCase();
  // Lowered first for letters that have no capital of their own but are one (K, Å); then lifted fully, ß to SS; then told by small ones.
  const apart = name.normalize('NFD');
  return lowered(lowered(apart).toUpperCase()).normalize('NFD').normalize('NFC');
}

/** Names that one system keeps for its devices (Microsoft, Naming files, paths and namespaces), whatever their ending, and whatever blanks stand before it. */
const devices = /^(?:con|prn|aux|nul|conin\$|conout\$|(?:com|lpt)[0-9¹²³]) *(?:\.|$)/i;

export function isDevice(name: string): boolean {
  return devices.test(name);
}
