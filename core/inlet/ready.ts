import type { ManifestEntry } from '../custody/manifest.ts';
import { isSidecar } from '../clip/formats.ts';
import { folderOf, stemOf } from '../clip/roll.ts';
import { isTemporaryName } from './temporaryNames.ts';
import type { Thing } from './things.ts';
import type { Watched } from './watched.ts';

/** When an inlet takes something up. */
export interface ArrivalRules {
  /** Milliseconds for which nothing of it must change. */
  quietMs: number;
  /** The ending of files that are laid beside what is whole, such as `done`; null where nobody lays any. */
  partner: { ending: string; needed: boolean } | null;
}

/** Why something is not taken up yet. */
export type Waiting =
  | { kind: 'changing'; path: string }
  | { kind: 'temporary'; path: string }
  | { kind: 'open'; path: string }
  | { kind: 'empty'; path: string }
  | { kind: 'partner'; ending: string }
  | { kind: 'manifest'; missing: number; of: number };

export type Readiness =
  | { ready: true; by: 'quiet' | 'manifest' | 'partner' }
  /** `untilMs`: when it is ready if nothing more happens, by the clock of `sameSinceMs`; null where that does not help. */
  | { ready: false; why: Waiting; untilMs: number | null };

/** What is known of something that waits, beside its own files. */
export interface Surroundings {
  files: ReadonlyMap<string, Watched>;
  /** The size of what lies at a path, whether it waits or was dealt with; null where nothing does. */
  sizeAt: (path: string) => number | null;
  /** Temporary files that stand for one of its own. */
  temporary: readonly string[];
  /** What a manifest that came with it states, below the inlet's folder; null where none came. */
  stated: readonly Pick<ManifestEntry, 'path' | 'sizeBytes'>[] | null;
  /** Paths of those of its files that are open to be written, as far as this machine can tell. */
  open: ReadonlySet<string>;
  nowMs: number;
}

/** For how long a manifest's missing files are waited for, in quiet times: then what is there goes on without them. */
const patienceForMissing = 20;

function endsWith(path: string, ending: string): boolean {
  return path.toLowerCase().endsWith(`.${ending.toLowerCase().replace(/^\./, '')}`);
}

/** Whether a file is laid beside others to say that they are whole. */
export function isPartner(path: string, { partner }: ArrivalRules): boolean {
  return partner !== null && endsWith(path, partner.ending);
}

/** Where partners of a file, or of a structure's folder, may lie: behind its whole name, or behind its stem. */
export function partnerPaths(path: string, { partner }: ArrivalRules): string[] {
  if (!partner) return [];
  const ending = partner.ending.replace(/^\./, '');
  const stem = (folderOf(path) === '' ? '' : `${folderOf(path)}/`) + stemOf(path);
  return [...new Set([path, stem])].flatMap((name) =>
    [ending, ending.toLowerCase(), ending.toUpperCase()].map((written) => `${name}.${written}`),
  );
}

/** Whether each file of it that is no sidecar has its partner, or a structure's folder has. */
function hasPartners({ key, kind, paths }: Thing, rules: ArrivalRules, sizeAt: Surroundings['sizeAt']): boolean {
  if (!rules.partner) return false;
  const laid = (path: string): boolean => partnerPaths(path, rules).some((partner) => sizeAt(partner) !== null);
  const clips = paths.filter((path) => !isSidecar(path));
  return (kind === 'structure' && laid(key)) || (clips.length > 0 && clips.every(laid));
}

/**
 * How many of the files that a manifest states are missing, or of another size; null where it states no sizes. Hidden
 * ones are nobody's clips, and not looked for.
 */
function missingOf(stated: NonNullable<Surroundings['stated']>, sizeAt: Surroundings['sizeAt']): number | null {
  const seen = stated.filter(({ path }) => !path.split('/').some((name) => name.startsWith('.')));
  if (seen.length === 0 || seen.some(({ sizeBytes }) => sizeBytes === null)) return null;
  return seen.filter(({ path, sizeBytes }) => sizeAt(path) !== sizeBytes).length;
}

/**
 * Whether something may be taken up: when nothing of it changed for the quiet time, or at once when a manifest that
 * states sizes, or partner files, say that it is whole. What is open to be written, empty, or stands beside its own
 * temporary name never is.
 */
export function readinessOf(thing: Thing, rules: ArrivalRules, around: Surroundings): Readiness {
  const own = thing.paths.flatMap((path) => around.files.get(path) ?? []);
  const waits = (why: Waiting, untilMs: number | null = null): Readiness => ({ ready: false, why, untilMs });
  const [temporary] = [...around.temporary, ...thing.paths.filter(isTemporaryName)];
  if (temporary !== undefined) return waits({ kind: 'temporary', path: temporary });
  const open = own.find(({ path }) => around.open.has(path));
  if (open) return waits({ kind: 'open', path: open.path });
  const missing = around.stated ? missingOf(around.stated, around.sizeAt) : null;
  if (missing === 0) return { ready: true, by: 'manifest' };
  if (hasPartners(thing, rules, around.sizeAt)) return { ready: true, by: 'partner' };
  const last = own.reduce<Watched | undefined>((a, b) => (a && a.sameSinceMs >= b.sameSinceMs ? a : b), undefined);
  if (!last) return waits({ kind: 'changing', path: thing.key });
  const quietAt = last.sameSinceMs + rules.quietMs;
  if (around.nowMs < quietAt) return waits({ kind: 'changing', path: last.path }, quietAt);
  if (thing.kind === 'files') {
    const empty = own.find(({ path, sizeBytes }) => sizeBytes === 0 && !isSidecar(path));
    if (empty) return waits({ kind: 'empty', path: empty.path });
  }
  if (rules.partner?.needed === true) return waits({ kind: 'partner', ending: rules.partner.ending });
  const untilMissing = last.sameSinceMs + rules.quietMs * patienceForMissing;
  if (missing !== null && around.nowMs < untilMissing)
    return waits({ kind: 'manifest', missing, of: around.stated?.length ?? 0 }, untilMissing);
  return { ready: true, by: 'quiet' };
}

/** Why something waits, in words for a line of a list. */
export function sayWaiting(why: Waiting): string {
  switch (why.kind) {
    case 'changing':
      return `${why.path} changed a moment ago`;
    case 'temporary':
      return `${why.path} is still being copied under a temporary name`;
    case 'open':
      return `${why.path} is open and may still be written to`;
    case 'empty':
      return `${why.path} is empty`;
    case 'partner':
      return `no file with the ending .${why.ending.replace(/^\./, '')} lies beside it yet`;
    case 'manifest':
      return `${why.missing} of the ${why.of} files that its manifest states are not there yet`;
  }
}
