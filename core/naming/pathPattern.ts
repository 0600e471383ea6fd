import { withoutEnd, withoutStart } from '../text/trimmed.ts';
import { fail, ok, type Result } from '../result.ts';
import { folderOf } from '../clip/roll.ts';
import { cutOf, parsePieces, type Piece } from './pieces.ts';

/** How an output's folders and name are made below its deliverable's folder. */
export interface PathPattern {
  /** Folders and name with `/` between, the name last and without an ending: `[source]/[stem]`. */
  pattern: string;
  /** Letters as they are unless said. */
  letters?: 'lower' | 'upper';
  /** What blanks, and characters that some system refuses, are replaced with; refused where absent. */
  replace?: '-' | '_';
  /** Longest whole path below the run's folder, in characters; 400 where absent. */
  limit?: number;
}

/** Folders mirrored, the stem kept: what relinks by itself. */
export const mirrored: PathPattern = { pattern: '[source]/[stem]' };

/** What path patterns are made of. */
export interface PathFacts {
  /** The original's path below what was read. */
  path: string;
  stem: string;
  reel: string | null;
  roll: string;
  day: string | null;
  camera: string | null;
  scene: string | null;
  take: string | null;
  production: string | null;
  deliverable: string;
  raster: string;
  rate: string;
  codec: string;
  /** Day the original was recorded on, `2026-11-20`. */
  date: string;
  /** Place of the clip among those of the run, from 1. */
  counter: number;
}

export const pathPieces = [
  'stem',
  'reel',
  'roll',
  'day',
  'camera',
  'scene',
  'take',
  'production',
  'deliverable',
  'raster',
  'rate',
  'codec',
  'source',
  'date',
  'ending',
  'counter',
] as const;
export type PathPiece = (typeof pathPieces)[number];

/** What each piece stands for, for whoever chooses them. */
export const pathPieceNames: Readonly<Record<PathPiece, string>> = {
  stem: "the original's name",
  reel: 'reel',
  roll: 'roll',
  day: 'shooting day',
  camera: 'camera',
  scene: 'scene',
  take: 'take',
  production: 'production',
  deliverable: 'deliverable',
  raster: 'raster',
  rate: 'frame rate',
  codec: 'codec',
  source: "the original's folders",
  date: 'day of recording',
  ending: "the original's ending",
  counter: 'a counter',
};

export function parsePathPattern(text: string): Result<Piece<PathPiece>[]> {
  const pieces = parsePieces(text, pathPieces, ['source', 'counter']);
  if (!pieces.ok) return pieces;
  if (/(^|\/)\.{1,2}(\/|$)/.test(text) || text.startsWith('/'))
    return fail('A pattern leads downwards only', 'Take . and .. and the first / away');
  const name = text.slice(text.lastIndexOf('/') + 1);
  return name.trim() === '' ? fail('The pattern ends without a name', 'Put [stem] behind the last /') : pieces;
}

function valueOf(fact: PathPiece, place: number | null, facts: PathFacts): string | null {
  switch (fact) {
    // With a number it is one of the folders, counted from the nearest.
    case 'source':
      return (place === null ? folderOf(facts.path) : folderOf(facts.path).split('/').reverse()[place - 1]) || null;
    case 'ending': {
      const name = facts.path.slice(facts.path.lastIndexOf('/') + 1);
      return name.includes('.') ? name.slice(name.lastIndexOf('.') + 1).toLowerCase() : null;
    }
    case 'counter':
      return String(facts.counter).padStart(place ?? 3, '0');
    default:
      return facts[fact];
  }
}

/** Facts become parts of one name: a `/` in them would make folders that nobody asked for. */
function inOneName(fact: PathPiece, value: string | null): string | null {
  return fact === 'source' ? value : (value?.replaceAll('/', '-') ?? null);
}

/** Stands for a fact that is not there until its separators are gone. */
const missing = '\u0000';
const separators = '_-. ';

/** Separators before a fact that is not there go with it, at a name's beginning those behind it. */
function tidied(name: string): string {
  const parts = name.split(/\u0000+/);
  if (parts.length > 1 && parts[0] === '') parts.splice(0, 2, withoutStart(parts[1] ?? '', separators));
  return parts.map((part, index) => (index < parts.length - 1 ? withoutEnd(part, separators) : part)).join('');
}

/** The folders and name that a pattern makes, without an ending. Folders of nothing vanish; a name of nothing fails. */
export function applyPathPattern({ pattern, letters, replace }: PathPattern, facts: PathFacts): Result<string> {
  const pieces = parsePathPattern(pattern);
  if (!pieces.ok) return pieces;
  const made = pieces.value
    .map((piece) =>
      piece.kind === 'text'
        ? piece.text
        : (cutOf(inOneName(piece.fact, valueOf(piece.fact, piece.place, facts)), piece.cut) ?? missing),
    )
    .join('');
  const names = made.split('/').map(tidied);
  const last = names.at(-1) ?? '';
  if (last.trim() === '')
    return fail(
      `${facts.path} gets no name from ${pattern}`,
      'Put [stem] into the name, or say the fact for this clip',
    );
  const kept = names.filter((name) => name !== '');
  const cased =
    letters === 'lower'
      ? kept.map((name) => name.toLowerCase())
      : letters === 'upper'
        ? kept.map((name) => name.toUpperCase())
        : kept;
  return ok((replace ? cased.map((name) => replaced(name, replace)) : cased).join('/'));
}

/** What systems of a team refuse in a name: `<>:"/\\|?*` and control characters, and dots and blanks at its end. */
export const refusedCharacters = /[\u0000-\u001f\u007f<>:"\\|?*]/g;

function replaced(name: string, by: '-' | '_'): string {
  return withoutEnd(name.normalize('NFC').replace(refusedCharacters, by).replace(/\s+/g, by), '. ');
}
