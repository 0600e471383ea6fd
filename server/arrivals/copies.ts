import { mkdir, readdir } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { hashNames, type HashName, type Hashes } from '@relay/core/custody/manifest';
import type { Problem } from '@relay/core/result';
import { inLanes } from '../clips/readFiles.ts';
import { historyFolder, readHistory, statedEntries } from '../custody/history.ts';
import { diskProblem } from '../stores/diskProblem.ts';
import { Journal } from '../stores/journal.ts';
import { discardAbandoned, fileFacts, placeInside } from '../stores/place.ts';
import { readBack } from '../stores/readBack.ts';
import type { Card } from './card.ts';

/** What went wrong with one file, in words. */
export type FileProblem = Problem & { path: string };

/** Where one copy of a card goes. */
export interface Destination {
  /** What the disk is called: the store, or the folder given. */
  store: string;
  /** The roll's own folder on it. */
  folder: string;
  /** Whether its store is there now: a share that is not mounted leaves an empty folder, which must not be filled. Absent where nobody can tell. */
  there?: () => Promise<boolean>;
}

/** One copy of a card under way. */
export interface Copy extends Destination {
  journal: Journal | null;
  proved: Map<string, { hashes: Hashes; fromDisk: boolean }>;
  problem: Problem | null;
  manifest: string | null;
  /** Folders that were looked at and made. */
  folders: Map<string, Promise<string>>;
  /** An earlier attempt ended this copy: its manifest states every file of the card. */
  whole: boolean;
}

export function newCopy(destination: Destination): Copy {
  return { ...destination, journal: null, proved: new Map(), problem: null, manifest: null, folders: new Map(), whole: false };
}

/** Opens a destination: new, or left unfinished by this same roll. Anything else that lies there is not touched. */
export async function openCopy(copy: Copy, card: Card, roll: string, hashes: readonly HashName[]): Promise<void> {
  try {
    const there = await readdir(copy.folder).catch((error: NodeJS.ErrnoException) => (error.code === 'ENOENT' ? [] : Promise.reject(error)));
    const before = await Journal.read(copy.folder);
    if (there.length > 0 && before === null) {
      if (!(await takeWhole(copy, card))) copy.problem = thereAlready(copy, roll);
      return;
    }
    copy.journal = await Journal.open(copy.folder);
    await discardAbandoned(copy.folder, (owner) => owner.startsWith('arrival.'));
    const wanted = new Map(card.files.map((file) => [file.path, file]));
    for (const [path, line] of copy.journal.lines) {
      const onCard = wanted.get(path);
      const there = await fileFacts(join(copy.folder, path));
      if (onCard?.sizeBytes === line.sizeBytes && onCard.modifiedAt === line.modifiedAt && there?.sizeBytes === line.sizeBytes && hashes.every((name) => line.hashes[name])) copy.proved.set(path, { hashes: line.hashes, fromDisk: line.fromDisk });
    }
  } catch (error) {
    copy.problem = diskProblem(error, copy.folder);
  }
}

/** Ends a copy whose store went away, or was not there to begin with. */
export async function endIfGone(copy: Copy): Promise<void> {
  if (copy.problem || !copy.there || (await copy.there())) return;
  copy.problem = { what: `${copy.store} is not there: what lies at its place is not this store`, remedy: 'Mount it, then resume: what is proved already is kept' };
}

export function thereAlready(copy: Copy, roll: string): Problem {
  return { what: `${copy.folder} is there already and is not an unfinished copy of ${roll}`, remedy: 'Give the roll another name, or choose another folder' };
}

/** Takes over a copy that an earlier attempt ended: every file of the card stands in its newest manifest, and is there. */
async function takeWhole(copy: Copy, card: Card): Promise<boolean> {
  const newest = (await readHistory(copy.folder)).generations.at(-1);
  if (!newest?.manifest || newest.doubt || newest.manifest.process !== 'transfer') return false;
  const stated = new Map(newest.manifest.entries.map((entry) => [entry.path, entry]));
  for (const file of card.files) {
    const entry = stated.get(file.path);
    const there = await fileFacts(join(copy.folder, file.path));
    const history = file.path.startsWith(`${historyFolder}/`);
    if (there?.sizeBytes !== file.sizeBytes || (!history && (entry?.sizeBytes !== file.sizeBytes || entry.modifiedAt !== file.modifiedAt))) return false;
  }
  copy.whole = true;
  copy.manifest = newest.file;
  return true;
}

/** Reads a copy that was taken over back from its disk: what its manifest states is believed of no file unseen. */
export async function readBackWhole(copy: Copy, card: Card, problems: FileProblem[], signal?: AbortSignal): Promise<void> {
  const stated = new Map(statedEntries(await readHistory(copy.folder)).map((entry) => [entry.path, entry]));
  await inLanes(card.files, 2, async (file) => {
    if (signal?.aborted) return;
    const hashes = stated.get(file.path)?.hashes ?? {};
    const back = await readBack(join(copy.folder, file.path), hashNames.filter((name) => hashes[name] !== undefined), signal).catch(() => null);
    if (back?.sizeBytes === file.sizeBytes && Object.entries(hashes).every(([name, hash]) => back.hashes[name as HashName] === hash)) copy.proved.set(file.path, { hashes, fromDisk: back.fromDisk });
    else if (!signal?.aborted) problems.push({ path: file.path, what: `${join(copy.folder, file.path)} is no longer what its manifest states`, remedy: 'Move this copy away, then resume' });
  });
}

/** The place of a file in a copy. Its folder is looked at once, so that no link leads out of it; five thousand sidecars share one. */
export async function placeIn(copy: Copy, path: string): Promise<string> {
  const folder = dirname(path);
  let place = copy.folders.get(folder);
  if (!place) {
    place = placeInside(copy.folder, folder).then(async (found) => {
      await mkdir(found, { recursive: true });
      return found;
    });
    copy.folders.set(folder, place);
  }
  return join(await place, basename(path));
}
