import { readdir } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { hashNames, type HashName, type Hashes } from '@relay/core/custody/manifest';
import type { Problem } from '@relay/core/result';
import { inLanes } from '../lanes.ts';
import { historyFolder, readHistory, statedEntries } from '../custody/history.ts';
import { diskProblem } from '../disk/diskProblem.ts';
import { holding, pathOf, type Root } from '../disk/held.ts';
import { Journal, type JournalLine } from '../disk/journal.ts';
import { discardAbandoned, fileFacts } from '../disk/place.ts';
import { readBack, type ReadBack } from '../disk/readBack.ts';
import type { Card } from '../custody/card.ts';

/** What went wrong with one file, in words. */
export type FileProblem = Problem & { path: string };

/** Where one copy of a card goes. */
export interface Destination {
  /** What the disk is called: the store, or the folder given. */
  store: string;
  /** The roll's own folder on it. */
  at: Root;
  /**
   * Whether its store is there now: a share that is not mounted leaves an empty folder, which must not be filled.
   * Absent where nobody can tell.
   */
  there?: () => Promise<boolean>;
}

/** One copy of a card under way. */
export interface Copy extends Destination {
  journal: Journal | null;
  /** What an earlier attempt wrote down, to be read from the disk again before it counts. */
  claimed: Map<string, JournalLine>;
  proved: Map<string, { hashes: Hashes; fromDisk: boolean }>;
  problem: Problem | null;
  manifest: string | null;
  /** An earlier attempt ended this copy: its manifest states every file of the card. */
  whole: boolean;
}

export function newCopy(destination: Destination): Copy {
  return {
    ...destination,
    journal: null,
    claimed: new Map(),
    proved: new Map(),
    problem: null,
    manifest: null,
    whole: false,
  };
}

/**
 * Opens a destination: new, or left unfinished by this same roll, of which `journals` tells. Anything else that lies
 * there is not touched.
 */
export async function openCopy(
  copy: Copy,
  card: Card,
  roll: string,
  hashes: readonly HashName[],
  journals: string,
): Promise<void> {
  try {
    const there = await holding(async (held) => readdir(await held.folder(copy.at, ''))).catch(
      (error: NodeJS.ErrnoException) => (error.code === 'ENOENT' ? [] : Promise.reject(error)),
    );
    const before = await Journal.read(journals, pathOf(copy.at));
    if (there.length > 0 && before === null) {
      if (!(await takeWhole(copy, card))) copy.problem = thereAlready(copy, roll);
      return;
    }
    await holding((held) => held.folder(copy.at, '', true));
    copy.journal = await Journal.open(journals, pathOf(copy.at));
    await discardAbandoned(copy.at, (owner) => owner.startsWith('arrival.'));
    const wanted = new Map(card.files.map((file) => [file.path, file]));
    for (const [path, line] of copy.journal.lines) {
      const onCard = wanted.get(path);
      if (
        onCard?.sizeBytes === line.sizeBytes &&
        onCard.modifiedAt === line.modifiedAt &&
        hashes.every((name) => line.hashes[name])
      )
        copy.claimed.set(path, line);
    }
  } catch (error) {
    copy.problem = diskProblem(error, pathOf(copy.at));
  }
}

/** Reads what an earlier attempt wrote down of a file back from the disk, and believes it only if it is so. */
export async function proveClaimed(copy: Copy, path: string, signal?: AbortSignal): Promise<void> {
  const line = copy.claimed.get(path);
  copy.claimed.delete(path);
  if (!line) return;
  const names = hashNames.filter((name) => line.hashes[name] !== undefined);
  const back = await readBackIn(copy.at, path, names, signal);
  if (back?.sizeBytes === line.sizeBytes && names.every((name) => back.hashes[name] === line.hashes[name]))
    copy.proved.set(path, { hashes: line.hashes, fromDisk: back.fromDisk });
}

/** Reads a file of a copy back from its disk; null where it cannot be. */
export async function readBackIn(
  at: Root,
  path: string,
  names: readonly HashName[],
  signal?: AbortSignal,
): Promise<ReadBack | null> {
  return holding(async (held) => readBack(await held.place(at, path), names, signal)).catch(() => null);
}

/** Ends a copy whose store went away, or was not there to begin with. */
export async function endIfGone(copy: Copy): Promise<void> {
  if (copy.problem || !copy.there || (await copy.there())) return;
  copy.problem = {
    what: `${copy.store} is not there: what lies at its place is not this store`,
    remedy: 'Mount it, then resume: what is proved already is kept',
  };
}

export function thereAlready(copy: Copy, roll: string): Problem {
  return {
    what: `${pathOf(copy.at)} is there already and is not an unfinished copy of ${roll}`,
    remedy: 'Give the roll another name, or choose another folder',
  };
}

/**
 * Takes over a copy that an earlier attempt ended: every file of the card stands in its newest manifest, and is there.
 */
async function takeWhole(copy: Copy, card: Card): Promise<boolean> {
  const newest = (await readHistory(copy.at)).generations.at(-1);
  if (!newest?.manifest || newest.doubt || newest.manifest.process !== 'transfer') return false;
  const stated = new Map(newest.manifest.entries.map((entry) => [entry.path, entry]));
  for (const file of card.files) {
    const entry = stated.get(file.path);
    const there = await holding(async (held) => fileFacts(await held.place(copy.at, file.path))).catch(() => null);
    const history = file.path.startsWith(`${historyFolder}/`);
    if (
      there?.sizeBytes !== file.sizeBytes ||
      (!history && (entry?.sizeBytes !== file.sizeBytes || entry.modifiedAt !== file.modifiedAt))
    )
      return false;
  }
  copy.whole = true;
  copy.manifest = newest.file;
  return true;
}

/** Reads a copy that was taken over back from its disk: what its manifest states is believed of no file unseen. */
export async function readBackWhole(
  copy: Copy,
  card: Card,
  problems: FileProblem[],
  signal?: AbortSignal,
): Promise<void> {
  const stated = new Map(statedEntries(await readHistory(copy.at)).map((entry) => [entry.path, entry]));
  await inLanes(card.files, 2, async (file) => {
    if (signal?.aborted) return;
    const hashes = stated.get(file.path)?.hashes ?? {};
    const back = await readBackIn(
      copy.at,
      file.path,
      hashNames.filter((name) => hashes[name] !== undefined),
      signal,
    );
    if (
      back?.sizeBytes === file.sizeBytes &&
      Object.entries(hashes).every(([name, hash]) => back.hashes[name as HashName] === hash)
    )
      copy.proved.set(file.path, { hashes, fromDisk: back.fromDisk });
    else if (!signal?.aborted)
      problems.push({
        path: file.path,
        what: `${under(pathOf(copy.at), file.path)} is no longer what its manifest states`,
        remedy: 'Move this copy away, then resume',
      });
  });
}
