import { lstat } from 'node:fs/promises';
import type { KnownFile, KnownFiles } from '@relay/core/inlet/content';
import { under } from '@relay/core/naming/under';
import { hashFile, hashSamples } from '../disk/hash.ts';
import { holding, pathOf, type Root } from '../disk/held.ts';
import type { Seen } from './listing.ts';

/** A file that was read as far as it takes to say whether it was taken up before. */
export interface Acquainted {
  file: KnownFile;
  /** As what it was taken up before; null where it is new. */
  as: KnownFile | null;
  /** What it is one of: what was taken up, or what was made. */
  among: 'taken' | 'results' | null;
}

/** What was taken up of a folder, and what was made of it. */
export interface Acquaintances {
  taken: KnownFiles;
  results: KnownFiles;
}

/**
 * Says whether a file was taken up before, or is a result: by its place, its size, samples, and only where those are all
 * the same by all of it.
 * @throws the system's error where it cannot be read
 */
export async function acquaint(root: Root, seen: Seen, { taken, results }: Acquaintances): Promise<Acquainted> {
  const { path, sizeBytes, modifiedAt } = seen;
  return holding(async (held) => {
    const open = await held.file(root, path);
    const sampled = await hashSamples(open);
    const file: KnownFile = { path, sizeBytes, modifiedAt, sampled, whole: null };
    for (const [among, known] of [
      ['taken', taken],
      ['results', results],
    ] as const) {
      const met = known.acquaintance({ path, sizeBytes, modifiedAt, sampled });
      if (met.kind === 'known') return { file: { ...file, whole: met.as.whole }, as: met.as, among };
      if (met.kind !== 'read it') continue;
      file.whole ??= await hashFile(open);
      for (const other of met.maybe) {
        const whole = other.whole ?? (among === 'taken' ? await wholeOf(root, other) : null);
        if (whole === file.whole) return { file, as: other, among };
        // It was renamed before all of it was read: where it lay, nothing lies now.
        if (whole === 'gone') return { file, as: other, among };
      }
    }
    return { file, as: null, among: null };
  });
}

/** Checksum of all of a remembered file where it lay; 'gone' where nothing lies there, null where something else does. */
async function wholeOf(root: Root, { path, sizeBytes, modifiedAt }: KnownFile): Promise<string | null> {
  const facts = await lstat(under(pathOf(root), path)).catch(() => null);
  if (!facts) return 'gone';
  if (facts.size !== sizeBytes || facts.mtime.toISOString() !== modifiedAt) return null;
  return holding(async (held) => hashFile(await held.file(root, path))).catch(() => null);
}
