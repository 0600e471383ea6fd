import { isDevice } from './fold.ts';
import { collisionKey, isTooLong, longestNameBytes } from './paths.ts';
import { refusedCharacters } from './pathPattern.ts';

/** A path that a run would make, and what of. */
export interface WantedPath {
  path: string;
  /** The longest path in it, where it is a folder of files. */
  longest?: string;
  original: string;
  deliverable: string;
}

export type ClashKind =
  | 'same path'
  | 'same but for case or accents'
  | 'name refused by some systems'
  | 'name too long'
  | 'path too long'
  | 'a file where a folder is wanted';

/** Why a path cannot be made. `others` are the originals that want it too. */
export interface Clash extends WantedPath {
  kind: ClashKind;
  others: string[];
  what: string;
}

/** Characters of a path that the systems of a team take. */
const usualLimit = 400;

/** Why some system of a team would refuse a path; null when none would. */
export function refusedBy(path: string, limit = usualLimit): { kind: ClashKind; what: string } | null {
  if (path.length > limit)
    return { kind: 'path too long', what: `${path} has ${path.length} characters, more than ${limit}` };
  for (const name of path.split('/')) {
    const matched = name.match(refusedCharacters);
    const found = matched ? [...new Set(matched)] : [];
    if (found.length > 0)
      return {
        kind: 'name refused by some systems',
        what: `${JSON.stringify(name)} holds ${found.map((one) => (one < ' ' || one === '\u007f' ? 'a control character' : one)).join(' ')}`,
      };
    if (/[. ]$/.test(name))
      return {
        kind: 'name refused by some systems',
        what: `${JSON.stringify(name)} ends with a ${name.endsWith('.') ? 'dot' : 'blank'}`,
      };
    if (isDevice(name))
      return { kind: 'name refused by some systems', what: `${name} is a device's name on some systems` };
    if (isTooLong(name)) return { kind: 'name too long', what: `${name} is longer than ${longestNameBytes} bytes` };
  }
  return null;
}

/**
 * Everything that keeps a run's paths from being made: two on one path, also on systems that ignore case or accents'
 * forms; names that some system refuses; a name that is also wanted as a folder. All sides of a clash are named.
 */
export function findClashes(wanted: readonly WantedPath[], limit?: number): Clash[] {
  const byKey = new Map<string, WantedPath[]>();
  for (const one of wanted) {
    const key = collisionKey(one.path);
    const there = byKey.get(key);
    if (there) there.push(one);
    else byKey.set(key, [one]);
  }
  const folders = new Map<string, WantedPath>();
  for (const one of wanted)
    for (let slash = one.path.lastIndexOf('/'); slash > 0; slash = one.path.lastIndexOf('/', slash - 1))
      folders.set(collisionKey(one.path.slice(0, slash)), one);
  return wanted.flatMap((one): Clash[] => {
    const refused = refusedBy(one.longest ?? one.path, limit);
    if (refused) return [{ ...one, ...refused, others: [] }];
    const key = collisionKey(one.path);
    const others = (byKey.get(key) ?? []).filter((other) => other !== one);
    if (others.length > 0) {
      const same = others.every((other) => other.path === one.path);
      return [
        {
          ...one,
          kind: same ? 'same path' : 'same but for case or accents',
          others: [...new Set(others.map((other) => other.original))],
          what: `${one.path} would also be made ${same ? '' : `as ${others[0]?.path ?? ''} `}from ${[...new Set(others.map((other) => other.original))].join(', ')}`,
        },
      ];
    }
    const inside = folders.get(key);
    return inside
      ? [
          {
            ...one,
            kind: 'a file where a folder is wanted',
            others: [inside.original],
            what: `${one.path} is wanted as a file, and as a folder for ${inside.path}`,
          },
        ]
      : [];
  });
}
