import { endOfThing, folderAfter, type PartEnd } from '@relay/core/inlet/ending';
import type { ReceiptPart } from '@relay/core/inlet/receipt';
import { diskProblem } from '@relay/work/disk/diskProblem';
import { layReceipts } from '@relay/work/watch/receipts';
import { isThere } from '@relay/work/disk/store';
import { In, QueryFailedError, type DataSource } from 'typeorm';
import { isDatabaseAway } from '../db/dataSource.ts';
import { inletThing, type InletRow, type MovingThing } from '../db/entities/inlets.ts';
import type { Stores } from '../stores/stores.ts';
import { inOneFolder, partsOf, thingsToEnd, type EndedThing } from './endedThings.ts';
import { carryOut, hindrance, intendMove, rootOf, StoreAway, type InletFolder, type Movable } from './moveThings.ts';

/** A folder of an inlet that is followed, as far as the end of what lies in it asks for it. */
export interface Followed {
  at: InletFolder;
  /** The names by which a thing lies there. */
  namesOf: (thing: Pick<EndedThing, 'key' | 'kind'>, paths: readonly string[]) => string[];
  /** Whether something has just arrived in its folder. */
  isArriving: (thing: Pick<EndedThing, 'key' | 'kind'>, paths: readonly string[]) => boolean;
  /** Files that lie in another folder of the inlet now. */
  moved: (paths: readonly string[], moving: Pick<MovingThing, 'from' | 'to'>) => void;
}

/** How clips and files of an inlet ended, counted. */
export interface Ends {
  made: number;
  eyes: number;
  left: number;
}

export const noEnds = (): Ends => ({ made: 0, eyes: 0, left: 0 });

/** What was stopped was left, as far as anybody is told. */
const countedAs: Readonly<Record<PartEnd, keyof Ends>> = {
  proved: 'made',
  'needs eyes': 'eyes',
  left: 'left',
  again: 'left',
};

interface Concluding {
  db: DataSource;
  stores: Stores;
  /** The followed folder of a place; undefined for rolls, and for folders that were taken from the inlet since. */
  followed: (place: string) => Followed | undefined;
}

/**
 * Says of things how they ended, once nothing of them is under way: originals are moved and receipts laid where the
 * inlet wants that, and nothing is moved before every output is proved. Answers how many ended how.
 */
export async function endThings(tools: Concluding, inlet: InletRow): Promise<Ends> {
  const { db, stores } = tools;
  const ended = noEnds();
  const things = await thingsToEnd(db, inlet.id);
  if (things.length === 0) return ended;
  const names = new Map((await stores.list()).map(({ id, name }) => [id, name]));
  const storeName = (id: string): string => names.get(id) ?? id;
  const parts = await partsOf(db, things, storeName);
  const done = new Set<string>();
  for (const thing of things) {
    if (done.has(thing.id)) continue;
    const group = thing.kind === 'structure' ? await inOneFolder(db, inlet.id, thing) : [thing];
    // Something else of its folder is still made: all of it is moved as one.
    if (group === null) continue;
    for (const { id } of group) done.add(id);
    const all = group.every(({ id }) => parts.has(id)) ? parts : await partsOf(db, group, storeName);
    const own = group.flatMap(({ id }) => all.get(id) ?? []);
    const end = endOfThing(own.map((part) => part.end)) ?? 'stopped';
    const put = await putAway(tools, inlet, group, own).catch(troubleOf);
    if (put === 'waits') continue;
    await db.manager.update(
      inletThing,
      { id: In(group.map(({ id }) => id)) },
      { ended: end, endedAt: new Date(), ...put },
    );
    for (const part of own) if (part.knownAs === null) ended[countedAs[part.end]] += 1;
  }
  return ended;
}

/** What is told of a thing once it is put away; null where all went well. */
interface Put {
  trouble: string | null;
}

/** What is told of a thing that could not be put away. Whatever it is, the others are. @throws where the database is away */
function troubleOf(error: unknown): Put | 'waits' {
  if (error instanceof StoreAway) return 'waits';
  if (error instanceof QueryFailedError || isDatabaseAway(error)) throw error as Error;
  return { trouble: diskProblem(error, 'what was dealt with').what };
}

/**
 * Moves what is to be moved, and lays receipts. Answers what went wrong; null where nothing did. *waits*: not yet,
 * since work on the originals is under way, or their store is not there.
 */
async function putAway(
  { db, followed }: Concluding,
  inlet: InletRow,
  group: readonly EndedThing[],
  parts: readonly ReceiptPart[],
): Promise<Put | 'waits'> {
  const [thing] = group;
  const folder = thing && followed(thing.place);
  if (!folder) return { trouble: null };
  const { after } = inlet.definition;
  if (after.originals === 'stay' && after.receipts.length === 0 && !thing.moving) return { trouble: null };
  if (!(await isThere(folder.at.store))) return 'waits';
  const paths = group.flatMap(({ files }) => files.map(({ path }) => path));
  const names = folder.namesOf(thing, paths);
  const movable = { ids: group.map(({ id }) => id), paths, lies: thing.lies };
  const ends = parts.map(({ end }) => end);
  const wanted = after.originals === 'move' ? folderAfter(ends) : null;
  const moving =
    thing.moving ?? (wanted === null ? null : await beginMove(db, folder, movable, { thing, names, wanted }));
  if (moving === 'waits') return 'waits';
  const troubles: string[] = [];
  let { lies } = thing;
  if (moving !== null && 'why' in moving) troubles.push(`${thing.key} was not moved: ${moving.why}`);
  else if (moving !== null) {
    try {
      await carryOut(db, folder.at, movable, moving);
      folder.moved(paths, moving);
      lies = moving.to;
    } catch (error) {
      const put = troubleOf(error);
      if (put === 'waits') return put;
      troubles.push(`${thing.key} was not moved: ${put.trouble ?? ''}`);
    }
  }
  const laid = await lay(inlet, folder, { thing, names, lies }, parts);
  if (laid !== null) troubles.push(laid);
  return { trouble: troubles.length > 0 ? troubles.join('. ') : null };
}

/** Lays the receipts that an inlet wants of what has ended. Answers why not, where it could not. */
async function lay(
  { definition: { after, name } }: InletRow,
  { at }: Followed,
  { thing, names, lies }: { thing: EndedThing; names: readonly string[]; lies: string },
  parts: readonly ReceiptPart[],
): Promise<string | null> {
  const end = endOfThing(parts.map((part) => part.end));
  if (end === null || after.receipts.length === 0) return null;
  const receipt = { kind: 'Brisk Relay receipt', version: 1, inlet: name, thing: thing.key, end } as const;
  const kind = thing.kind === 'structure' ? 'structure' : 'files';
  return layReceipts(
    rootOf(at),
    { kind, names, lies },
    { ...receipt, at: new Date().toISOString(), originals: parts },
    after.receipts,
  ).then(
    () => null,
    (error: unknown) => `No receipt lies beside ${thing.key}: ${diskProblem(error, 'it').what}`,
  );
}

/** Writes a move down, where nothing stands in its way; null where nothing is to be moved. */
async function beginMove(
  db: DataSource,
  folder: Followed,
  movable: Movable,
  { thing, names, wanted }: { thing: EndedThing; names: string[]; wanted: string },
): Promise<MovingThing | { why: string } | 'waits' | null> {
  // It lies in such a folder already; or nothing of it is remembered.
  if (thing.lies.split('.')[0] === wanted || names.length === 0) return null;
  if (folder.isArriving(thing, movable.paths)) return 'waits';
  return (await hindrance(db, folder.at, movable)) ?? intendMove(db, folder.at, movable, { names, wanted });
}
