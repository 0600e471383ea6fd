/** How many proved copies, on how many stores, a production wants before a card may be cleared. */
export interface CopyRule {
  copies: number;
  stores: number;
}

export const usualCopyRule: CopyRule = { copies: 2, stores: 2 };

/** One copy of a card, as far as it is proved. */
export interface CopyStanding {
  store: string;
  /** Files of this copy read back and found the same as the card's. */
  filesProved: number;
  /** The copy was read from its disk, not from memory. */
  readFromDisk: boolean;
  problem: string | null;
}

/** Whether a card may be cleared, in words; and when not, everything that stands against it. */
export interface Clearing {
  clear: boolean;
  says: string;
  against: string[];
}

/**
 * Whether a card may be cleared: every file proved in as many copies, on as many stores, as the rule asks, and the
 * card itself read without doubt.
 */
export function clearingOf(
  rule: CopyRule,
  filesOnCard: number,
  copies: readonly CopyStanding[],
  against: readonly string[] = [],
): Clearing {
  const whole = copies.filter((copy) => copy.filesProved >= filesOnCard && copy.problem === null && filesOnCard > 0);
  const stores = new Set(whole.map((copy) => copy.store)).size;
  const reasons = [...against];
  if (filesOnCard === 0) reasons.push('nothing of it has been read yet');
  for (const copy of copies) {
    if (copy.problem) reasons.push(`${copy.store}: ${copy.problem}`);
    else if (copy.filesProved < filesOnCard)
      reasons.push(`${copy.filesProved} of ${filesOnCard} files are proved on ${copy.store}`);
  }
  if (whole.length < rule.copies)
    reasons.push(`${count(whole.length, 'copy is', 'copies are')} proved, ${rule.copies} are asked for`);
  else if (stores < rule.stores)
    reasons.push(`all copies lie on ${count(stores, 'store')}, ${rule.stores} are asked for`);
  const cached = whole.filter((copy) => !copy.readFromDisk).map((copy) => copy.store);
  return reasons.length === 0
    ? {
        clear: true,
        says: `The card may be cleared: ${count(filesOnCard, 'file')} proved in ${count(whole.length, 'copy', 'copies')} on ${count(stores, 'store')}${cached.length > 0 ? ` (${cached.join(', ')} could be read back from memory only)` : ''}`,
        against: [],
      }
    : { clear: false, says: `Keep the card: ${reasons[0] ?? ''}`, against: reasons };
}

function count(number: number, one: string, many = `${one}s`): string {
  return `${number} ${number === 1 ? one : many}`;
}
