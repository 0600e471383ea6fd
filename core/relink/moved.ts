import { folderAndName } from '../naming/under.ts';

/** Camera originals that lie elsewhere than they did: where each is now, by its path and size, before anything is read. */

/** A file as it is known. */
export interface KnownOriginal {
  id: string;
  /** Below the folder that it was read from. */
  path: string;
  sizeBytes: number;
  /** What it was read together with: files of one place are looked for together. */
  place: string;
}

/** A file that lies where it is looked for. */
export interface FoundOriginal {
  /** Below the folder that is looked in. */
  path: string;
  sizeBytes: number;
}

/** Where a known file lies now, or why it cannot be said. */
export type MovedOriginal =
  | { id: string; root: string }
  /** `lies`: something like it lies there, and is not it or not as it was; null where there is nothing of its name. */
  | { id: string; root: null; lies: { path: string; why: 'size' | 'folders' } | null };

/** The folder that a path is below another one of; null where it does not end in it. */
function rootOfPath(path: string, ending: string): string | null {
  if (path === ending) return '';
  return path.endsWith(`/${ending}`) ? path.slice(0, path.length - ending.length - 1) : null;
}

/**
 * Finds files by name, size and the folders they lay in: a file's new root is what its path stands below now. Where it
 * lies several times, the root wins that holds the most of what it was read together with, then the shorter, then the
 * first by name.
 */
export function findMoved(known: readonly KnownOriginal[], found: readonly FoundOriginal[]): MovedOriginal[] {
  const byName = new Map<string, FoundOriginal[]>();
  for (const file of found) {
    const { name } = folderAndName(file.path);
    const same = byName.get(name);
    if (same) same.push(file);
    else byName.set(name, [file]);
  }
  const votes = new Map<string, Map<string, number>>();
  const candidates = known.map(({ path, sizeBytes, place }) => {
    const roots = (byName.get(folderAndName(path).name) ?? []).flatMap((file) =>
      file.sizeBytes === sizeBytes ? (rootOfPath(file.path, path) ?? []) : [],
    );
    const ofPlace = votes.get(place) ?? new Map<string, number>();
    votes.set(place, ofPlace);
    for (const root of roots) ofPlace.set(root, (ofPlace.get(root) ?? 0) + 1);
    return roots;
  });
  return known.map(({ id, path, sizeBytes, place }, index): MovedOriginal => {
    const ofPlace = votes.get(place);
    const [best] = [...(candidates[index] ?? [])].sort(
      (a, b) => (ofPlace?.get(b) ?? 0) - (ofPlace?.get(a) ?? 0) || a.length - b.length || (a < b ? -1 : 1),
    );
    if (best !== undefined) return { id, root: best };
    const named = byName.get(folderAndName(path).name) ?? [];
    const inPlace = named.find((file) => rootOfPath(file.path, path) !== null);
    if (inPlace) return { id, root: null, lies: { path: inPlace.path, why: 'size' } };
    const sameSize = named.find((file) => file.sizeBytes === sizeBytes);
    return { id, root: null, lies: sameSize ? { path: sameSize.path, why: 'folders' } : null };
  });
}

/** What is known of a file's content, and what lies at its new place. */
export interface ContentSides {
  /** XXH3 of samples of it, as it was read; null where none was kept. */
  sampled: { then: string | null; now: string };
  /** Its whole XXH3 as it was taken down, and as a manifest at the new place states it. */
  stated: { then: string | null; now: string | null };
}

/** By what a file is known to be the same; or that it is not. */
export type SameBy = 'samples' | 'manifest' | 'size';

/**
 * Whether what lies at the new place is the file that it was. Samples that were read now tell more than a manifest, which
 * says what a file should be; name and size alone tell the least.
 */
export function sameOriginal({ sampled, stated }: ContentSides): { same: SameBy } | { same: null; why: string } {
  if (sampled.then !== null && sampled.then !== sampled.now)
    return { same: null, why: 'has the same name and size, and another content' };
  if (stated.then !== null && stated.now !== null && stated.then !== stated.now)
    return { same: null, why: 'is another file by the manifest that lies there' };
  if (sampled.then !== null) return { same: 'samples' };
  return { same: stated.then !== null && stated.now !== null ? 'manifest' : 'size' };
}
