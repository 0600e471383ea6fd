import { isCardFolder } from '../custody/cardFolders.ts';

/**
 * Words with which a folder says that it is a shooting day, not a card: `day-2`, `Day 02`, `2026-11-21`, `20261121`.
 */
const dayFolder = /^(?:day[ _-]?\d+|\d{4}-?\d{2}-?\d{2})$/i;

/**
 * The roll that a file came on, from its folders below the one that was read: the first that is not a shooting day, else
 * `whole` (the name of the folder that was read). What lies within a camera's own folders is the card's inside, and names
 * no roll.
 */
export function rollOf(path: string, whole: string): string {
  const folders = path.split('/').slice(0, -1);
  const inside = folders.findIndex(isCardFolder);
  const around = inside < 0 ? folders : folders.slice(0, inside);
  return around.find((folder) => !dayFolder.test(folder)) ?? whole;
}

/** What a folder that is read is called as a roll: its own name, or that of the card that it lies within; else the store's. */
export function rollOfFolder(folder: string, store: string): string {
  const folders = folder.split('/').filter((name) => name !== '');
  const inside = folders.findIndex(isCardFolder);
  return (inside < 0 ? folders : folders.slice(0, inside)).at(-1) ?? store;
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
