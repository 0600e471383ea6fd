import type { WatchEvent } from '@relay/contract/watch';
import type { Problem } from '@relay/core/result';
import { endOfThing, folderAfter } from '@relay/core/inlet/ending';
import type { ReceiptForm, ReceiptPart } from '@relay/core/inlet/receipt';
import { under } from '@relay/core/naming/under';
import { diskProblem } from '../disk/diskProblem.ts';
import { folderFreeFor, moveAll } from '../disk/moved.ts';
import type { Follower, Ready } from './follower.ts';
import type { InletMemory } from './memory.ts';
import { layReceipts } from './receipts.ts';

export interface PuttingAway {
  source: string;
  memory: InletMemory;
  follower: Follower;
  /** Whether originals are moved, and what is laid beside them. */
  moves: boolean;
  receipts: readonly ReceiptForm[];
  tell: (event: WatchEvent) => void;
  onProblem: (path: string, problem: Problem) => void;
}

/** Something that was dealt with, and what came of its parts. */
export interface Dealt {
  ready: Ready;
  parts: readonly ReceiptPart[];
  /** How many others of its structure are still in hand. */
  others: number;
}

/** Moves what was dealt with where that is wanted, and lays receipts beside it. What cannot be done of it is told. */
export async function putAway({ ready, parts, others }: Dealt, options: PuttingAway): Promise<void> {
  const { source, follower, moves, receipts, onProblem } = options;
  const { thing, files } = ready;
  const paths = files.map(({ path }) => path);
  const names = namesOf(thing, paths, follower);
  const key = thing.key === '' ? (names[0] ?? '') : thing.key;
  const ends = parts.map(({ end }) => end);
  const end = endOfThing(ends);
  const stays = !moves || others > 0 || isStillArriving(thing, follower.waitingPaths);
  const wanted = stays ? null : folderAfter(ends);
  try {
    const lies = wanted === null ? '' : await moveAway(paths, names, wanted, options);
    if (end === null || receipts.length === 0) return;
    const at = new Date().toISOString();
    const receipt = { kind: 'Brisk Relay receipt', version: 1, inlet: 'relay watch', thing: key, end, at } as const;
    await layReceipts(source, { kind: thing.kind, names, lies }, { ...receipt, originals: parts }, receipts);
  } catch (error) {
    const { what, remedy } = diskProblem(error, key);
    onProblem(key, { what: `${key} was dealt with, but not put away: ${what}`, remedy });
  }
}

/**
 * Moves names into a folder beside, and remembers the files where they lie then. Answers the folder: another of its
 * kind where one of the names is taken there.
 */
async function moveAway(
  paths: readonly string[],
  names: readonly string[],
  wanted: string,
  { source, memory, tell }: PuttingAway,
): Promise<string> {
  const { folder } = await folderFreeFor(source, wanted, names);
  await moveAll(source, names, { from: '', to: folder });
  for (const from of names) tell({ event: 'moved', from, to: under(folder, from) });
  for (const path of paths) {
    const known = memory.taken.at(path);
    if (known) await memory.addTaken({ ...known, path: under(folder, path) });
  }
  return folder;
}

/** The names in its inlet's folder by which a thing lies there: of a structure its folder, else its files. */
export function namesOf(
  { key, kind }: Pick<Ready['thing'], 'key' | 'kind'>,
  paths: readonly string[],
  follower: Follower,
): string[] {
  if (kind === 'files') return [...new Set([...paths, ...follower.partnersOf(paths)])];
  return key === '' ? [...new Set(paths.map((path) => path.split('/')[0] ?? path))] : [key];
}

/** Whether something of a structure has only just arrived: it is not moved away from that. */
export function isStillArriving(
  { key, kind }: Pick<Ready['thing'], 'key' | 'kind'>,
  waiting: readonly string[],
): boolean {
  return kind === 'structure' && waiting.some((path) => key === '' || path.startsWith(`${key}/`));
}
