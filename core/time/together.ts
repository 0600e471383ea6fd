/** Lengths in seconds that are known, together; null where none is: sound alone has no hours of picture. */
export function together(lengths: readonly (number | null)[]): number | null {
  const known = lengths.filter((length) => length !== null);
  return known.length === 0 ? null : known.reduce((sum, length) => sum + length, 0);
}
