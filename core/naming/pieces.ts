import { fail, ok, type Result } from '../result.ts';

/**
 * A part of a fact: all of it, characters of it, the nth part between `_`, `-`, `.` and blanks, or its nth run of
 * digits.
 */
export type Cut =
  { kind: 'all' } | { kind: 'characters'; from: number; to: number } | { kind: 'part' | 'number'; index: number };

/**
 * One piece of a pattern: text as it stands, or a fact. `place` is the number that stands behind those that take one;
 * null where none does.
 */
export type Piece<F extends string> =
  { kind: 'text'; text: string } | { kind: 'fact'; fact: F; place: number | null; cut: Cut };

const longest = 200;

/**
 * Reads a pattern: text in which pieces in square brackets stand for facts, `[name]`, `[name 1-4]`, `[name part 2]`,
 * `[name number 1]`. Those in `placed` take a number of their own first, as in `[folder 2]`.
 */
export function parsePieces<F extends string>(
  text: string,
  names: readonly F[],
  placed: readonly F[],
): Result<Piece<F>[]> {
  if (text.length > longest) return fail(`A pattern is at most ${longest} characters long`, 'Shorten it');
  const pieces: Piece<F>[] = [];
  let at = 0;
  while (at < text.length) {
    const open = text.indexOf('[', at);
    const shut = text.indexOf(']', at);
    if (shut >= 0 && (open < 0 || shut < open))
      return fail('There is a ] without its [', 'Take it away, or open the piece before it');
    if (open < 0) {
      pieces.push({ kind: 'text', text: text.slice(at) });
      break;
    }
    if (open > at) pieces.push({ kind: 'text', text: text.slice(at, open) });
    if (shut < 0) return fail('There is a [ without its ]', `Close the piece, as in [${names[0] ?? 'name'} 1-4]`);
    const piece = parsePiece(text.slice(open + 1, shut), names, placed);
    if (!piece.ok) return piece;
    pieces.push(piece.value);
    at = shut + 1;
  }
  return ok(pieces);
}

function parsePiece<F extends string>(inside: string, names: readonly F[], placed: readonly F[]): Result<Piece<F>> {
  const words = inside.trim().toLowerCase().split(/\s+/);
  const fact = words.shift() as F;
  if (!names.includes(fact)) return fail(`[${inside}] is no piece`, `Pieces begin with ${names.join(', ')}`);
  let place: number | null = null;
  if (placed.includes(fact) && /^\d$/.test(words[0] ?? '')) place = Number(words.shift());
  const [word, number, ...more] = words;
  const range = /^(\d{1,3})(-(\d{1,3})?)?$/.exec(word ?? '');
  if (word === undefined) return ok({ kind: 'fact', fact, place, cut: { kind: 'all' } });
  if (range && number === undefined) {
    const from = Number(range[1]);
    const to = range[2] === undefined ? from : range[3] === undefined ? Infinity : Number(range[3]);
    if (from >= 1 && to >= from) return ok({ kind: 'fact', fact, place, cut: { kind: 'characters', from, to } });
  }
  if (
    (word === 'part' || word === 'number') &&
    /^\d{1,2}$/.test(number ?? '') &&
    Number(number) >= 1 &&
    more.length === 0
  ) {
    return ok({ kind: 'fact', fact, place, cut: { kind: word, index: Number(number) } });
  }
  return fail(`[${inside}] is no piece`, 'After the fact comes nothing, characters such as 1-4, part 2, or number 1');
}

/** The part of a fact that is asked for; null when it is not there. */
export function cutOf(value: string | null, cut: Cut): string | null {
  if (value === null) return null;
  switch (cut.kind) {
    case 'all':
      return value;
    case 'characters':
      return [...value].slice(cut.from - 1, cut.to).join('') || null;
    case 'part':
      return value.split(/[_\-.\s]+/).filter((part) => part !== '')[cut.index - 1] ?? null;
    case 'number':
      return value.match(/\d+/g)?.[cut.index - 1] ?? null;
  }
}
