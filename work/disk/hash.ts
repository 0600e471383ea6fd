import { xxh3 } from '@node-rs/xxhash';
import { lstat, readdir } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { isPin } from '@relay/media/process/pinned';
import { openRegular } from '@relay/media/process/plain';
import { fileFacts, type FileFacts } from './place.ts';

/** XXH3, 64 bit, as sixteen hexadecimal digits: what `xxhsum -H3` prints. */
export function hashFile(path: string, signal?: AbortSignal): Promise<string> {
  return hashFiles([path], signal);
}

/** XXH3 of several files as if they were one, in their order: what `cat … | xxhsum -H3` prints. */
export async function hashFiles(paths: readonly string[], signal?: AbortSignal): Promise<string> {
  const hash = xxh3.Xxh3.withSeed();
  for (const path of paths) {
    const file = await openRegular(path);
    for await (const chunk of file.createReadStream({ highWaterMark: 1 << 20, signal })) hash.update(chunk as Buffer);
  }
  return hash.digest().toString(16).padStart(16, '0');
}

/** Names of the files of an output that is a folder, in order; null for a file. */
async function namesIn(path: string): Promise<string[] | null> {
  // The path of a descriptor is a link to look at, and whatever it is of to look into.
  if (isPin(path))
    return readdir(path).then(
      (names) => names.sort(),
      (error: NodeJS.ErrnoException) => (error.code === 'ENOTDIR' ? null : Promise.reject(error)),
    );
  return (await lstat(path)).isDirectory() ? (await readdir(path)).sort() : null;
}

/**
 * XXH3 of an output: of the file, or, of a folder, of the list of its files, each in a line of its own XXH3 and name.
 */
export async function hashOutput(path: string): Promise<string> {
  const names = await namesIn(path);
  if (!names) return hashFile(path);
  const lines: string[] = [];
  for (const name of names) lines.push(`${await hashFile(under(path, name))}  ${name}\n`);
  return xxh3.xxh64(lines.join('')).toString(16).padStart(16, '0');
}

/** Bytes of an output, a file or a folder of them, and when the newest was written; null where it is not there. */
export async function outputFacts(path: string): Promise<FileFacts | null> {
  const names = await namesIn(path).catch(() => null);
  const all = await Promise.all((names === null ? [path] : names.map((name) => under(path, name))).map(fileFacts));
  const facts = all.filter((one) => one !== null);
  if (facts.length === 0) return null;
  return {
    sizeBytes: facts.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
    modifiedAt: facts.map(({ modifiedAt }) => modifiedAt).reduce((a, b) => (a > b ? a : b)),
  };
}

/** Bytes of an output; 0 where it is not there. */
export async function outputBytes(path: string): Promise<number> {
  return (await outputFacts(path))?.sizeBytes ?? 0;
}

/** Bytes of one sample of a file; three are taken, at its beginning, in its middle and at its end. */
const sampleBytes = 262_144;

/**
 * XXH3 of samples of a file: what tells most files apart without all of them being read. A file no longer than its
 * samples is read whole.
 */
export async function hashSamples(path: string): Promise<string> {
  const file = await openRegular(path);
  try {
    const { size } = await file.stat();
    const hash = xxh3.Xxh3.withSeed();
    const starts =
      size <= 3 * sampleBytes ? [0, sampleBytes, 2 * sampleBytes] : [0, Math.floor(size / 2), size - sampleBytes];
    const buffer = Buffer.alloc(sampleBytes);
    for (const start of starts) {
      const { bytesRead } = await file.read(buffer, 0, sampleBytes, start);
      hash.update(buffer.subarray(0, bytesRead));
    }
    return hash.digest().toString(16).padStart(16, '0');
  } finally {
    await file.close();
  }
}
