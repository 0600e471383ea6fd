/** How many proved copies, on how many stores, a production wants before a card may be cleared. */
export interface CopyRule {
  copies: number;
  /** Each on a disk of its own: what lies on one disk goes with it. */
  stores: number;
  /** Stores on one disk count as well; said by a person, who knows why. */
  oneDisk?: boolean;
}

export const usualCopyRule: CopyRule = { copies: 2, stores: 2 };

/** One copy of a card, as far as it is proved. */
export interface CopyStanding {
  store: string;
  /** The disk or server that it lies on, several between ` + `; null where that is not known. */
  disk: string | null;
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
  const apart = placesApart(rule, whole);
  const reasons = [...against];
  if (filesOnCard === 0) reasons.push('nothing of it has been read yet');
  for (const copy of copies) {
    if (copy.problem) reasons.push(`${copy.store}: ${copy.problem}`);
    else if (copy.filesProved < filesOnCard)
      reasons.push(`${copy.filesProved} of ${filesOnCard} files are proved on ${copy.store}`);
  }
  if (whole.length < rule.copies)
    reasons.push(`${count(whole.length, 'copy is', 'copies are')} proved, ${rule.copies} are asked for`);
  else if (apart < rule.stores) reasons.push(tooNear(rule, whole, apart));
  const cached = whole.filter((copy) => !copy.readFromDisk).map((copy) => copy.store);
  return reasons.length === 0
    ? {
        clear: true,
        says: `The card may be cleared: ${count(filesOnCard, 'file')} proved in ${count(whole.length, 'copy', 'copies')} on ${count(apart, rule.oneDisk ? 'store' : 'disk')}${rule.oneDisk ? ", which by the production's rule may be one disk" : ''}${cached.length > 0 ? ` (${cached.join(', ')} could be read back from memory only)` : ''}`,
        against: [],
      }
    : { clear: false, says: `Keep the card: ${reasons[0] ?? ''}`, against: reasons };
}

/**
 * On how many stores copies lie; on how many disks, where the rule asks for those. A volume over several disks shares
 * each of them, and a copy of which nobody knows the disk may lie on any other's: neither counts as a disk more.
 */
export function placesApart({ oneDisk }: CopyRule, copies: readonly Pick<CopyStanding, 'store' | 'disk'>[]): number {
  const stores = new Set(copies.map(({ store }) => store)).size;
  if (oneDisk || copies.length === 0) return stores;
  const disks = copies.flatMap(({ disk }) => (disk === null ? [] : [disk.split(' + ')]));
  return Math.min(stores, Math.max(1, setsApart(disks)));
}

/** How many lots sets fall into, those being one that have a member in common, by way of others too. */
function setsApart(sets: readonly (readonly string[])[]): number {
  let lots: Set<string>[] = [];
  for (const set of sets) {
    const touched = lots.filter((lot) => set.some((member) => lot.has(member)));
    const joined = new Set([...set, ...touched.flatMap((lot) => [...lot])]);
    lots = [...lots.filter((lot) => !touched.includes(lot)), joined];
  }
  return lots.length;
}

function tooNear(rule: CopyRule, whole: readonly CopyStanding[], apart: number): string {
  const names = [...new Set(whole.map(({ store }) => store))];
  if (rule.oneDisk || names.length < rule.stores)
    return `all copies lie on ${count(names.length, 'store')}, ${rule.stores} are asked for`;
  const unknown = whole.filter(({ disk }) => disk === null).map(({ store }) => store);
  return unknown.length > 0
    ? `which disk ${unknown.join(' and ')} ${unknown.length === 1 ? 'lies' : 'lie'} on is not known: verify the roll again`
    : `${names.join(' and ')} lie on ${count(apart, 'disk')}, ${rule.stores} are asked for`;
}

function count(number: number, one: string, many = `${one}s`): string {
  return `${number} ${number === 1 ? one : many}`;
}
