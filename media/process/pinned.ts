import type { FileHandle } from 'node:fs/promises';

/**
 * Users' files are opened once and used by descriptor from then on, so that nobody can exchange them for a link between
 * two looks. A descriptor has a path of its own in /proc (proc(5)), which every call of this process, and FFmpeg that
 * inherits it under the same number, takes like any other: `/proc/self/fd/N` of a file, `/proc/self/fd/N/name` of
 * something in a folder.
 */

const pattern = /\/proc\/self\/fd\/(\d+)(\/?)/g;

/** What people call a pinned file or folder, by its descriptor. */
const names = new Map<number, string>();

/** The path of an open file or folder; `shown` is what people call it. Whoever closes the handle lets it go first. */
export function pin(handle: FileHandle, shown: string): string {
  names.set(handle.fd, asShown(shown));
  return `/proc/self/fd/${handle.fd}`;
}

export function letGo(handle: FileHandle): void {
  names.delete(handle.fd);
}

/** Whether a path is that of a descriptor itself, not of a name in a folder. */
export function isPin(path: string): boolean {
  return /^\/proc\/self\/fd\/\d+$/.test(path);
}

/** A text with every pinned path in it written as people know it. */
export function asShown(text: string): string {
  return text.replace(pattern, (whole, fd: string, slash: string) => {
    const name = names.get(Number(fd));
    return name === undefined ? whole : name + slash;
  });
}

/** The descriptors that arguments speak of: of files, and of folders in which something is named. */
export function pinsIn(args: readonly string[]): { files: number[]; folders: number[] } {
  const [files, folders] = [new Set<number>(), new Set<number>()];
  for (const arg of args) {
    for (const match of arg.matchAll(pattern)) (match[2] === '' ? files : folders).add(Number(match[1]));
  }
  return { files: [...files], folders: [...folders] };
}
