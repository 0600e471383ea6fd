import { randomBytes } from 'node:crypto';
import { link, lstat, mkdir, open, readdir, readFile, realpath, rename, rm, stat, statfs, unlink, writeFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { basename, dirname, join, resolve, sep } from 'node:path';
import { createReadStream } from 'node:fs';
import { xxh3 } from '@node-rs/xxhash';
import { isAlive } from '@relay/media/process/alive';

/**
 * The only code that writes where users keep files. Everything is written under a hidden temporary name in the
 * folder where it will live, made durable, and given its name in one step that never replaces anything.
 */

const partMark = '.relay-part-';

/** Thrown when a final name is taken already. */
export class NameTaken extends Error {
  constructor(readonly path: string) {
    super(`${path} is there already and was left as it is`);
  }
}

/**
 * The place below `root` that `relativePath` names.
 * @throws Error when the path would leave the root, by itself or through a link on the way
 */
export async function placeInside(root: string, relativePath: string): Promise<string> {
  const base = await realPlace(root);
  const wanted = resolve(base, relativePath);
  if (wanted !== base && !wanted.startsWith(base + sep)) throw new Error(`${relativePath} leaves ${root}`);
  // What exists on the way must still be inside when links are followed.
  if ((await realPlace(wanted)) !== wanted) throw new Error(`${relativePath} leads out of ${root} through a link`);
  return wanted;
}

/** A path with every link on it followed, as far as it exists; the rest is added as it is. */
async function realPlace(path: string): Promise<string> {
  const whole = resolve(path);
  const real = await realpath(whole).catch(() => null);
  if (real !== null || whole === dirname(whole)) return real ?? whole;
  return join(await realPlace(dirname(whole)), basename(whole));
}

export async function exists(path: string): Promise<boolean> {
  return lstat(path).then(() => true, () => false);
}

/** Those of many paths below `root` that something lies at, a folder looked into once however many are in it. */
export async function takenAmong(root: string, relativePaths: readonly string[]): Promise<string[]> {
  const byFolder = new Map<string, string[]>();
  for (const path of relativePaths) {
    const inFolder = byFolder.get(dirname(path));
    if (inFolder) inFolder.push(path);
    else byFolder.set(dirname(path), [path]);
  }
  const taken: string[] = [];
  for (const [folder, paths] of byFolder) {
    const place = await placeInside(root, folder);
    // By what the file system takes for the same name, which a list of names cannot tell.
    if ((await readdir(place).catch(() => [])).length === 0) continue;
    for (const path of paths) if (await exists(join(place, basename(path)))) taken.push(path);
  }
  return taken;
}

/** A fresh temporary name beside `finalPath`; the folder is made. `owner` marks whose it is, for cleaning up after a crash. */
export async function temporaryBeside(finalPath: string, owner: string): Promise<string> {
  await mkdir(dirname(finalPath), { recursive: true });
  return temporaryName(finalPath, owner);
}

/** The same in a folder that is there already. */
export function temporaryName(finalPath: string, owner: string): string {
  return join(dirname(finalPath), `${partMark}${owner}-${randomBytes(4).toString('hex')}`);
}

/** The same for a set: the folder that its files will be made in, which is renamed as a whole. */
export async function temporaryFolderBeside(finalPath: string, owner: string): Promise<string> {
  const folder = await temporaryBeside(finalPath, owner);
  await mkdir(folder);
  return folder;
}

/** Names of the files in a folder, in order; null for a file. */
async function namesIn(path: string): Promise<string[] | null> {
  return (await lstat(path)).isDirectory() ? (await readdir(path)).sort() : null;
}

async function makeDurable(path: string): Promise<void> {
  const handle = await open(path, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** Flushes a finished temporary file, or a folder of them, to the disk; its folder entry too. */
export async function flush(path: string): Promise<void> {
  for (const name of (await namesIn(path)) ?? []) await makeDurable(join(path, name));
  await makeDurable(path);
  await flushFolders([dirname(path)]);
}

/** Flushes folders, so that the names in them outlive a power cut. */
export async function flushFolders(folders: Iterable<string>): Promise<void> {
  for (const folder of folders) await makeDurable(folder).catch(() => undefined); // Some network shares cannot flush folders.
}

/**
 * Gives a finished, flushed temporary file or folder its final name, at once and whole. Who names many flushes their folders
 * afterwards, all at once, and passes false.
 * @throws NameTaken when something has that name; the temporary file is left for the caller to discard
 */
export async function giveName(temporary: string, finalPath: string, flushFolder = true): Promise<void> {
  try {
    // A hard link fails if the name is taken, where rename would replace.
    await link(temporary, finalPath);
    await unlink(temporary);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST') throw new NameTaken(finalPath);
    if (code !== 'EPERM' && code !== 'ENOTSUP' && code !== 'EOPNOTSUPP' && code !== 'ENOSYS') throw error;
    // A folder, or a file system without hard links: look, then rename, which fails where a folder holds anything.
    if (await exists(finalPath)) throw new NameTaken(finalPath);
    await rename(temporary, finalPath);
  }
  if (flushFolder) await flushFolders([dirname(finalPath)]);
}

/**
 * Sets a finished file below `root` aside as a version: under `superseded/`, its own path kept, its name followed by the first number that is
 * free. Nothing is replaced, and nothing is lost.
 */
export async function setAside(root: string, relativePath: string): Promise<string> {
  const from = await placeInside(root, relativePath);
  const dot = relativePath.lastIndexOf('.');
  const [stem, ending] = dot > relativePath.lastIndexOf('/') ? [relativePath.slice(0, dot), relativePath.slice(dot)] : [relativePath, ''];
  for (let number = 1; ; number += 1) {
    const aside = `superseded/${stem}.${number}${ending}`;
    const to = await placeInside(root, aside);
    if (await exists(to)) continue;
    await mkdir(dirname(to), { recursive: true });
    try {
      await giveName(from, to);
      await flushFolders([dirname(from)]);
      return aside;
    } catch (error) {
      // Somebody else took the number in between.
      if (!(error instanceof NameTaken)) throw error;
    }
  }
}

export async function discard(temporary: string): Promise<void> {
  await rm(temporary, { force: true, recursive: true });
}

/** Removes what an owner left under temporary names in the folders of `finalPaths`, after a crash. */
export async function discardLeftovers(finalPaths: readonly string[], owner: string): Promise<void> {
  for (const folder of new Set(finalPaths.map((path) => dirname(path)))) {
    const names = await readdir(folder).catch(() => []);
    for (const name of names) if (name.startsWith(`${partMark}${owner}-`)) await discard(join(folder, name));
  }
}

/** Removes temporary files anywhere below `root` whose owner is gone, as `isGone` tells from the owner's mark. */
export async function discardAbandoned(root: string, isGone: (owner: string) => boolean): Promise<void> {
  const entries = await readdir(root, { recursive: true, withFileTypes: true }).catch(() => []);
  for (const entry of entries) {
    const owner = entry.name.startsWith(partMark) ? entry.name.slice(partMark.length, entry.name.lastIndexOf('-')) : null;
    if ((entry.isFile() || entry.isDirectory()) && owner !== null && isGone(owner)) await discard(join(entry.parentPath, entry.name));
  }
}

/** Marks texts that this process is writing; a later one on this machine clears up what it left when it was killed. */
const sheetMark = `sheet.${hostname()}.`;

/** Writes a small text file whole, replacing an older one of ours in one step. */
export async function writeWhole(path: string, text: string): Promise<void> {
  const temporary = await temporaryBeside(path, `${sheetMark}${process.pid}`);
  for (const name of await readdir(dirname(path)).catch(() => [])) {
    const pid = name.startsWith(partMark + sheetMark) ? Number(name.slice((partMark + sheetMark).length).split('-')[0]) : null;
    if (pid !== null && pid !== process.pid && !isAlive(pid)) await discard(join(dirname(path), name));
  }
  try {
    await writeFile(temporary, text);
    await flush(temporary);
    await rename(temporary, path);
  } finally {
    await discard(temporary);
  }
}

/**
 * Places a small text below `root` under a name that is made from its content. What lies there already stays if it is the
 * same.
 * @throws NameTaken when something else has that name
 */
export async function placeText(root: string, relativePath: string, text: string, owner: string): Promise<void> {
  const finalPath = await placeInside(root, relativePath);
  const temporary = await temporaryBeside(finalPath, owner);
  try {
    await writeFile(temporary, text);
    await flush(temporary);
    await giveName(temporary, finalPath);
  } catch (error) {
    if (!(error instanceof NameTaken) || (await readFile(finalPath, 'utf8').catch(() => null)) !== text) throw error;
  } finally {
    await discard(temporary);
  }
}

/** XXH3, 64 bit, as sixteen hexadecimal digits: what `xxhsum -H3` prints. */
export function hashFile(path: string, signal?: AbortSignal): Promise<string> {
  return hashFiles([path], signal);
}

/** XXH3 of several files as if they were one, in their order: what `cat … | xxhsum -H3` prints. */
export async function hashFiles(paths: readonly string[], signal?: AbortSignal): Promise<string> {
  const hash = xxh3.Xxh3.withSeed();
  for (const path of paths) for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20, signal })) hash.update(chunk as Buffer);
  return hash.digest().toString(16).padStart(16, '0');
}

/** XXH3 of an output: of the file, or, of a folder, of the list of its files, each in a line of its own XXH3 and name. */
export async function hashOutput(path: string): Promise<string> {
  const names = await namesIn(path);
  if (!names) return hashFile(path);
  const lines: string[] = [];
  for (const name of names) lines.push(`${await hashFile(join(path, name))}  ${name}\n`);
  return xxh3.xxh64(lines.join('')).toString(16).padStart(16, '0');
}

/** Bytes of an output, a file or a folder of them; 0 where it is not there. */
export async function outputBytes(path: string): Promise<number> {
  const names = await namesIn(path).catch(() => null);
  const facts = await Promise.all((names ?? ['']).map((name) => fileFacts(join(path, name))));
  return facts.reduce((sum, one) => sum + (one?.sizeBytes ?? 0), 0);
}

export interface FileFacts {
  sizeBytes: number;
  modifiedAt: string;
}

export async function fileFacts(path: string): Promise<FileFacts | null> {
  const stats = await stat(path).catch(() => null);
  return stats ? { sizeBytes: stats.size, modifiedAt: stats.mtime.toISOString() } : null;
}

/** Bytes free for us on the disk that holds `path`, or its nearest folder that exists. */
export async function freeBytes(path: string): Promise<number> {
  for (let folder = resolve(path); ; folder = dirname(folder)) {
    const facts = await statfs(folder).catch(() => null);
    if (facts) return facts.bavail * facts.bsize;
    if (folder === dirname(folder)) return 0;
  }
}
