import { lstat } from 'node:fs/promises';
import type { KnownFile, KnownFiles } from '@relay/core/inlet/content';
import { under } from '@relay/core/naming/under';
import { hashFile, hashSamples } from '../disk/hash.ts';
import { holding, pathOf, type Root } from '../disk/held.ts';
import type { Seen } from './listing.ts';

/** What a file may be met among: what was taken up, what is being dealt with, what was made. */
type Among = 'taken' | 'in hand' | 'results';

/** A file that was read as far as it takes to say whether it was taken up before. */
export interface Acquainted {
  file: KnownFile;
  /** As what it was taken up before; null where it is new. */
  as: KnownFile | null;
  among: Among | null;
}

/** What was taken up of a folder, what of it is not dealt with yet, and what was made of it. */
export interface Acquaintances {
  taken: KnownFiles;
  inHand: KnownFiles;
  results: KnownFiles;
}

/**
 * Says whether a file was taken up before, or is a result: by its place, its size, samples, and only where those are all
 * the same by all of it. What is in hand and lies there no more was moved before anything was made of it: its content is
 * new wherever it lies now.
 * @throws the system's error where it cannot be read
 */
export async function acquaint(root: Root, seen: Seen, known: Acquaintances): Promise<Acquainted> {
  const { path, sizeBytes, modifiedAt } = seen;
  const places: readonly (readonly [Among, KnownFiles])[] = [
    ['taken', known.taken],
    ['in hand', known.inHand],
    ['results', known.results],
  ];
  return holding(async (held) => {
    const open = await held.file(root, path);
    const sampled = await hashSamples(open);
    const file: KnownFile = { path, sizeBytes, modifiedAt, sampled, whole: null };
    for (const [among, files] of places) {
      const met = files.acquaintance({ path, sizeBytes, modifiedAt, sampled });
      if (met.kind === 'known' && among !== 'in hand')
        return { file: { ...file, whole: met.as.whole }, as: met.as, among };
      if (met.kind !== 'read it') continue;
      file.whole ??= await hashFile(open);
      for (const other of met.maybe) {
        const whole = other.whole ?? (among === 'results' ? null : await wholeOf(root, other));
        // Renamed before all of it was read: where it lay, nothing lies now.
        if (whole === file.whole || (whole === 'gone' && among === 'taken')) return { file, as: other, among };
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
