/**
 * Places of names that nobody vouches for. This is the one way by which a name is put behind a folder: lint forbids
 * `join` in every floor that touches users' files.
 */

/** No folder structure of a card or a production goes deeper, and no system takes longer paths (Linux, PATH_MAX). */
const most = { parts: 120, bytes: 4_000 } as const;

/** Thrown where a name would lead out of its folder. */
export class OutOfPlace extends Error {
  readonly code = 'RELAY_OUT_OF_PLACE';

  constructor(
    readonly path: string,
    readonly why: string,
  ) {
    super(`${JSON.stringify(path.slice(0, 200))} ${why}`);
  }
}

/** Why a relative path is no place below a folder of this system; null where it is one. Empty is the folder itself. */
function refusedHere(path: string): string | null {
  if (path === '') return null;
  if (path.includes('\0')) return 'holds a NUL';
  if (path.length > most.bytes) return `is longer than ${most.bytes} bytes`;
  const parts = path.split('/');
  if (parts.length > most.parts) return `is more than ${most.parts} folders deep`;
  if (path.startsWith('/')) return 'is no path inside the folder';
  return parts.some((part) => part === '..' || part === '.' || part === '') ? 'leads out of the folder' : null;
}

/**
 * Why a path that a document states (a manifest, a chain, a sidecar, a list, a request) is no place below a folder, on
 * any system; null where it is one. Relative, `/` between names, neither `.` nor `..`, no NUL, no other system's
 * separator.
 */
export function placeProblem(path: string): string | null {
  if (path === '') return 'is no path inside the folder';
  return refusedHere(path) ?? (path.includes('\\') ? "holds another system's separator" : null);
}

/** The same of a single name: one component. */
export function nameProblem(name: string): string | null {
  return name.includes('/') ? 'is no single name' : placeProblem(name);
}

/**
 * The place that names have below a folder, which is trusted. Below the folder '' they stay relative.
 * @throws OutOfPlace where a name would lead elsewhere
 */
export function under(folder: string, ...names: readonly string[]): string {
  let place = folder;
  for (const name of names) {
    const refused = refusedHere(name);
    if (refused) throw new OutOfPlace(name, refused);
    if (name !== '') place = place === '' || place.endsWith('/') ? place + name : `${place}/${name}`;
  }
  return place;
}

/** The folder part of a relative path, '' where it has none; and the name in it. */
export function folderAndName(path: string): { folder: string; name: string } {
  const slash = path.lastIndexOf('/');
  return { folder: path.slice(0, Math.max(0, slash)), name: path.slice(slash + 1) };
}
