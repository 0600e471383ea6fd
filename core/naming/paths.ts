import { folded } from './fold.ts';
import { withoutEnd, withoutStart } from '../text/trimmed.ts';
import type { Problem } from '../result.ts';

/** The longest name that the file systems of a team take, in bytes of UTF-8. */
export const longestNameBytes = 255;

/** Whether a name has more bytes of UTF-8 than file systems take: no letter of 16 bits has more than three. */
export function isTooLong(name: string): boolean {
  return name.length * 3 > longestNameBytes && new TextEncoder().encode(name).length > longestNameBytes;
}

/** Why a path cannot be made safely; null when it can. */
export function pathProblem(path: string): Problem | null {
  for (const name of path.split('/')) {
    if (name === '' || name === '.' || name === '..') {
      return { what: `${path} leaves its folder`, remedy: 'Give the original a plain name and read it again' };
    }
    if (/[\u0000-\u001f\u007f]/.test(name)) {
      return {
        what: `${JSON.stringify(path)} holds a control character`,
        remedy: 'Rename a copy of the original and read it again',
      };
    }
    if (isTooLong(name)) {
      return {
        what: `${name} is longer than ${longestNameBytes} bytes`,
        remedy: 'Shorten the name in a copy of the original',
      };
    }
  }
  return null;
}

/** The form in which two paths are one on some system of a team. */
export function collisionKey(path: string): string {
  return folded(path);
}

/**
 * A folder's name made of words that people typed: what systems refuse is left out, blanks become dashes. Empty where
 * nothing is left.
 */
export function folderName(words: string): string {
  const plain = words
    .normalize('NFC')
    .replace(/[\u0000-\u001f\u007f<>:"/\\|?*]/g, '')
    .trim()
    .replace(/\s+/g, '-');
  return withoutEnd(withoutStart(plain, '.'), '. ').slice(0, 60);
}
