import { constants } from 'node:fs';
import { open, type FileHandle } from 'node:fs/promises';
import type { HashName, Hashes } from '@relay/core/custody/manifest';
import { isPin } from '@relay/media/process/pinned';
import { hasherOf } from './hasher.ts';
import { NotAsItShould } from './held.ts';

const block = 4 << 20;
const smallBlock = 64 << 10;

/**
 * Memory that begins on a page, which reading past the page cache asks for (open(2), O_DIRECT): WebAssembly's does, a
 * Buffer's does not. A few are kept, for each reserves gigabytes of addresses.
 */
const spare = new Map<number, Buffer[]>([
  [block, []],
  [smallBlock, []],
]);
const mostSpare = 24;

function borrow(size: number): Buffer {
  return spare.get(size)?.pop() ?? Buffer.from(new WebAssembly.Memory({ initial: size >> 16 }).buffer);
}

function giveBack(buffer: Buffer): void {
  const pool = spare.get(buffer.length);
  if (pool && pool.length < mostSpare) pool.push(buffer);
}

export interface ReadBack {
  sizeBytes: number;
  hashes: Hashes;
  /** The bytes came from the disk itself; false where the file system reads through memory only. */
  fromDisk: boolean;
}

/** Reads a file that was flushed, past the page cache where the file system allows it, and hashes what is there. */
export async function readBack(path: string, names: Iterable<HashName>, signal?: AbortSignal): Promise<ReadBack> {
  const wanted = [...names];
  const plain = constants.O_RDONLY | constants.O_NONBLOCK | (isPin(path) ? 0 : constants.O_NOFOLLOW);
  const direct = await open(path, plain | constants.O_DIRECT).catch((error: NodeJS.ErrnoException) =>
    error.code === 'EINVAL' ? null : Promise.reject(error),
  );
  if (direct) {
    const read = await hashAll(direct, wanted, true, signal).catch((error: NodeJS.ErrnoException) =>
      error.code === 'EINVAL' ? null : Promise.reject(error),
    );
    if (read) return read;
  }
  return hashAll(await open(path, plain), wanted, false, signal);
}

async function hashAll(
  file: FileHandle,
  names: readonly HashName[],
  fromDisk: boolean,
  signal?: AbortSignal,
): Promise<ReadBack> {
  const facts = await file.stat();
  const buffer = borrow(facts.size < smallBlock ? smallBlock : block);
  try {
    if (!facts.isFile()) throw new NotAsItShould('it is no regular file');
    const hasher = await hasherOf(names);
    let at = 0;
    for (;;) {
      signal?.throwIfAborted();
      const { bytesRead } = await file.read(buffer, 0, buffer.length, at);
      if (bytesRead === 0) break;
      hasher.update(buffer.subarray(0, bytesRead));
      at += bytesRead;
      // A short read off the disk is its end; asking on from an odd place would be refused.
      if (fromDisk && bytesRead % 4096 !== 0) break;
    }
    return { sizeBytes: at, hashes: hasher.digest(), fromDisk };
  } finally {
    await file.close();
    giveBack(buffer);
  }
}
