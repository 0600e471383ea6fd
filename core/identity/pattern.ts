import { collisionKey } from '../naming/paths.ts';
import { fail, ok, type Result } from '../result.ts';

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

type Cut = { kind: 'all' } | { kind: 'characters'; from: number; to: number } | { kind: 'part' | 'number'; index: number };
type Piece = { kind: 'text'; text: string } | { kind: 'fact'; fact: Fact; place: number; cut: Cut };
const factNames = ['name', 'folder', 'roll', 'day', 'date', 'timecode', 'hour'] as const;
type Fact = (typeof factNames)[number];

/** A pattern, ready to be applied. */
export type Pattern = readonly Piece[];

const longest = 200;

export function parsePattern(text: string): Result<Pattern> {
  if (text.length > longest) return fail(`A pattern is at most ${longest} characters long`, 'Shorten it');
  const pieces: Piece[] = [];
  let at = 0;
  while (at < text.length) {
    const open = text.indexOf('[', at);
    if (open < 0) {
      if (text.indexOf(']', at) >= 0) return fail('There is a ] without its [', 'Take it away, or open the piece before it');
      pieces.push({ kind: 'text', text: text.slice(at) });
      break;
    }
    if (open > at) pieces.push({ kind: 'text', text: text.slice(at, open) });
    const close = text.indexOf(']', open);
    if (close < 0) return fail('There is a [ without its ]', 'Close the piece, as in [name 1-4]');
    const piece = parsePiece(text.slice(open + 1, close));
    if (!piece.ok) return piece;
    pieces.push(piece.value);
    at = close + 1;
  }
  return ok(pieces);
}

function parsePiece(inside: string): Result<Piece> {
  const words = inside.trim().toLowerCase().split(/\s+/);
  const fact = words.shift() as Fact;
  if (!factNames.includes(fact)) return fail(`[${inside}] is no piece`, `Pieces begin with ${factNames.join(', ')}`);
  let place = 1;
  if (fact === 'folder' && /^\d$/.test(words[0] ?? '')) place = Number(words.shift());
  const [word, number, ...more] = words;
  const range = /^(\d{1,3})(-(\d{1,3})?)?$/.exec(word ?? '');
  if (word === undefined) return ok({ kind: 'fact', fact, place, cut: { kind: 'all' } });
  if (range && number === undefined) {
    const from = Number(range[1]);
    const to = range[2] === undefined ? from : range[3] === undefined ? Infinity : Number(range[3]);
    if (from >= 1 && to >= from) return ok({ kind: 'fact', fact, place, cut: { kind: 'characters', from, to } });
  }
  if ((word === 'part' || word === 'number') && /^\d{1,2}$/.test(number ?? '') && Number(number) >= 1 && more.length === 0) {
    return ok({ kind: 'fact', fact, place, cut: { kind: word, index: Number(number) } });
  }
  return fail(`[${inside}] is no piece`, 'After the fact comes nothing, characters such as 1-4, part 2, or number 1');
}

/** What a pattern makes of one clip's facts; null when a fact or the part asked for is not there. */
export function applyPattern(pattern: Pattern, facts: PatternFacts): string | null {
  let made = '';
  for (const piece of pattern) {
    const text = piece.kind === 'text' ? piece.text : cutOf(valueOf(piece.fact, piece.place, facts), piece.cut);
    if (text === null) return null;
    made += text;
  }
  const trimmed = made.trim();
  return trimmed === '' ? null : trimmed;
}

function valueOf(fact: Fact, place: number, facts: PatternFacts): string | null {
  switch (fact) {
    case 'name': return facts.name;
    case 'folder': return facts.folders[place - 1] ?? null;
    case 'roll': return facts.roll;
    case 'day': return facts.day;
    case 'date': return facts.date;
    case 'timecode': return facts.timecode?.replace(/[:;.]/g, '') ?? null;
    case 'hour': return facts.timecode?.slice(0, 2) ?? null;
  }
}

function cutOf(value: string | null, cut: Cut): string | null {
  if (value === null) return null;
  switch (cut.kind) {
    case 'all': return value;
    case 'characters': return [...value].slice(cut.from - 1, cut.to).join('') || null;
    case 'part': return value.split(/[_\-.\s]+/).filter((part) => part !== '')[cut.index - 1] ?? null;
    case 'number': return value.match(/\d+/g)?.[cut.index - 1] ?? null;
  }
}

/** How many clips of those shown would have the same scene, take and camera as another. */
export function countClashes(clips: readonly { scene: string | null; take: string | null; camera: string | null }[]): number {
  const keys = clips.map((clip) => (clip.scene && clip.take ? collisionKey([clip.scene, clip.take, clip.camera ?? ''].join('\u0000')) : null));
  const counts = new Map<string, number>();
  for (const key of keys) if (key) counts.set(key, (counts.get(key) ?? 0) + 1);
  return keys.filter((key) => key && (counts.get(key) ?? 0) > 1).length;
}
