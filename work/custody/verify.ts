import { hostname } from 'node:os';
import { under } from '@relay/core/naming/under';
import {
  differencesOf,
  hashToCheck,
  type Differences,
  type FoundEntry,
  type HashName,
  type ManifestEntry,
} from '@relay/core/custody/manifest';
import type { Problem } from '@relay/core/result';
import { lookAtCard } from './card.ts';
import { inLanes } from '../lanes.ts';
import { holding, realPathOf, type Root } from '../disk/held.ts';
import { readBack } from '../disk/readBack.ts';
import { diskProblem } from '../disk/diskProblem.ts';
import { addGeneration, historyFolder, readHistory, statedEntries } from './history.ts';

/** A folder held against its own manifests. */
export interface Verification extends Differences {
  folder: string;
  /** The newest generation, or the list, that it was held against; null when the folder has none. */
  manifest: string | null;
  files: number;
  bytes: number;
  /** Manifests that are themselves not to be believed, and why. */
  doubts: { file: string; why: string }[];
  /** What lies there and could not be read. */
  unread: { path: string; why: string }[];
  readFromDisk: boolean;
  /** The generation that this verification wrote down; null when nothing was written, and why. */
  generation: string | null;
  notRecorded: string | null;
  verified: boolean;
  problem: Problem | null;
}

/**
 * Verifies a folder against its manifests, reading every file past the page cache where the disk allows it, and adds
 * a generation that says what was found. Missing, changed and extra files are named.
 */
// eslint-disable-next-line max-lines-per-function -- one pass over a folder against its history, in the order of ASC MHL
export async function verifyFolder(
  root: Root,
  options: { record?: boolean; signal?: AbortSignal; onProgress?: (done: number, total: number) => void } = {},
): Promise<Verification> {
  const folder = await realPathOf(root);
  const history = await readHistory(root);
  const stated = statedEntries(history);
  const empty: Verification = {
    folder,
    manifest: history.generations.at(-1)?.file ?? null,
    files: 0,
    bytes: 0,
    same: 0,
    missing: [],
    changed: [],
    extra: [],
    doubts: [],
    unread: [],
    readFromDisk: true,
    generation: null,
    notRecorded: null,
    verified: false,
    problem: null,
  };
  const doubts = history.generations.flatMap(({ file, doubt }) => (doubt ? [{ file, why: doubt }] : []));
  if (history.kind === 'none')
    return {
      ...empty,
      problem: {
        what: `${folder} has no manifest to verify it against`,
        remedy: 'Bring it in with ./relay arrive, which writes one',
      },
    };
  if (stated.length === 0)
    return {
      ...empty,
      doubts,
      problem: {
        what: `The manifest in ${folder} states nothing that can be believed${doubts[0] ? `: ${doubts[0].why}` : ''}`,
        remedy: 'Find the manifest as it was written, or the card',
      },
    };

  const wanted = new Map(stated.map((entry) => [entry.path, entry]));
  const listed = new Set(history.generations.map((generation) => generation.file));
  const card = await lookAtCard(root);
  const files = card.files.filter(
    (file) => !file.path.startsWith(`${historyFolder}/`) && !(history.kind === 'list' && listed.has(file.path)),
  );
  const unread = card.notCopied.map(({ shownPath, why }) => ({ path: shownPath, why }));
  let done = 0;
  let readFromDisk = true;
  const found = (
    await inLanes(files, 2, async (file): Promise<FoundEntry | null> => {
      const entry = wanted.get(file.path);
      const name = entry ? hashToCheck(entry) : null;
      const names: HashName[] = name ? [name] : [];
      options.signal?.throwIfAborted();
      const back =
        names.length === 0
          ? { sizeBytes: file.sizeBytes, hashes: {}, fromDisk: true }
          : await holding(async (held) => readBack(await held.place(root, file.path), names, options.signal)).catch(
              (error: NodeJS.ErrnoException) => {
                options.signal?.throwIfAborted();
                unread.push({ path: file.path, why: `it cannot be read (${error.code ?? error.message})` });
                return null;
              },
            );
      done += 1;
      options.onProgress?.(done, files.length);
      if (!back) return null;
      readFromDisk &&= back.fromDisk;
      return { path: file.path, sizeBytes: back.sizeBytes, hashes: back.hashes };
    })
  ).filter((entry) => entry !== null);
  const differences = differencesOf({ entries: stated }, found);
  // A file that is there but cannot be read is named as that, not as missing.
  const unreadable = new Set(unread.map((entry) => entry.path));
  differences.missing = differences.missing.filter((path) => !unreadable.has(path));
  const verified =
    differences.missing.length +
      differences.changed.length +
      differences.extra.length +
      doubts.length +
      unread.length ===
    0;
  const verification: Verification = {
    ...empty,
    ...differences,
    doubts,
    unread,
    files: files.length,
    bytes: files.reduce((sum, file) => sum + file.sizeBytes, 0),
    readFromDisk,
    verified,
  };
  return options.record === false || history.kind !== 'ascmhl'
    ? {
        ...verification,
        notRecorded:
          options.record === false ? 'not asked for' : 'the folder came with a list of sums, which has no generations',
      }
    : record(root, verification, stated, found);
}

async function record(
  root: Root,
  verification: Verification,
  stated: readonly ManifestEntry[],
  found: readonly FoundEntry[],
): Promise<Verification> {
  const changed = new Set(verification.changed.map((change) => change.path));
  const now = new Map(found.map((entry) => [entry.path, entry]));
  const entries = stated.flatMap((entry): ManifestEntry[] => {
    const there = now.get(entry.path);
    const name = hashToCheck(entry);
    const hash = name ? there?.hashes[name] : undefined;
    return there && name && hash
      ? [
          {
            path: entry.path,
            sizeBytes: there.sizeBytes,
            modifiedAt: entry.modifiedAt,
            hashes: { [name]: hash },
            action: changed.has(entry.path) ? 'failed' : 'verified',
          },
        ]
      : [];
  });
  try {
    const generation = await addGeneration(root, {
      createdAt: new Date().toISOString().replace(/\.\d+Z$/, 'Z'),
      host: hostname(),
      tool: 'Brisk Relay',
      process: 'in-place',
      entries,
    });
    return { ...verification, generation };
  } catch (error) {
    return { ...verification, notRecorded: diskProblem(error, under(verification.folder, historyFolder)).what };
  }
}
