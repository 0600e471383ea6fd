/**
 * Words with which a folder says that it is a shooting day, not a card: `day-2`, `Day 02`, `2026-11-21`, `20261121`.
 */
const dayFolder = /^(?:day[ _-]?\d+|\d{4}-?\d{2}-?\d{2})$/i;

/**
 * The roll that a file came on, from its folders below the one that was read: the first that is not a shooting
 * day, else `whole` (the name of the folder that was read).
 */
export function rollOf(path: string, whole: string): string {
  return (
    path
      .split('/')
      .slice(0, -1)
      .find((folder) => !dayFolder.test(folder)) ?? whole
  );
}

/** The shooting day that a file's folders say it is of; null when they say none. */
export function dayOfPath(path: string): string | null {
  return (
    path
      .split('/')
      .slice(0, -1)
      .find((folder) => dayFolder.test(folder)) ?? null
  );
}

export function stemOf(path: string): string {
  const name = path.slice(path.lastIndexOf('/') + 1);
  const dot = name.lastIndexOf('.');
  return dot > 0 ? name.slice(0, dot) : name;
}

export function folderOf(path: string): string {
  const slash = path.lastIndexOf('/');
  return slash < 0 ? '' : path.slice(0, slash);
}
