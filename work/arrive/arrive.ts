import { stat } from 'node:fs/promises';
import { folderAndName, under } from '@relay/core/naming/under';
import { clearingOf, type Clearing, type CopyRule } from '@relay/core/custody/clearing';
import {
  differencesOf,
  hashToCheck,
  type Differences,
  type HashName,
  type Hashes,
  type Manifest,
  type ManifestEntry,
} from '@relay/core/custody/manifest';
import type { Problem } from '@relay/core/result';
import { asShown } from '@relay/media/process/pinned';
import { inLanes } from '../lanes.ts';
import { addGeneration, historyFolder, readHistory, statedEntries, type History } from '../custody/history.ts';
import { copyFile, SourceTrouble, type CopyOptions } from '../disk/copyFile.ts';
import { diskOf } from '../disk/disk.ts';
import { diskProblem } from '../disk/diskProblem.ts';
import { holding, pathOf, realPathOf, type Root } from '../disk/held.ts';
import { exists, flushFolders, freeBytes } from '../disk/place.ts';
import { readBack } from '../disk/readBack.ts';
import type { Unseen } from '../disk/walk.ts';
import { cardBytes, lookAtCard, type Card } from '../custody/card.ts';
import {
  endIfGone,
  newCopy,
  openCopy,
  proveClaimed,
  readBackWhole,
  thereAlready,
  type Copy,
  type Destination,
  type FileProblem,
} from './copies.ts';

export interface ArrivalOrder {
  roll: string;
  /** The card's folder; it is only read. */
  card: Root;
  /** Of its files these alone, by path: the copy then begins a history of its own. All without. */
  only?: ReadonlySet<string>;
  /** The site's own folder for journals of unfinished copies. */
  journals: string;
  destinations: readonly Destination[];
  /** The hash that manifests carry; MD5 beside it where somebody asks for it. */
  hash: HashName;
  alsoMd5: boolean;
  rule: CopyRule;
  /** Marks temporary files. */
  owner: string;
  host: string;
  signal?: AbortSignal;
  onProgress?: (progress: ArrivalProgress) => void;
  readBack?: CopyOptions['readBack'];
}

export interface ArrivalProgress {
  files: number;
  filesDone: number;
  bytes: number;
  bytesDone: number;
}

/** One copy of a card, as it came out. */
export interface CopyResult {
  store: string;
  folder: string;
  filesProved: number;
  /** The disk that it lies on (`diskOf`); null where nobody can tell. */
  disk: string | null;
  /** The copy was read back from the disk itself, past the page cache. */
  readFromDisk: boolean;
  /** The generation that was written, below the folder. */
  manifest: string | null;
  problem: Problem | null;
}

export interface ArrivalResult {
  roll: string;
  card: string;
  state: 'proved' | 'failed' | 'stopped';
  files: number;
  bytes: number;
  copies: CopyResult[];
  /** Files that could not be copied or proved, each with the reason. */
  problems: FileProblem[];
  /** What lies on the card and is no file to be copied. */
  notCopied: Unseen[];
  /** The card against the manifest that came on it; null when none did. */
  cardManifest: ({ file: string } & Differences) | null;
  clearing: Clearing;
}

/** Files below this go many at a time: they cost a flush each, and flushes wait for each other gladly. */
const small = 1 << 20;
const smallLanes = 12;
/** What a disk keeps free, for manifests and others. */
const margin = 16e6;

/** The hashes that are computed: those asked for, and those that the card's own manifest states. */
function hashesOf({ hash, alsoMd5 }: ArrivalOrder, stated: ReturnType<typeof statedEntries>): HashName[] {
  const checked = stated.flatMap((entry) => hashToCheck(entry) ?? []);
  return [...new Set<HashName>([hash, ...(alsoMd5 ? ['md5' as const] : []), ...checked])];
}

/** Opens every copy whose store is there, and sees which are whole already, and that the others will fit. */
async function openCopies({ order, card, copies, hashes, problems }: UnderWay): Promise<void> {
  for (const copy of copies) {
    await endIfGone(copy);
    if (!copy.problem) await openCopy(copy, card, order.roll, hashes, order.journals);
  }
  // With nothing left to do this is not a resume, but the same card brought in again.
  if (copies.every((copy) => copy.whole)) for (const copy of copies) copy.problem = thereAlready(copy, order.roll);
  else for (const copy of copies.filter((one) => one.whole)) await readBackWhole(copy, card, problems, order.signal);
  await checkSpace(copies, card);
}

async function makeEmptyFolders({ card, copies }: UnderWay): Promise<void> {
  for (const copy of copies.filter((one) => !one.whole))
    for (const folder of card.emptyFolders)
      await holding((held) => held.folder(copy.at, folder, true)).catch(() => undefined);
}

/** Flushes the folders that names were put in. */
async function flushCopies({ card, copies }: UnderWay): Promise<void> {
  const folders = new Set(card.files.map((file) => folderAndName(file.path).folder));
  for (const copy of copies) {
    await endIfGone(copy);
    for (const folder of copy.problem ? [] : folders)
      await holding(async (held) => flushFolders([await held.folder(copy.at, folder)])).catch(() => undefined);
  }
}

/** Whether a copy is to be made on the card itself. */
async function placeOnCard({ card, copies }: UnderWay): Promise<string | undefined> {
  const cardPath = await realPathOf(card.root);
  const places = await Promise.all(copies.map((copy) => realPathOf(copy.at)));
  return places.find((place) => `${place}/`.startsWith(`${cardPath}/`));
}

/**
 * Brings a card in: every file is read once, written to all destinations, flushed, read back and compared. Ends with a
 * generation of ASC MHL in every copy that is whole. Broken off, it goes on later from the files already proved. Never
 * throws for what is on the card or the disks; what went wrong is in the result.
 */
export async function arrive(order: ArrivalOrder): Promise<ArrivalResult> {
  let card: Card;
  try {
    card = onlyOf(await lookAtCard(order.card), order);
  } catch (error) {
    return nothingOf(order, {
      what: `${pathOf(order.card)} cannot be read (${(error as NodeJS.ErrnoException).code ?? String(error)})`,
      remedy: 'Put the card in again, then resume',
    });
  }
  const history = await readHistory(card.root);
  const stated = statedEntries(history).filter(({ path }) => order.only?.has(path) ?? true);
  const copies: Copy[] = order.destinations.map(newCopy);
  const problems: FileProblem[] = [];
  const arrival: UnderWay = { order, card, copies, hashes: hashesOf(order, stated), problems };
  const inside = await placeOnCard(arrival);
  if (inside)
    return nothingOf(
      order,
      { what: `${inside} lies on the card itself`, remedy: 'Choose a folder outside the card' },
      card,
    );
  try {
    await openCopies(arrival);
    if (copies.some((copy) => copy.problem)) return await resultOf(arrival, null, 'failed');
    await makeEmptyFolders(arrival);
    await copyAll(arrival);
    await flushCopies(arrival);
    const made = copies.find((copy) => !copy.whole) ?? copies[0];
    const manifest = history.kind === 'none' || !made ? null : cardAgainst(history, stated, made, card);
    if (order.signal?.aborted) return await resultOf(arrival, manifest, 'stopped');
    const continued: History = order.only ? { ...history, kind: 'none' } : history;
    for (const copy of copies) await writeManifest(copy, card, continued, order);
    const asStated = manifest === null || (manifest.changed.length === 0 && manifest.missing.length === 0);
    const whole = problems.length === 0 && copies.every((copy) => !copy.problem);
    return await resultOf(arrival, manifest, whole && asStated ? 'proved' : 'failed');
  } finally {
    for (const copy of copies) await copy.journal?.close().catch(() => undefined);
  }
}

/** A card as if nothing but what is wanted lay on it. */
function onlyOf(card: Card, { only }: ArrivalOrder): Card {
  return only
    ? { ...card, files: card.files.filter(({ path }) => only.has(path)), emptyFolders: [], notCopied: [] }
    : card;
}

function nothingOf(order: ArrivalOrder, problem: Problem, card?: Card): ArrivalResult {
  const copies = order.destinations.map(({ store, at }): CopyResult => ({
    store,
    folder: pathOf(at),
    filesProved: 0,
    disk: null,
    readFromDisk: false,
    manifest: null,
    problem,
  }));
  return {
    roll: order.roll,
    card: pathOf(order.card),
    state: 'failed',
    files: card?.files.length ?? 0,
    bytes: card ? cardBytes(card) : 0,
    copies,
    problems: [],
    notCopied: [],
    cardManifest: null,
    clearing: clearingOf(order.rule, card?.files.length ?? 0, [], [problem.what]),
  };
}

/** Sees that everything will fit before anything is written; copies on one disk need their room together. */
async function checkSpace(copies: readonly Copy[], card: Card): Promise<void> {
  const need = new Map<number, { bytes: number; copies: Copy[] }>();
  for (const copy of copies.filter((one) => !one.problem && !one.whole)) {
    const disk = await holding(async (held) => (await stat(await held.folder(copy.at, ''))).dev);
    const bytes = card.files.reduce((sum, file) => sum + (copy.claimed.has(file.path) ? 0 : file.sizeBytes), 0);
    const sum = need.get(disk) ?? { bytes: margin, copies: [] };
    need.set(disk, { bytes: sum.bytes + bytes, copies: [...sum.copies, copy] });
  }
  for (const { bytes, copies: sharing } of need.values()) {
    const free = await freeBytes(pathOf((sharing[0] as Copy).at));
    if (free >= bytes) continue;
    for (const copy of sharing)
      copy.problem = {
        what: `Too little space on ${copy.store}: ${(bytes / 1e9).toFixed(2)} GB are needed, ${(free / 1e9).toFixed(2)} GB are free`,
        remedy: 'Free space or choose another store; nothing was copied',
      };
  }
}

/** A card on its way in. */
interface UnderWay {
  order: ArrivalOrder;
  card: Card;
  copies: readonly Copy[];
  hashes: readonly HashName[];
  /** What could not be copied or proved so far. */
  problems: FileProblem[];
}

async function copyAll(arrival: UnderWay): Promise<void> {
  const { order, card, copies, hashes, problems } = arrival;
  const bytes = cardBytes(card);
  const progress: ArrivalProgress = { files: card.files.length, filesDone: 0, bytes, bytesDone: 0 };
  const gone = new AbortController();
  const stop = order.signal ? AbortSignal.any([order.signal, gone.signal]) : gone.signal;
  const one = async (file: Card['files'][number]): Promise<void> => {
    if (stop.aborted) return;
    for (const copy of copies) await endIfGone(copy);
    for (const copy of copies) if (!copy.problem) await proveClaimed(copy, file.path, stop);
    if (stop.aborted) return;
    const missing = copies.filter((copy) => !copy.problem && !copy.whole && !copy.proved.has(file.path));
    let moved = 0;
    try {
      if (missing.length > 0) {
        const copied = await copyOne({ ...arrival, copies: missing }, file, stop, (count) => {
          moved += count;
          progress.bytesDone += count;
          order.onProgress?.({ ...progress });
        });
        // What an earlier attempt read of the card must be what this one reads.
        const other = copies.find((copy) =>
          hashes.some((name) => (copy.proved.get(file.path)?.hashes[name] ?? copied[name]) !== copied[name]),
        );
        if (other)
          problems.push({
            path: file.path,
            what: `${file.path} reads differently from the card than when ${other.store} got it`,
            remedy: 'Do not trust this card or its reader: bring it in anew, under another name, and compare',
          });
      }
    } catch (error) {
      if (stop.aborted) return;
      const cardThere = await holding((held) => held.folder(card.root, '')).then(
        () => true,
        () => false,
      );
      if (!cardThere) {
        for (const copy of copies)
          copy.problem ??= {
            what: 'The card is gone',
            remedy: 'Put it in again and resume: what is proved already is kept',
          };
        gone.abort();
        return;
      }
      problems.push({
        path: file.path,
        what: `${file.path} cannot be read from the card (${(error as Error).message})`,
        remedy: 'Clean the contacts and resume; if it stays so, keep the card for recovery',
      });
    }
    progress.filesDone += 1;
    progress.bytesDone += file.sizeBytes - moved;
    order.onProgress?.({ ...progress });
  };
  await inLanes(
    card.files.filter((file) => file.sizeBytes < small),
    smallLanes,
    one,
  );
  // Two large ones at a time: one is written while the other is read back.
  await inLanes(
    card.files.filter((file) => file.sizeBytes >= small),
    2,
    one,
  );
}

/** Copies one file to every copy that lacks it, and proves what lies there already. */
async function copyOne(
  { order, card, copies, hashes, problems }: UnderWay,
  file: Card['files'][number],
  signal: AbortSignal,
  onBytes: (count: number) => void,
): Promise<Hashes> {
  return holding(async (held) => {
    const source = await held
      .file(card.root, file.path)
      .catch((error: NodeJS.ErrnoException) => Promise.reject(new SourceTrouble(error.code ?? error.message)));
    const [fresh, there]: [Copy[], { copy: Copy; place: string }[]] = [[], []];
    const finalPaths: string[] = [];
    for (const copy of copies) {
      try {
        const place = await held.place(copy.at, file.path, true);
        if (await exists(place)) there.push({ copy, place });
        else {
          fresh.push(copy);
          finalPaths.push(place);
        }
      } catch (error) {
        refuse(copy, file.path, diskProblem(error, under(pathOf(copy.at), file.path)), problems);
      }
    }
    const copied = await copyFile(source, finalPaths, {
      hashes,
      owner: order.owner,
      signal,
      onBytes,
      ...(order.readBack ? { readBack: order.readBack } : {}),
    });
    if (copied.sizeBytes !== file.sizeBytes) throw new SourceTrouble('it changed while it was copied');
    for (const [index, copy] of fresh.entries()) {
      const outcome = copied.outcomes[index];
      if (outcome?.ok) await provedIn(copy, file, copied.hashes, outcome.fromDisk);
      else if (outcome) refuse(copy, file.path, outcome.problem, problems);
    }
    // Named by an attempt that died before it could write it down: believed only when it reads back the same.
    for (const { copy, place } of there) {
      const back = await readBack(place, hashes, signal).catch(() => null);
      const same =
        back?.sizeBytes === copied.sizeBytes && hashes.every((name) => back.hashes[name] === copied.hashes[name]);
      if (same) await provedIn(copy, file, copied.hashes, back.fromDisk);
      else
        problems.push({
          path: file.path,
          what: `${asShown(place)} is there already and is not what lies on the card`,
          remedy: 'Move it away, then resume',
        });
    }
    return copied.hashes;
  });
}

/** A full or read-only disk ends its copy; a single file that would not go is named, and the copy goes on. */
function refuse(copy: Copy, path: string, problem: Problem, problems: FileProblem[]): void {
  if (problem.kind === 'disk full' || problem.kind === 'not writable') copy.problem ??= problem;
  else problems.push({ path, ...problem });
}

async function provedIn(copy: Copy, file: Card['files'][number], hashes: Hashes, fromDisk: boolean): Promise<void> {
  copy.proved.set(file.path, { hashes, fromDisk });
  await copy.journal?.write({ path: file.path, sizeBytes: file.sizeBytes, modifiedAt: file.modifiedAt, hashes });
}

/** The card's files, by the hashes taken while they were copied, against the manifest that came with them. */
function cardAgainst(
  history: History,
  stated: readonly ManifestEntry[],
  copy: Copy,
  card: Card,
): ArrivalResult['cardManifest'] {
  const file = history.generations.at(-1)?.file ?? '';
  const found = card.files
    .filter((one) => !isHistory(one.path, history))
    .flatMap((one) => {
      const proved = copy.proved.get(one.path);
      return proved ? [{ path: one.path, sizeBytes: one.sizeBytes, hashes: proved.hashes }] : [];
    });
  const differences = differencesOf({ entries: [...stated] }, found);
  const doubts = history.generations.flatMap(({ file: name, doubt }) => (doubt ? [{ path: name, why: doubt }] : []));
  return { file, ...differences, changed: [...doubts, ...differences.changed] };
}

function isHistory(path: string, history: History): boolean {
  return path.startsWith(`${historyFolder}/`) || history.generations.some((generation) => generation.file === path);
}

async function writeManifest(copy: Copy, card: Card, history: History, order: ArrivalOrder): Promise<void> {
  if (copy.problem || copy.whole) return;
  const files = card.files.filter((file) => copy.proved.has(file.path));
  if (files.length < card.files.length) return;
  const manifest: Omit<Manifest, 'generation'> = {
    createdAt: new Date().toISOString().replace(/\.\d+Z$/, 'Z'),
    host: order.host,
    tool: 'Brisk Relay',
    process: 'transfer',
    entries: files
      .filter((file) => !isHistory(file.path, history) || history.kind === 'list')
      .map((file) => ({
        path: file.path,
        sizeBytes: file.sizeBytes,
        modifiedAt: file.modifiedAt,
        action: history.kind === 'none' ? 'original' : 'verified',
        hashes: copy.proved.get(file.path)?.hashes ?? {},
      })),
  };
  try {
    const generation =
      history.kind === 'ascmhl'
        ? Math.max(0, ...history.generations.map((one) => one.manifest?.generation ?? 0)) + 1
        : 1;
    copy.manifest = await addGeneration(copy.at, { ...manifest, generation });
    await copy.journal?.remove();
    copy.journal = null;
  } catch (error) {
    copy.problem = diskProblem(error, under(pathOf(copy.at), historyFolder));
  }
}

async function resultOf(
  { order, card, copies, problems }: UnderWay,
  cardManifest: ArrivalResult['cardManifest'],
  state: ArrivalResult['state'],
): Promise<ArrivalResult> {
  const against = [
    ...(state === 'stopped' ? ['the copying was stopped'] : []),
    ...problems.map((problem) => problem.what),
    ...card.notCopied.map((entry) => `${entry.shownPath} was not copied: ${entry.why}`),
    ...(cardManifest?.changed ?? []).map(
      (change) => `${change.path} differs from the manifest on the card: ${change.why}`,
    ),
    ...(cardManifest?.missing ?? []).map((path) => `${path} is in the manifest on the card, but not on the card`),
  ];
  const disks = await Promise.all(copies.map((copy) => diskOf(pathOf(copy.at))));
  const results = copies.map((copy, index): CopyResult => ({
    store: copy.store,
    folder: pathOf(copy.at),
    filesProved: copy.proved.size,
    disk: disks[index] ?? null,
    readFromDisk: [...copy.proved.values()].every((proved) => proved.fromDisk),
    manifest: copy.manifest,
    problem: copy.problem,
  }));
  return {
    roll: order.roll,
    card: pathOf(card.root),
    state,
    files: card.files.length,
    bytes: cardBytes(card),
    copies: results,
    problems,
    notCopied: card.notCopied,
    cardManifest,
    clearing: clearingOf(
      order.rule,
      card.files.length,
      results.map((copy) => ({
        store: copy.store,
        filesProved: copy.filesProved,
        disk: copy.disk,
        readFromDisk: copy.readFromDisk,
        problem: copy.problem?.what ?? null,
      })),
      against,
    ),
  };
}
