import { randomBytes } from 'node:crypto';
import { constants } from 'node:fs';
import {
  link,
  lstat,
  mkdir,
  open,
  readdir,
  rename,
  rmdir,
  stat,
  statfs,
  unlink,
  type FileHandle,
} from 'node:fs/promises';
import { hostname } from 'node:os';
import { dirname, resolve } from 'node:path';
import { folderAndName, nameProblem, OutOfPlace, under } from '@relay/core/naming/under';
import { isAlive } from '@relay/media/process/alive';
import { asShown, isPin, letGo, pin } from '@relay/media/process/pinned';
import { openRegular } from '@relay/media/process/plain';
import { asItsFolder, holding, NotAsItShould, type Root } from './held.ts';
import { walk } from './walk.ts';

/**
 * The only code that writes where users keep files. Everything is written under a hidden temporary name in the
 * folder where it will live, made durable, and given its name in one step that never replaces anything. Places are
 * names in held folders (`held.ts`); nothing is removed but by such a temporary name, and never what lies deeper.
 */

const partMark = '.relay-part-';

/** What temporary names of an owner's begin with. */
export function partsOf(owner: string): string {
  return `${partMark}${owner}-`;
}

/** Thrown when a final name is taken already. */
export class NameTaken extends Error {
  constructor(readonly path: string) {
    super(`${asShown(path)} is there already and was left as it is`);
  }
}

/** Thrown when what got the final name is not what was made: somebody put something else under the temporary one. */
export class Exchanged extends Error {
  constructor(path: string) {
    super(`${asShown(path)} is not what was made: it was exchanged for something else meanwhile`);
  }
}

export async function exists(path: string): Promise<boolean> {
  return lstat(path).then(
    () => true,
    () => false,
  );
}

/** Those of many paths below `root` that something lies at, a folder looked into once however many are in it. */
export async function takenAmong(root: Root, relativePaths: readonly string[]): Promise<string[]> {
  const byFolder = new Map<string, string[]>();
  for (const path of relativePaths) {
    under('', path);
    const { folder } = folderAndName(path);
    const inFolder = byFolder.get(folder);
    if (inFolder) inFolder.push(path);
    else byFolder.set(folder, [path]);
  }
  const taken: string[] = [];
  for (const [folder, paths] of byFolder) {
    await holding(async (held) => {
      const place = await held.folder(root, folder).catch((error: NodeJS.ErrnoException) => {
        if (error.code === 'ENOENT' || error.code === 'ENOTDIR') return null;
        throw error;
      });
      // By what the file system takes for the same name, which a list of names cannot tell.
      if (place === null || (await readdir(place).catch(() => [])).length === 0) return;
      for (const path of paths) if (await exists(under(place, folderAndName(path).name))) taken.push(path);
    });
  }
  return taken;
}

/** Something that is being made: a file, or a set, which is a folder of files. */
export interface Part {
  kind: 'file' | 'set';
  /** Where it is written to: the path of its descriptor. */
  path: string;
  /** Its temporary name in the folder where it will live. */
  place: string;
  /** That name alone. */
  name: string;
  handle: FileHandle;
}

/** A fresh temporary name; `owner` marks whose it is, for cleaning up after a crash. */
function temporaryName(owner: string): string {
  const name = `${partMark}${owner}-${randomBytes(8).toString('hex')}`;
  const refused = nameProblem(name);
  if (refused) throw new OutOfPlace(name, refused);
  return name;
}

/** A temporary name of an owner's in the folder of a place, and where that is. */
export function partNameBeside(finalPath: string, owner: string): { name: string; place: string } {
  const name = temporaryName(owner);
  return { name, place: under(dirname(finalPath), name) };
}

const { O_RDONLY, O_RDWR, O_CREAT, O_EXCL, O_DIRECTORY, O_NOFOLLOW } = constants;

/** A fresh temporary file beside `finalPath`, whose folder is there. */
export async function partBeside(finalPath: string, owner: string): Promise<Part> {
  const { name, place } = partNameBeside(finalPath, owner);
  const handle = await open(place, O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW);
  return { kind: 'file', path: pin(handle, finalPath), place, name, handle };
}

/** The same for a set: the folder that its files will be made in, which is renamed as a whole. */
export async function setBeside(finalPath: string, owner: string): Promise<Part> {
  const { name, place } = partNameBeside(finalPath, owner);
  await mkdir(place);
  const handle = await open(place, O_RDONLY | O_DIRECTORY | O_NOFOLLOW);
  return { kind: 'set', path: pin(handle, finalPath), place, name, handle };
}

/** Lets a part's descriptor go; the part itself stays. */
async function close(part: Part): Promise<void> {
  letGo(part.handle);
  await part.handle.close().catch(() => undefined);
}

/** Keeps a part under its temporary name, for another process to take up. */
export async function leavePart(part: Part): Promise<void> {
  await close(part);
}

/**
 * Flushes a finished part to the disk, every file of a set, and its folder's entry; it is then its folder's owner's.
 */
export async function flush(part: Part): Promise<void> {
  if (part.kind === 'set') {
    for (const name of await readdir(part.path)) {
      const file = await openRegular(under(part.path, name));
      try {
        await file.sync();
      } finally {
        await file.close();
      }
      await asItsFolder(under(part.path, name), dirname(part.place));
    }
  }
  await part.handle.sync().catch((error: NodeJS.ErrnoException) => {
    if (part.kind === 'file') throw error; // Some network shares cannot flush folders.
  });
  await ownedAsItsFolder(part);
  await flushFolders([dirname(part.place)]);
}

/** Gives a part to whoever owns the folder that it lies in. */
export async function ownedAsItsFolder({ handle, place }: Part): Promise<void> {
  const [mine, owner] = [process.geteuid?.(), await stat(dirname(place))];
  if (owner.uid !== mine) await handle.chown(owner.uid, owner.gid).catch(() => undefined);
}

/** Flushes folders, so that the names in them outlive a power cut. */
export async function flushFolders(folders: Iterable<string>): Promise<void> {
  for (const folder of folders) {
    const handle = await open(folder, O_RDONLY | O_DIRECTORY).catch(() => null);
    await handle?.sync().catch(() => undefined); // Some network shares cannot flush folders.
    await handle?.close();
  }
}

/**
 * Gives a finished, flushed part its final name, at once and whole. Who names many flushes their folders afterwards,
 * all at once, and passes false.
 * @throws NameTaken when something has that name; the part is left for the caller to discard
 * @throws Exchanged when what has the name now is not what was made
 */
export async function giveName(part: Part, finalPath: string, flushFolder = true): Promise<void> {
  await nameAt(part.place, finalPath);
  const [named, made] = [await lstat(finalPath), await part.handle.stat()];
  if (named.ino !== made.ino || named.dev !== made.dev) throw new Exchanged(finalPath);
  if (flushFolder) await flushFolders([dirname(finalPath)]);
  await close(part);
}

/** Moves a name to another, which must be free: both are names in held folders. @throws NameTaken */
export async function nameAt(from: string, to: string): Promise<void> {
  try {
    // A hard link fails if the name is taken, where rename would replace.
    await link(from, to);
    await unlink(from);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST') throw new NameTaken(to);
    if (code !== 'EPERM' && code !== 'ENOTSUP' && code !== 'EOPNOTSUPP' && code !== 'ENOSYS') throw error;
    // A folder, or a file system without hard links: look, then rename, which fails where a folder holds anything.
    if (await exists(to)) throw new NameTaken(to);
    await rename(from, to);
  }
}

/** Removes an unfinished part. What lies deeper than a set's own files was not made here, and is left, with the set. */
export async function discard(part: Part): Promise<void> {
  await removePart(part.place).finally(() => close(part));
}

/**
 * Removes what lies at a place under one of our temporary names: a file, or a folder with the files in it.
 * @throws OutOfPlace for any other name
 */
export async function removePart(place: string): Promise<void> {
  const name = place.slice(place.lastIndexOf('/') + 1);
  if (!name.startsWith(partMark)) throw new OutOfPlace(name, 'is no temporary name of ours');
  const facts = await lstat(place).catch(() => null);
  if (!facts) return;
  if (!facts.isDirectory()) {
    await unlink(place);
    return;
  }
  await holding(async (held) => {
    const folder = await held.folder(dirname(place), name);
    for (const inner of await readdir(folder)) await unlink(under(folder, inner));
  });
  await rmdir(place);
}

/** Removes a part of ours that another process left, by its path below `root`. @throws OutOfPlace for any other name */
export async function discardPart(root: Root, relativePath: string): Promise<void> {
  await holding(async (held) => removePart(await held.place(root, relativePath)));
}

/** Removes what an owner left under temporary names in the folders of files below `root`, after a crash. */
export async function discardLeftovers(root: Root, relativePaths: readonly string[], owner: string): Promise<void> {
  for (const folder of new Set(relativePaths.map((path) => folderAndName(path).folder))) {
    await holding(async (held) => {
      const place = await held.folder(root, folder).catch(() => null);
      if (place === null) return;
      for (const name of await readdir(place).catch(() => [])) {
        if (name.startsWith(partsOf(owner))) await removePart(under(place, name)).catch(() => undefined);
      }
    });
  }
}

/** Removes temporary files anywhere below `root` whose owner is gone, as `isGone` tells from the owner's mark. */
export async function discardAbandoned(root: Root, isGone: (owner: string) => boolean): Promise<void> {
  const found: string[] = [];
  await walk(root, { skips: () => false, onUnseen: () => undefined }, ({ name, path, kind }) => {
    const owner = name.startsWith(partMark) ? name.slice(partMark.length, name.lastIndexOf('-')) : null;
    if ((kind === 'file' || kind === 'folder') && owner !== null && isGone(owner)) found.push(path);
  }).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'ENOENT') throw error;
  });
  for (const path of found) await discardPart(root, path).catch(() => undefined);
}

/** Marks texts that this process is writing; a later one on this machine clears up what it left when it was killed. */
const sheetMark = `sheet.${hostname()}.`;

/** Writes a small text file whole, replacing an older one of ours in one step. The folder is there. */
export async function writeWhole(path: string, text: string): Promise<void> {
  for (const name of await readdir(dirname(path)).catch(() => [])) {
    const pid = name.startsWith(partMark + sheetMark)
      ? Number(name.slice((partMark + sheetMark).length).split('-')[0])
      : null;
    if (pid !== null && pid !== process.pid && !isAlive(pid))
      await removePart(under(dirname(path), name)).catch(() => undefined);
  }
  const part = await partBeside(path, `${sheetMark}${process.pid}`);
  try {
    await part.handle.writeFile(text);
    await flush(part);
    await rename(part.place, path);
  } finally {
    await discard(part);
  }
}

/**
 * Places a small text below `root` under a name that is made from its content. What lies there already stays if it is
 * the same.
 * @throws NameTaken when something else has that name
 */
export async function placeText(root: Root, relativePath: string, text: string, owner: string): Promise<void> {
  await holding(async (held) => {
    const finalPath = await held.place(root, relativePath, true);
    const part = await partBeside(finalPath, owner);
    try {
      await part.handle.writeFile(text);
      await flush(part);
      await giveName(part, finalPath);
    } catch (error) {
      if (!(error instanceof NameTaken) || (await readText(finalPath, text.length * 4).catch(() => null)) !== text)
        throw error;
    } finally {
      await discard(part);
    }
  });
}

/**
 * The text of a small file.
 * @throws NotAsItShould when it is larger than `mostBytes`, or no regular file; the system's error where it is not
 * there
 */
export async function readText(path: string, mostBytes: number): Promise<string> {
  return (await readBytes(path, mostBytes)).toString('utf8');
}

/** The bytes of a small file; as `readText`. */
export async function readBytes(path: string, mostBytes: number): Promise<Buffer> {
  const file = await openRegular(path);
  try {
    const { size } = await file.stat();
    if (size > mostBytes) throw new NotAsItShould(`${asShown(path)} is larger than ${(mostBytes / 1e6).toFixed(0)} MB`);
    const buffer = Buffer.alloc(size);
    const { bytesRead } = await file.read(buffer, 0, size, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

export interface FileFacts {
  sizeBytes: number;
  modifiedAt: string;
}

/** Size and time of a regular file; null where there is none, or a link, or anything else. */
export async function fileFacts(path: string): Promise<FileFacts | null> {
  const stats = await (isPin(path) ? stat : lstat)(path).catch(() => null);
  return stats?.isFile() ? { sizeBytes: stats.size, modifiedAt: stats.mtime.toISOString() } : null;
}

/** What is asked of `path`, or of its nearest folder that exists; null where there is none at all. */
async function ofNearest<T>(path: string, ask: (folder: string) => Promise<T>): Promise<T | null> {
  for (let folder = resolve(path); ; folder = dirname(folder)) {
    const answer = await ask(folder).catch(() => null);
    if (answer !== null || folder === dirname(folder)) return answer;
  }
}

/** Bytes free for us on the disk that holds `path`, or its nearest folder that exists. */
export async function freeBytes(path: string): Promise<number> {
  const facts = await ofNearest(path, (folder) => statfs(folder));
  return facts ? facts.bavail * facts.bsize : 0;
}

/** The file system that holds `path`, or its nearest folder that exists: two paths of one number share its room. */
export async function fileSystemOf(path: string): Promise<number> {
  return (await ofNearest(path, (folder) => stat(folder)))?.dev ?? 0;
}
