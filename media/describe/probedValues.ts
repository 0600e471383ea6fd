import { parseRational, type Rational } from '@relay/core/time/rational';

/** Values as ffprobe prints them. */

/** A number; null where there is none. */
export function numberOf(text: string | undefined): number | null {
  const value = Number(text);
  return text !== undefined && Number.isFinite(value) ? value : null;
}

/** A fraction as ffprobe prints it; null for `0/0`, `N/A` and the like. */
export function fraction(text: string | undefined): Rational | null {
  const parsed = text === undefined ? null : parseRational(text);
  return parsed?.ok && parsed.value.num > 0 ? parsed.value : null;
}

/** A word that says something; null for those that say that nothing is known. */
export function stated(tag: string | undefined): string | null {
  return tag === undefined || tag === 'unknown' || tag === 'unspecified' || tag === 'reserved' ? null : tag;
}
