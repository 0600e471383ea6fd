import { constants } from 'node:fs';
import { open, type FileHandle } from 'node:fs/promises';
import { isPin, letGo, pin } from './pinned.ts';
import { scratchIn } from './scratch.ts';

/**
 * Paths that were not pinned by whoever names them: the command line's, and those of our own cache. They are opened
 * just before FFmpeg is started, without following a link at their end, and FFmpeg gets the descriptor.
 */

const { O_RDONLY, O_RDWR, O_CREAT, O_TRUNC, O_NOFOLLOW, O_NONBLOCK } = constants;

/**
 * Opens a regular file to be read. @throws Error with code ELOOP for a link, RELAY_NO_FILE for what is no regular file
 */
export async function openRegular(path: string): Promise<FileHandle> {
  // A pipe would wait for somebody to write to it; this way it is opened at once, and then refused.
  const file = await open(path, O_RDONLY | O_NONBLOCK | (isPin(path) ? 0 : O_NOFOLLOW));
  if ((await file.stat()).isFile()) return file;
  await file.close();
  throw Object.assign(new Error(`${path} is no regular file`), { code: 'RELAY_NO_FILE' });
}

/** Pins those of `paths` that are not, for as long as `work` takes. */
export async function pinnedAll<T>(paths: readonly string[], work: (paths: string[]) => Promise<T>): Promise<T> {
  const opened: FileHandle[] = [];
  try {
    const pinned: string[] = [];
    for (const path of paths) {
      if (path.startsWith('/proc/self/fd/')) pinned.push(path);
      else {
        const file = await openRegular(path);
        opened.push(file);
        pinned.push(pin(file, path));
      }
    }
    return await work(pinned);
  } finally {
    await closeAll(opened);
  }
}

async function closeAll(opened: readonly FileHandle[]): Promise<void> {
  for (const file of opened) {
    letGo(file);
    await file.close();
  }
}

/** Arguments with every plain `file:` path of theirs opened: to be read where it follows `-i`, else to be written. */
export async function openPlain(args: readonly string[]): Promise<{ args: string[]; close: () => Promise<void> }> {
  const opened: FileHandle[] = [];
  const pinned: string[] = [];
  try {
    for (const [index, arg] of args.entries()) {
      const path = arg.startsWith('file:/') ? arg.slice('file:'.length) : null;
      if (path === null || path.startsWith('/proc/self/fd/') || scratchIn([path]).length > 0) {
        pinned.push(arg);
        continue;
      }
      const read = args[index - 1] === '-i';
      // What cannot be opened is left to FFmpeg, which says so.
      const file = await (read ? openRegular(path) : open(path, O_RDWR | O_CREAT | O_TRUNC | O_NOFOLLOW)).catch(
        () => null,
      );
      if (file) opened.push(file);
      pinned.push(file ? `file:${pin(file, path)}` : arg);
    }
  } catch (error) {
    await closeAll(opened);
    throw error;
  }
  return { args: pinned, close: () => closeAll(opened) };
}
