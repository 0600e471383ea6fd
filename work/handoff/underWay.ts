import type { FileSystem } from '@relay/core/handoff/fileSystem';
import type { HandoffMark } from '@relay/core/handoff/mark';
import type { HashName } from '@relay/core/custody/manifest';
import type { Problem } from '@relay/core/result';
import type { Copy, Destination, FileProblem } from '../arrive/copies.ts';
import type { CopyOptions } from '../disk/copyFile.ts';
import type { ParcelFile, ParcelItem } from './parcel.ts';

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
export const hash: HashName = 'xxh3';

/** A delivery under way. */
export interface UnderWay {
  order: DeliveryOrder;
  copy: Copy;
  files: readonly ParcelFile[];
  problems: FileProblem[];
  progress: DeliveryProgress;
}

/** Writes down that a file lies there as it should. */
export async function provedIn(
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
export function whole({ files, copy, problems, order }: UnderWay): Set<string> {
  const lacking = new Set([
    ...files.filter(({ path }) => !copy.proved.has(path)).map(({ item }) => item),
    ...problems.map(({ path }) => path),
  ]);
  return new Set(order.items.map(({ path }) => path).filter((path) => !lacking.has(path)));
}
