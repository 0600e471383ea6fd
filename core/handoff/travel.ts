import { collisionKey } from '../naming/paths.ts';
import { limitsOf, pathRefusedBy, type FileSystem } from './fileSystem.ts';

/** What travels is an output, a LUT that lies beside one, an original or what lies beside that. */
export type TravelKind = 'output' | 'lut' | 'original' | 'sidecar';

/** A file, or an output that is a folder of files, that is to go to somebody. */
export interface TravelItem {
  /** Below the hand-off's folder: of outputs and LUTs as below their run's. */
  path: string;
  kind: TravelKind;
  sizeBytes: number;
  /** XXH3 as it was recorded; null where nobody took it. */
  xxh3: string | null;
  /** Of its own clip and deliverable there is one at a time: what has the same key is another version. Empty for none. */
  key: string;
}

/** What cannot travel as it is, and why. */
export interface Hindrance {
  path: string;
  why: string;
}

/**
 * What a receiver's file system would not take: names, sizes, paths, and two that are one there. `below` is the folder
 * of the hand-off on the drive, without slashes at its ends.
 */
export function hindrancesOn(
  items: readonly Pick<TravelItem, 'path' | 'sizeBytes'>[],
  system: FileSystem,
  below = '',
): Hindrance[] {
  const { largestFile, ignoresCase, name } = limitsOf[system];
  const found: Hindrance[] = [];
  const known = new Map<string, string>();
  for (const { path, sizeBytes } of items) {
    const refused = pathRefusedBy(below === '' ? path : `${below}/${path}`, system);
    if (refused) found.push({ path, why: refused });
    if (sizeBytes > largestFile)
      found.push({
        path,
        why: `${path} has ${(sizeBytes / 1e9).toFixed(2)} GB, ${name} takes files of ${(largestFile / 1e9).toFixed(2)} GB`,
      });
    const key = ignoresCase ? collisionKey(path) : path;
    const other = known.get(key);
    if (other === undefined) known.set(key, path);
    else
      found.push({
        path,
        why: other === path ? `${path} is there twice` : `${path} and ${other} are one name on ${name}`,
      });
  }
  return found;
}

/** What a receiver has been sent and was not told to delete. */
export interface HeldItem {
  path: string;
  sizeBytes: number;
  xxh3: string | null;
  key: string;
}

/** What a hand-off to somebody who holds something already comes to. */
export interface Since<Item extends TravelItem> {
  fresh: Item[];
  /** Under the same path something else than before. */
  replaced: Item[];
  /** They hold it as it is: it is not sent again. */
  held: Item[];
  /** Of what they hold: an older version of what is sent now, under another path. */
  toDelete: HeldItem[];
}

/** What is new or changed since, of what somebody is to have; nothing that they hold is sent again. */
export function since<Item extends TravelItem>(items: readonly Item[], held: readonly HeldItem[]): Since<Item> {
  const byPath = new Map(held.map((one) => [one.path, one]));
  const found: Since<Item> = { fresh: [], replaced: [], held: [], toDelete: [] };
  const paths = new Set<string>();
  const keys = new Set<string>();
  for (const item of items) {
    paths.add(item.path);
    if (item.key !== '') keys.add(item.key);
    const there = byPath.get(item.path);
    if (!there) found.fresh.push(item);
    else if (there.sizeBytes === item.sizeBytes && (item.xxh3 === null || there.xxh3 === item.xxh3))
      found.held.push(item);
    else found.replaced.push(item);
  }
  found.toDelete = held.filter(({ path, key }) => keys.has(key) && !paths.has(path));
  return found;
}

/** Of several versions of one clip's deliverable the newest, which stands first: the others are named. */
export function newestOnly<Item extends TravelItem>(items: readonly Item[]): { items: Item[]; older: Item[] } {
  const known = new Set<string>();
  const older: Item[] = [];
  const kept = items.filter((item) => {
    if (item.key === '') return true;
    if (known.has(item.key)) {
      older.push(item);
      return false;
    }
    known.add(item.key);
    return true;
  });
  return { items: kept, older };
}
