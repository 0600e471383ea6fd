import { collisionKey } from '../naming/paths.ts';
import { cutOf, parsePieces, type Piece } from '../naming/pieces.ts';
import type { Result } from '../result.ts';

/**
 * Takes identity from what is there already. A pattern is text in which pieces in square brackets stand for a part of
 * a fact: `[name 1-4]` the first four characters of the file name, `[name part 2]` its second part between `_`, `-`,
 * `.` or blanks, `[name number 1]` its first run of digits, `[folder]` the folder it lies in and `[folder 2]` the one
 * above, `[roll]`, `[day]`, `[date]` (2026-11-20), `[timecode]` (10021108), `[hour]`. All but text outside brackets
 * may be cut in the same three ways.
 */
export interface PatternFacts {
  name: string;
  /** Folders from the nearest outwards. */
  folders: readonly string[];
  roll: string;
  day: string | null;
  /** ISO date. */
  date: string | null;
  timecode: string | null;
}

const factNames = ['name', 'folder', 'roll', 'day', 'date', 'timecode', 'hour'] as const;
type Fact = (typeof factNames)[number];

/** A pattern, ready to be applied. */
export type Pattern = readonly Piece<Fact>[];

export function parsePattern(text: string): Result<Pattern> {
  return parsePieces(text, factNames, ['folder']);
}

/** What a pattern makes of one clip's facts; null when a fact or the part asked for is not there. */
export function applyPattern(pattern: Pattern, facts: PatternFacts): string | null {
  let made = '';
  for (const piece of pattern) {
    const text = piece.kind === 'text' ? piece.text : cutOf(valueOf(piece.fact, piece.place ?? 1, facts), piece.cut);
    if (text === null) return null;
    made += text;
  }
  const trimmed = made.trim();
  return trimmed === '' ? null : trimmed;
}

function valueOf(fact: Fact, place: number, facts: PatternFacts): string | null {
  switch (fact) {
    case 'name':
      return facts.name;
    case 'folder':
      return facts.folders[place - 1] ?? null;
    case 'roll':
      return facts.roll;
    case 'day':
      return facts.day;
    case 'date':
      return facts.date;
    case 'timecode':
      return facts.timecode?.replace(/[:;.]/g, '') ?? null;
    case 'hour':
      return facts.timecode?.slice(0, 2) ?? null;
  }
}

/** How many clips of those shown would have the same scene, take and camera as another. */
export function countClashes(
  clips: readonly { scene: string | null; take: string | null; camera: string | null }[],
): number {
  const keys = clips.map((clip) =>
    clip.scene && clip.take ? collisionKey([clip.scene, clip.take, clip.camera ?? ''].join('\u0000')) : null,
  );
  const counts = new Map<string, number>();
  for (const key of keys) if (key) counts.set(key, (counts.get(key) ?? 0) + 1);
  return keys.filter((key) => key && (counts.get(key) ?? 0) > 1).length;
}
