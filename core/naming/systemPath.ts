import { withoutEnd } from '../text/trimmed.ts';
/** Kinds of machines that a team works on. */
export const memberSystems = ['windows', 'mac', 'linux'] as const;
export type MemberSystem = (typeof memberSystems)[number];

export const systemNames: Readonly<Record<MemberSystem, string>> = { windows: 'Windows', mac: 'macOS', linux: 'Linux' };

/**
 * A place on a store as a machine of some system writes it: below where the store lies there, with that system's
 * separators.
 */
export function systemPath(root: string, path: string, system: MemberSystem): string {
  const separator = system === 'windows' ? '\\' : '/';
  const below = path
    .split('/')
    .filter((name) => name !== '')
    .join(separator);
  const base = withoutEnd(root, '\\/');
  if (below === '') return root;
  return `${base}${separator}${below}`;
}

/** Which system a browser says that it runs on. */
export function systemOf(userAgent: string): MemberSystem {
  return /Windows/i.test(userAgent) ? 'windows' : /Mac OS|Macintosh|iPhone|iPad/i.test(userAgent) ? 'mac' : 'linux';
}
