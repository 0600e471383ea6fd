import type { HashName, Hashes } from '@relay/core/custody/manifest';
import type { Problem } from '@relay/core/result';
import { hasherOf } from './hasher.ts';
import { diskProblem } from './diskProblem.ts';
import { asShown } from '@relay/media/process/pinned';
import { openRegular } from '@relay/media/process/plain';
import { discard, giveName, ownedAsItsFolder, partBeside, type Part } from './place.ts';
import { readBack as readBackFromDisk, type ReadBack } from './readBack.ts';

const block = 4 << 20;

/** How one destination of a copy ended. */
export type CopyOutcome = { ok: true; fromDisk: boolean } | { ok: false; problem: Problem };

export interface CopiedFile {
  sizeBytes: number;
  modifiedAt: string;
  hashes: Hashes;
  /** In the order of the destinations. */
  outcomes: CopyOutcome[];
}

export interface CopyOptions {
  hashes: readonly HashName[];
  /** Marks temporary files as this arrival's. */
  owner: string;
  signal?: AbortSignal;
  onBytes?: (bytes: number) => void;
  /** What its hashes are to be, as somebody recorded them: what reads otherwise gets no name. */
  expect?: Hashes;
  /** How copies are read back; tests put a damaged disk in its place. */
  readBack?: (path: string, names: readonly HashName[], signal?: AbortSignal) => Promise<ReadBack>;
}

/** Thrown when the file that is copied cannot be read, or changes meanwhile. */
export class SourceTrouble extends Error {}

interface Writer {
  /** A name in a held folder. */
  finalPath: string;
  part: Part | null;
  problem: Problem | null;
}

/**
 * Copies one file to all destinations, whose folders are there: read once, hashed while it is written, flushed, read
 * back from each disk and compared, and only then given its name; its folder is for the caller to flush. A destination
 * that fails leaves the others going on, and nothing of its own.
 * @throws SourceTrouble when the original cannot be read to its end, is not the same at the end, or not as expected
 * @throws the signal's reason when it is aborted
 */
export async function copyFile(
  source: string,
  finalPaths: readonly string[],
  options: CopyOptions,
): Promise<CopiedFile> {
  const original = await openRegular(source).catch((error: NodeJS.ErrnoException) =>
    Promise.reject(new SourceTrouble(error.code ?? error.message)),
  );
  const writers: Writer[] = [];
  try {
    const before = await original.stat();
    for (const finalPath of finalPaths) writers.push(await openWriter(finalPath, options.owner));
    const hasher = await hasherOf(options.hashes);
    let written = 0;
    const size = Math.max(1, Math.min(block, before.size));
    const buffers: [Buffer, Buffer] = [Buffer.allocUnsafe(size), Buffer.allocUnsafe(before.size > size ? size : 1)];
    const read = async (turn: number, at: number): Promise<Buffer> => {
      const buffer = buffers[turn % 2] as Buffer;
      const { bytesRead } = await original
        .read(buffer, 0, buffer.length, at)
        .catch((error: NodeJS.ErrnoException) => Promise.reject(new SourceTrouble(error.code ?? error.message)));
      return buffer.subarray(0, bytesRead);
    };
    let pending = before.size > 0 ? read(0, 0) : Promise.resolve(Buffer.alloc(0));
    for (let turn = 1; ; turn += 1) {
      options.signal?.throwIfAborted();
      const chunk = await pending;
      if (chunk.length === 0) break;
      const at = written;
      written += chunk.length;
      if (written > before.size) throw new SourceTrouble('it grew while it was copied');
      // The next piece is read while this one is hashed and written.
      pending = written < before.size ? read(turn, written) : Promise.resolve(Buffer.alloc(0));
      pending.catch(() => undefined);
      const writing = writers.map((writer) => writeAt(writer, chunk, at));
      hasher.update(chunk);
      await Promise.all(writing);
      options.onBytes?.(chunk.length);
    }
    const after = await original.stat();
    if (written !== before.size || after.size !== before.size || after.mtimeMs !== before.mtimeMs)
      throw new SourceTrouble('it changed while it was copied');
    const hashes = hasher.digest();
    if (Object.entries(options.expect ?? {}).some(([name, sum]) => hashes[name as HashName] !== sum))
      throw new SourceTrouble('it is not what was recorded of it (any more)');
    const outcomes = await Promise.all(writers.map((writer) => finish(writer, before.mtime, hashes, written, options)));
    return { sizeBytes: written, modifiedAt: before.mtime.toISOString(), hashes, outcomes };
  } finally {
    await original.close();
    for (const writer of writers) {
      if (writer.part) await discard(writer.part).catch(() => undefined);
    }
  }
}

async function openWriter(finalPath: string, owner: string): Promise<Writer> {
  try {
    return { finalPath, part: await partBeside(finalPath, owner), problem: null };
  } catch (error) {
    return { finalPath, part: null, problem: diskProblem(error, finalPath) };
  }
}

async function writeAt(writer: Writer, chunk: Buffer, position: number): Promise<void> {
  if (!writer.part || writer.problem) return;
  try {
    for (let done = 0; done < chunk.length;) {
      const { bytesWritten } = await writer.part.handle.write(chunk, done, chunk.length - done, position + done);
      done += bytesWritten;
    }
  } catch (error) {
    writer.problem = diskProblem(error, writer.finalPath);
  }
}

async function finish(
  writer: Writer,
  modified: Date,
  hashes: Hashes,
  sizeBytes: number,
  options: CopyOptions,
): Promise<CopyOutcome> {
  const { part, finalPath } = writer;
  if (writer.problem || !part)
    return {
      ok: false,
      problem: writer.problem ?? {
        what: `${asShown(finalPath)} could not be opened`,
        remedy: 'See that the store is mounted',
      },
    };
  try {
    await part.handle.utimes(modified, modified);
    await part.handle.sync();
    const back = await (options.readBack ?? readBackFromDisk)(part.path, options.hashes, options.signal);
    const differs = back.sizeBytes !== sizeBytes || options.hashes.some((name) => back.hashes[name] !== hashes[name]);
    if (differs)
      return {
        ok: false,
        problem: {
          what: `${asShown(finalPath)} reads back differently from what was written`,
          remedy: 'The copy was thrown away; bring the card in again, and do not trust this disk',
        },
      };
    await ownedAsItsFolder(part);
    await giveName(part, finalPath, false);
    return { ok: true, fromDisk: back.fromDisk };
  } catch (error) {
    options.signal?.throwIfAborted();
    return { ok: false, problem: diskProblem(error, finalPath) };
  }
}
