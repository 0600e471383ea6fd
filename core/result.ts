/** What may fail in core is returned, not thrown: a value, or a problem that says what to do about it. */
export type Result<T> = { ok: true; value: T } | { ok: false; problem: Problem };

/**
 * What code asks about, where it does: never the words. *stalled*: nothing moved, and it was ended. *original gone*,
 * *original changed*: since it was read. *no such folder*: what it would lie in is there.
 */
export const problemKinds = [
  'stalled',
  'disk full',
  'not writable',
  'original gone',
  'original changed',
  'no such folder',
] as const;
export type ProblemKind = (typeof problemKinds)[number];

/** Something that went wrong, in words for the person who has to act on it. */
export interface Problem {
  /** What happened, naming the file where there is one. */
  what: string;
  /** What to do about it. */
  remedy: string;
  kind?: ProblemKind;
}

export function ok<T>(value: T): Result<T> {
  return { ok: true, value };
}

export function fail<T = never>(what: string, remedy: string): Result<T> {
  return { ok: false, problem: { what, remedy } };
}

/** The value, or an Error carrying the problem's words: for edges where a failure cannot be passed on. */
export function unwrap<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  throw new Error(`${result.problem.what}. ${result.problem.remedy}`);
}
