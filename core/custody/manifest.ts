/**
 * Hash functions that manifests state, by the names that ASC MHL v2 gives them, the one that is believed first in
 * front.
 */
export const hashNames = ['xxh128', 'xxh3', 'xxh64', 'md5', 'sha1', 'c4'] as const;
export type HashName = (typeof hashNames)[number];
export type Hashes = Partial<Record<HashName, string>>;

/** What was done when a hash was taken: taken for the first time, found the same, or found different. */
export type HashAction = 'original' | 'verified' | 'failed';

/** A file as a manifest states it. */
export interface ManifestEntry {
  /** Below the folder that the manifest is of, `/` between names. */
  path: string;
  /** Null where the manifest states none (sum lists). */
  sizeBytes: number | null;
  modifiedAt: string | null;
  hashes: Hashes;
  action: HashAction;
}

/** One generation of a folder's custody: what was hashed, when, by whom. */
export interface Manifest {
  generation: number;
  createdAt: string;
  host: string;
  tool: string;
  process: 'in-place' | 'transfer' | 'flatten';
  entries: ManifestEntry[];
}

/** A file as it is found now. */
export interface FoundEntry {
  path: string;
  sizeBytes: number;
  hashes: Hashes;
}

export interface Change {
  path: string;
  /** What differs, in words: hash or size, stated and found. */
  why: string;
}

/** A folder against its manifest. */
export interface Differences {
  same: number;
  missing: string[];
  changed: Change[];
  extra: string[];
}

/** The hash by which an entry is checked: the strongest that it states; null when it states none that is known here. */
export function hashToCheck(entry: Pick<ManifestEntry, 'hashes'>): HashName | null {
  return hashNames.find((name) => entry.hashes[name] !== undefined) ?? null;
}

/**
 * Holds what is found against what a manifest states. A file whose stated hash was not taken counts as changed: nothing
 * unproved passes.
 */
export function differencesOf(manifest: Pick<Manifest, 'entries'>, found: readonly FoundEntry[]): Differences {
  const byPath = new Map(found.map((entry) => [entry.path, entry]));
  const differences: Differences = { same: 0, missing: [], changed: [], extra: [] };
  for (const stated of manifest.entries) {
    const now = byPath.get(stated.path);
    byPath.delete(stated.path);
    if (!now) differences.missing.push(stated.path);
    else {
      const why = differenceOf(stated, now);
      if (why) differences.changed.push({ path: stated.path, why });
      else differences.same += 1;
    }
  }
  differences.extra = [...byPath.keys()].sort();
  return differences;
}

/** What tells a file from its statement, in words; null when nothing does. */
export function differenceOf(stated: ManifestEntry, now: FoundEntry): string | null {
  if (stated.sizeBytes !== null && stated.sizeBytes !== now.sizeBytes)
    return `${stated.sizeBytes} bytes are stated, ${now.sizeBytes} found`;
  const name = hashToCheck(stated);
  if (!name) return 'the manifest states no hash that can be taken here';
  const hash = now.hashes[name];
  return hash === stated.hashes[name]
    ? null
    : `${name} ${stated.hashes[name] ?? ''} is stated, ${hash ?? 'none'} found`;
}

/**
 * What is known of every file after all generations: the newest statement that did not fail, and the first one's hash.
 */
export function latestEntries(generations: readonly Manifest[]): ManifestEntry[] {
  const latest = new Map<string, ManifestEntry>();
  for (const generation of [...generations].sort((a, b) => a.generation - b.generation)) {
    for (const entry of generation.entries) {
      const before = latest.get(entry.path);
      // A failed check says what was found wrong; it does not change what the file should be.
      if (entry.action !== 'failed')
        latest.set(entry.path, before ? { ...entry, hashes: { ...before.hashes, ...entry.hashes } } : entry);
      else if (!before) latest.set(entry.path, entry);
    }
  }
  return [...latest.values()].sort((a, b) => (a.path < b.path ? -1 : 1));
}
