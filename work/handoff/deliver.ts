import { hindrancesOn } from '@relay/core/handoff/travel';
import { under } from '@relay/core/naming/under';
import type { Problem } from '@relay/core/result';
import { sayBytes } from '@relay/core/size/sayBytes';
import { endIfGone, newCopy, proveClaimed, type Copy, type FileProblem } from '../arrive/copies.ts';
import { copyFile, SourceTrouble } from '../disk/copyFile.ts';
import { diskProblem } from '../disk/diskProblem.ts';
import { holding, pathOf } from '../disk/held.ts';
import { Journal } from '../disk/journal.ts';
import { discardLeftovers, exists, freeBytes } from '../disk/place.ts';
import { readBack } from '../disk/readBack.ts';
import { inLanes } from '../lanes.ts';
import { conclude } from './conclude.ts';
import { inPlaceOf } from './inPlaceOf.ts';
import { packed, type ParcelFile } from './parcel.ts';
import { targetSystem } from './target.ts';
import {
  hash,
  provedIn,
  whole,
  type Came,
  type Delivery,
  type DeliveryOrder,
  type DeliveryProgress,
  type UnderWay,
} from './underWay.ts';

/** Files below this go many at a time: they cost a flush each, and flushes wait for each other gladly. */
const small = 4 << 20;
const lanes = { small: 12, large: 2 } as const;
/** What a disk keeps free, for manifests and texts. */
const margin = 16e6;

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
  const { at } = delivery.copy;
  const below = typeof at === 'string' ? '' : at.folder;
  const own = await targetSystem(pathOf(at));
  const systems = [own, delivery.order.system].filter((one) => one !== null && one !== undefined);
  const refused = new Map(
    systems.flatMap((system) => hindrancesOn(delivery.files, system, below)).map(({ path, why }) => [path, why]),
  );
  for (const { path, item } of delivery.files) {
    const what = refused.get(path);
    // Of a set it is the whole that does not come.
    if (what !== undefined)
      delivery.problems.push({ path: item, what, remedy: 'Take a drive that is formatted otherwise, or leave it out' });
  }
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
    if (copy.proved.has(file.path)) thereAlready(delivery, file);
    else if (!copy.problem && !stop.aborted)
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
    if (there && file.xxh3 !== null && there.hashes[hash] === file.xxh3) {
      await provedIn(delivery, file, there.hashes[hash], there.fromDisk);
      thereAlready(delivery, file);
      return;
    }
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

/** What need not be copied counts as done all the same. */
function thereAlready({ copy, order, progress }: UnderWay, { sizeBytes }: ParcelFile): void {
  progress.filesDone = copy.proved.size;
  progress.bytesDone += sizeBytes;
  order.onProgress?.({ ...progress });
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
