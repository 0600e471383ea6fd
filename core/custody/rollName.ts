import { isDevice } from '../naming/fold.ts';
import { collisionKey } from '../naming/paths.ts';

/** A roll name as the trade builds it: the camera's letter and a counter, `A001`. */
const lettered = /^([A-Za-z]{1,2})(\d{2,4})$/;

/**
 * Proposes the next roll name of a camera: one more than the highest counter that the production has for its letter,
 * as wide as that. Never one that is taken, in whatever case.
 */
export function nextRollName(camera: string, taken: readonly string[]): string {
  const letter = camera.toUpperCase();
  const numbers = taken.flatMap((name) => {
    const parts = lettered.exec(name);
    return parts?.[1]?.toUpperCase() === letter ? [{ number: Number(parts[2]), width: parts[2]?.length ?? 3 }] : [];
  });
  const highest = numbers.reduce((a, b) => (b.number > a.number ? b : a), { number: 0, width: 3 });
  const keys = new Set(taken.map(collisionKey));
  for (let number = highest.number + 1; ; number += 1) {
    const name = `${letter}${String(number).padStart(highest.width, '0')}`;
    if (!keys.has(collisionKey(name))) return name;
  }
}

/**
 * The camera that a card's own names speak of: the letter that most of its clips begin with, before a roll's digits.
 */
export function cameraOf(stems: readonly string[]): string | null {
  const counts = new Map<string, number>();
  for (const stem of stems) {
    const letter = /^([A-Za-z])\d{3}/.exec(stem)?.[1]?.toUpperCase();
    if (letter) counts.set(letter, (counts.get(letter) ?? 0) + 1);
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}

/** Why a name cannot be a roll's, which becomes a folder on every system; null when it can. */
export function rollNameProblem(name: string): string | null {
  if (!/^[\p{L}\p{N}]([\p{L}\p{N} ._-]*[\p{L}\p{N}_-])?$/u.test(name))
    return 'letters, digits, blanks, dots, dashes and underscores only, and no dot or blank at either end';
  if (new TextEncoder().encode(name).length > 60) return 'at most 60 bytes';
  if (isDevice(name)) return 'some systems keep this name for themselves';
  return null;
}
