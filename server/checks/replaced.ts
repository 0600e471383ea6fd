import type { Replaced } from '@relay/contract/checks';
import { hashFiles, hashOutput, outputFacts } from '@relay/work/disk/hash';
import type { FileFacts } from '@relay/work/disk/place';
import { originalFacts } from '@relay/work/leg/underWay';

/** What is known of files since a leg ended. */
export interface Known {
  sizeBytes: number;
  /** Of all their contents; null or empty where they were not read. */
  xxh3: string | null;
  /** When the leg ended: what is newer was written since. */
  at: Date;
  /** Times that a file of this content may carry, whenever they are; absent where nobody wrote them down. */
  times?: readonly (string | null)[];
}

/** Up to so many bytes are read to tell whether what was written anew is the same: 5 s where a store gives 100 MB/s. */
const mostRead = 512 * 2 ** 20;
/** File systems round times, some of them to two seconds. */
const roundedMs = 2_000;

/** Whether something else lies where `known` lay: by its size, its time, and where that is another, by its contents. */
export async function replacedBy(
  found: FileFacts | null,
  known: Known,
  hash: () => Promise<string>,
): Promise<Replaced | null> {
  if (found?.sizeBytes !== known.sizeBytes) return 'size';
  const isOlder = found.modifiedAt.split(' ').every((time) => Date.parse(time) <= known.at.getTime() + roundedMs);
  if (isOlder && (known.times?.includes(found.modifiedAt) ?? true)) return null;
  if (!known.xxh3 || known.sizeBytes > mostRead) return 'written';
  // What cannot be read is no reason to show nothing of it.
  const now = await hash().catch(() => null);
  if (now === null) return 'written';
  return now === known.xxh3 ? null : 'contents';
}

/** The same of an output, a file or a folder of them. */
export async function outputReplaced(path: string, known: Known): Promise<Replaced | null> {
  return replacedBy(await outputFacts(path), known, () => hashOutput(path));
}

/** The same of an original's files, all of them that were read. */
export async function originalReplaced(paths: readonly string[], known: Known): Promise<Replaced | null> {
  return replacedBy(await originalFacts(paths), known, () => hashFiles(paths));
}
