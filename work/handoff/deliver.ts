import { stat } from 'node:fs/promises';
import type { FileSystem } from '@relay/core/handoff/fileSystem';
import { hindrancesOn } from '@relay/core/handoff/travel';
import { markedAlso, markName, readMark, writeMark, type HandoffMark } from '@relay/core/handoff/mark';
import type { HashName, ManifestEntry } from '@relay/core/custody/manifest';
import { folderAndName, under } from '@relay/core/naming/under';
import type { Problem } from '@relay/core/result';
import { sayBytes } from '@relay/core/size/sayBytes';
import { endIfGone, newCopy, proveClaimed, type Copy, type Destination, type FileProblem } from '../arrive/copies.ts';
import { addGeneration, readHistory, statedEntries } from '../custody/history.ts';
import { copyFile, SourceTrouble, type CopyOptions } from '../disk/copyFile.ts';
import { diskProblem } from '../disk/diskProblem.ts';
import { holding, pathOf } from '../disk/held.ts';
import { Journal } from '../disk/journal.ts';
import { discardLeftovers, exists, flushFolders, freeBytes, readText, writeWhole } from '../disk/place.ts';
import { readBack } from '../disk/readBack.ts';
import { inLanes } from '../lanes.ts';
import { inPlaceOf } from './inPlaceOf.ts';
import { packed, type ParcelFile, type ParcelItem } from './parcel.ts';
import { targetSystem } from './target.ts';

/** What came over, as it was read back. */
export interface Came {
  path: string;
  sizeBytes: number;
  xxh3: string;
  /** The item that it is, or is of. */
  item: string;
}

export interface DeliveryOrder {
  /** Tells this delivery from others to one folder: a journal of its own, marks on temporary files. */
  id: string;
  items: readonly ParcelItem[];
  /** What is written beside them, of the items that came over whole: by path below the folder. */
  texts: (came: ReadonlySet<string>) => readonly { path: string; text: string }[];
  to: Destination;
  mark: HandoffMark;
  /** The file system that it ends on, where that is known to be another than the folder's. */
  system?: FileSystem | null;
  /** The site's own folder for journals of unfinished copies. */
  journals: string;
  host: string;
  signal?: AbortSignal;
  onProgress?: (progress: DeliveryProgress) => void;
  readBack?: CopyOptions['readBack'];
}

export interface DeliveryProgress {
  files: number;
  filesDone: number;
  bytes: number;
  bytesDone: number;
}

export interface Delivery {
  state: 'proved' | 'failed' | 'stopped';
  files: number;
  bytes: number;
  came: Came[];
  /** Items all of whose files came, by path. */
  whole: string[];
  /** All of it was read back from the disk itself, past the page cache. */
  readFromDisk: boolean;
  /** The generation of ASC MHL that was written, below the folder. */
  manifest: string | null;
  /** What ended it. */
  problem: Problem | null;
  /** What did not come over, each with the reason. */
  problems: FileProblem[];
}

/** Hand-offs state the hash that outputs were recorded by: what is sent is held against that, and read once. */
const hash: HashName = 'xxh3';
/** Files below this go many at a time: they cost a flush each, and flushes wait for each other gladly. */
const small = 4 << 20;
const lanes = { small: 12, large: 2 } as const;
/** What a disk keeps free, for manifests and texts. */
const margin = 16e6;

interface UnderWay {
  order: DeliveryOrder;
  copy: Copy;
  files: readonly ParcelFile[];
  problems: FileProblem[];
  progress: DeliveryProgress;
}

/**
 * Brings a hand-off to a folder: every file is read once, hashed, flushed, read back past the page cache and compared,
 * with what was recorded of it too. What cannot come is named, and the rest comes. Then the texts, a generation of ASC
 * MHL, and the drive's mark are written. Broken off, it goes on later from the files already proved. Never throws for
 * what is in files or on disks.
 */
export async function deliver(order: DeliveryOrder): Promise<Delivery> {
  const copy = newCopy(order.to);
  const { files, problems } = await packed(order.items, order.signal);
  const bytes = files.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
  const progress: DeliveryProgress = { files: files.length, filesDone: 0, bytes, bytesDone: 0 };
  const delivery: UnderWay = { order, copy, files, problems, progress };
  try {
    await endIfGone(copy);
    if (!copy.problem) await open(delivery);
    if (!copy.problem) await copyAll(delivery);
    const stopped = order.signal?.aborted ?? false;
    if (!copy.problem && !stopped) await conclude(delivery);
    return resultOf(delivery, stopped);
  } finally {
    await copy.journal?.close().catch(() => undefined);
  }
}

const journalOf = ({ id, to }: DeliveryOrder): string => `${pathOf(to.at)} handoff ${id}`;
const ownerOf = ({ id }: DeliveryOrder): string => `handoff.${id}`;

/** Opens the folder, or what an earlier attempt left of it, and sees that all of it will fit and be taken there. */
async function open(delivery: UnderWay): Promise<void> {
  const { order, copy, files } = delivery;
  try {
    await holding((held) => held.folder(copy.at, '', true));
    copy.journal = await Journal.open(order.journals, journalOf(order));
    await discardLeftovers(
      copy.at,
      files.map(({ path }) => path),
      ownerOf(order),
    );
    for (const file of files) {
      const line = copy.journal.lines.get(file.path);
      if (line?.sizeBytes === file.sizeBytes && line.modifiedAt === file.modifiedAt && line.hashes[hash])
        copy.claimed.set(file.path, line);
    }
    const need = margin + files.reduce((sum, one) => sum + (copy.claimed.has(one.path) ? 0 : one.sizeBytes), 0);
    const free = await freeBytes(pathOf(copy.at));
    if (free < need)
      copy.problem = {
        kind: 'disk full',
        what: `Too little space on ${copy.store}: ${sayBytes(need)} are needed, ${sayBytes(free)} are free`,
        remedy: 'Free space or choose another; nothing was copied',
      };
    await leaveOutRefused(delivery);
  } catch (error) {
    copy.problem = diskProblem(error, pathOf(copy.at));
  }
}

/** Files that the folder's own file system, or the receiver's, does not take are named, and not begun. */
async function leaveOutRefused(delivery: UnderWay): Promise<void> {
  const own = await targetSystem(pathOf(delivery.copy.at));
  const systems = [own, delivery.order.system].filter((one) => one !== null && one !== undefined);
  const refused = new Map(
    systems.flatMap((system) => hindrancesOn(delivery.files, system)).map(({ path, why }) => [path, why]),
  );
  for (const [path, what] of refused)
    delivery.problems.push({ path, what, remedy: 'Take a drive that is formatted otherwise, or leave it out' });
  delivery.files = delivery.files.filter(({ path }) => !refused.has(path));
}

async function copyAll(delivery: UnderWay): Promise<void> {
  const { order, copy, files } = delivery;
  const gone = new AbortController();
  const stop = order.signal ? AbortSignal.any([order.signal, gone.signal]) : gone.signal;
  const one = async (file: ParcelFile): Promise<void> => {
    if (stop.aborted || copy.problem) return;
    await endIfGone(copy);
    if (!copy.problem) await proveClaimed(copy, file.path, stop);
    if (!copy.problem && !stop.aborted && !copy.proved.has(file.path))
      await bring(delivery, file, stop).catch((error: NodeJS.ErrnoException) => refused(delivery, file, error, stop));
    if (stop.aborted) return;
    // A drive that was pulled out gives errors of many kinds: it is asked for first.
    await endIfGone(copy);
    if (copy.problem) gone.abort();
  };
  const isSmall = ({ sizeBytes }: ParcelFile): boolean => sizeBytes < small;
  await inLanes(files.filter(isSmall), lanes.small, one);
  await inLanes(
    files.filter((file) => !isSmall(file)),
    lanes.large,
    one,
  );
}

/** One file did not come: named, or, where it is the drive's fault, the end of all. */
async function refused(
  { copy, problems }: UnderWay,
  file: ParcelFile,
  error: NodeJS.ErrnoException,
  signal: AbortSignal,
): Promise<void> {
  if (signal.aborted) return;
  const there = await holding((held) => held.folder(copy.at, '')).then(
    () => true,
    () => false,
  );
  if (!there)
    copy.problem ??= {
      what: `${pathOf(copy.at)} is gone: the drive was taken out, or its folder moved away`,
      remedy: 'Put it in again and go on: what is proved already is kept',
    };
  if (copy.problem) return;
  if (error instanceof SourceTrouble)
    problems.push({
      path: file.path,
      what: `${file.path} cannot be sent: ${error.message}`,
      remedy: 'Make it again or see that its store is mounted, then go on',
    });
  else settle(copy, file.path, diskProblem(error, under(pathOf(copy.at), file.path)), problems);
}

function settle(copy: Copy, path: string, problem: Problem, problems: FileProblem[]): void {
  if (problem.kind === 'disk full' || problem.kind === 'not writable') copy.problem ??= problem;
  else problems.push({ path, ...problem });
}

/** Copies one file, or proves what lies there already. @throws SourceTrouble, or the system's error */
async function bring(delivery: UnderWay, file: ParcelFile, signal: AbortSignal): Promise<void> {
  const { order, copy, problems } = delivery;
  await holding(async (held) => {
    const source = await held
      .file(file.from.root, file.from.path)
      .catch((error: NodeJS.ErrnoException) => Promise.reject(new SourceTrouble(error.code ?? error.message)));
    const place = await held.place(copy.at, file.path, true);
    const there = (await exists(place)) ? await readBack(place, [hash], signal).catch(() => null) : null;
    if (there && file.xxh3 !== null && there.hashes[hash] === file.xxh3)
      return provedIn(delivery, file, there.hashes[hash], there.fromDisk);
    const before = there !== null && file.replaces !== null && there.hashes[hash] === file.replaces;
    const making = (): ReturnType<typeof copyFile> =>
      copyFile(source, [place], {
        hashes: [hash],
        owner: ownerOf(order),
        signal,
        onBytes: (count) => {
          delivery.progress.bytesDone += count;
          order.onProgress?.({ ...delivery.progress });
        },
        ...(file.xxh3 === null ? {} : { expect: { [hash]: file.xxh3 } }),
        ...(order.readBack ? { readBack: order.readBack } : {}),
      });
    const copied = before ? await inPlaceOf(place, ownerOf(order), making) : await making();
    const [outcome] = copied.outcomes;
    const sum = copied.hashes[hash] ?? '';
    if (outcome?.ok) return provedIn(delivery, file, sum, outcome.fromDisk);
    // Named by an attempt that died before it could write it down.
    if (there && there.hashes[hash] === sum) return provedIn(delivery, file, sum, there.fromDisk);
    if (outcome) settle(copy, file.path, outcome.problem, problems);
  });
}

async function provedIn(
  { copy, order, progress }: UnderWay,
  { path, sizeBytes, modifiedAt }: Pick<ParcelFile, 'path' | 'sizeBytes' | 'modifiedAt'>,
  sum: string,
  fromDisk: boolean,
): Promise<void> {
  copy.proved.set(path, { hashes: { [hash]: sum }, fromDisk });
  await copy.journal?.write({ path, sizeBytes, modifiedAt, hashes: { [hash]: sum } });
  progress.filesDone = copy.proved.size;
  order.onProgress?.({ ...progress });
}

/** Items all of whose files came over. */
function whole({ files, copy, problems, order }: UnderWay): Set<string> {
  const lacking = new Set([
    ...files.filter(({ path }) => !copy.proved.has(path)).map(({ item }) => item),
    ...problems.map(({ path }) => path),
  ]);
  return new Set(order.items.map(({ path }) => path).filter((path) => !lacking.has(path)));
}

/** Writes what goes beside the files, the manifest and the mark. */
async function conclude(delivery: UnderWay): Promise<void> {
  const { order, copy, files } = delivery;
  try {
    const stated = new Map(statedEntries(await readHistory(copy.at)).map((entry) => [entry.path, entry]));
    const came = whole(delivery);
    const texts: ParcelFile[] = [];
    if (came.size > 0) for (const text of order.texts(came)) texts.push(await writeBeside(delivery, text, stated));
    const all = [...files.filter(({ path }) => copy.proved.has(path)), ...texts];
    await holding(async (held) => {
      const folders = new Set(all.map(({ path }) => folderAndName(path).folder));
      for (const folder of folders) await flushFolders([await held.folder(copy.at, folder)]);
    });
    if (came.size === 0) return;
    copy.manifest = await addGeneration(copy.at, {
      createdAt: new Date().toISOString().replace(/\.\d+Z$/, 'Z'),
      host: order.host,
      tool: 'Brisk Relay',
      process: 'transfer',
      entries: all.map(({ path, sizeBytes, modifiedAt }): ManifestEntry => {
        const hashes = copy.proved.get(path)?.hashes ?? {};
        const known = stated.get(path)?.hashes[hash] === hashes[hash];
        return { path, sizeBytes, modifiedAt, hashes, action: known ? 'verified' : 'original' };
      }),
    });
    await keepMark(order);
    if (delivery.problems.length > 0) return;
    await copy.journal?.remove();
    copy.journal = null;
  } catch (error) {
    copy.problem = diskProblem(error, pathOf(copy.at));
  }
}

/** Writes a text, where nothing lies or what lies there is ours: stated by the folder's history, or written down before. */
async function writeBeside(
  delivery: UnderWay,
  { path, text }: { path: string; text: string },
  stated: ReadonlyMap<string, ManifestEntry>,
): Promise<ParcelFile> {
  const { copy } = delivery;
  return holding(async (held) => {
    const place = await held.place(copy.at, path, true);
    if (await exists(place)) {
      const { hashes } = await readBack(place, [hash]);
      const ours = [stated.get(path)?.hashes[hash], copy.journal?.lines.get(path)?.hashes[hash]];
      const same = (await readText(place, Buffer.byteLength(text)).catch(() => null)) === text;
      if (!same && !ours.includes(hashes[hash]))
        throw new Error(`${path} is there already and is not ours: move it away`);
    }
    await writeWhole(place, text);
    const back = await readBack(place, [hash]);
    const facts = await stat(place);
    const file = { path, sizeBytes: facts.size, modifiedAt: facts.mtime.toISOString() };
    await provedIn(delivery, file, back.hashes[hash] ?? '', back.fromDisk);
    return { ...file, from: { root: copy.at, path }, xxh3: null, replaces: null, item: path };
  });
}

/** The folder says whose it is, and what else is on it. */
async function keepMark({ to, mark }: DeliveryOrder): Promise<void> {
  await holding(async (held) => {
    const place = await held.place(to.at, markName);
    const before = readMark(await readText(place, 1e6).catch(() => ''));
    await writeWhole(place, writeMark(markedAlso(before.ok ? before.value : null, mark)));
  });
}

function resultOf(delivery: UnderWay, stopped: boolean): Delivery {
  const { files, copy, problems, order } = delivery;
  const came = files.flatMap(({ path, sizeBytes, item }): Came[] => {
    const proved = copy.proved.get(path);
    return proved ? [{ path, sizeBytes, xxh3: proved.hashes[hash] ?? '', item }] : [];
  });
  const all = copy.manifest !== null && problems.length === 0 && !copy.problem;
  return {
    state: stopped ? 'stopped' : all || (order.items.length === 0 && !copy.problem) ? 'proved' : 'failed',
    files: files.length,
    bytes: files.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
    came,
    whole: [...whole(delivery)],
    readFromDisk: [...copy.proved.values()].every(({ fromDisk }) => fromDisk),
    manifest: copy.manifest,
    problem: copy.problem,
    problems,
  };
}
