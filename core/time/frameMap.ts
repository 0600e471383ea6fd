import { fail, ok, type Result } from '../result.ts';
import { parseRational, toNumber, type Rational } from './rational.ts';

/**
 * Which frames of the original an output's frames show: exact, both ways, and small however long the clip is. Frames
 * are counted from 0 on both sides.
 */
export type FrameMap =
  /** Every frame once. */
  | { kind: 'every' }
  /**
   * Frames dropped or repeated: each output frame shows what the original shows at that moment. `ratio` is the output's
   * rate over the original's.
   */
  | { kind: 'hold'; ratio: Rational }
  /** Each output frame mixed of the two that are nearest in time. */
  | { kind: 'blend'; ratio: Rational }
  /** A frame for each field: two of the output for one of the original. */
  | { kind: 'fields' }
  /**
   * 2:3 pulldown taken out: four for five. `phase` is the place of the original's first frame in the pattern AA BB BC
   * CD DD.
   */
  | { kind: 'pulldown-out'; phase: number }
  /** 2:3 pulldown put in: five for four. */
  | { kind: 'pulldown-in' }
  /**
   * By the time of each original frame, in output frames: a varying rate made constant. Times ascend; runs of equal
   * steps are folded when written.
   */
  | { kind: 'times'; places: readonly number[] };

/** What one output frame shows: a frame of the original, and a second one where two are mixed or interwoven. */
export interface Shown {
  frame: number;
  /** The other frame, and its share: of the light when blended, one half when fields of two are woven. */
  other?: { frame: number; share: number };
}

/**
 * The original's frame at a phase of the 2:3 pattern that holds the top and the bottom field of film frame `film` (0 to
 * 3).
 */
const filmFields: readonly { top: number; bottom: number }[] = [
  { top: 0, bottom: 0 },
  { top: 1, bottom: 1 },
  { top: 3, bottom: 2 },
  { top: 4, bottom: 4 },
];

/** Frames of the original that come before the first whole film frame, and the film frame that begins there. */
function filmStart(phase: number): { film: number; offset: number } {
  // A clip that begins in the middle of the pattern has lost one field of the film frame before.
  const film = [0, 1, 2, 3, 3][phase] as number;
  return { film, offset: phase };
}

/** Film frames that are whole in `frames` frames of a 2:3 pattern beginning at `phase`. */
export function filmFrames(frames: number, phase: number): number {
  let count = 0;
  for (let n = 0; ; n += 1) {
    const fields = filmFieldsOf(n, phase);
    if (Math.max(fields.top, fields.bottom) >= frames) return count;
    count += 1;
    if (count > frames) return count;
  }
}

/** The original's frames that hold the fields of the `n`th whole film frame. */
export function filmFieldsOf(n: number, phase: number): { top: number; bottom: number } {
  const { film, offset } = filmStart(phase);
  const index = film + n;
  const fields = filmFields[index % 4] as { top: number; bottom: number };
  const base = Math.floor(index / 4) * 5 - offset;
  return { top: base + fields.top, bottom: base + fields.bottom };
}

/** The original frame that is on screen at the moment of output frame `n`. */
function heldFrame(n: number, ratio: Rational): number {
  return Number((BigInt(n) * BigInt(ratio.den)) / BigInt(ratio.num));
}

/** Of ascending places, the index of the last that is not after `n`; 0 where none is. */
function lastNotAfter(places: readonly number[], n: number): number {
  let [low, high] = [0, places.length - 1];
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if ((places[middle] as number) <= n) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** What frame `n` of the output shows. `frames` are the original's. */
export function shownBy(map: FrameMap, n: number, frames: number): Shown {
  const within = (frame: number): number => Math.min(frames - 1, Math.max(0, frame));
  switch (map.kind) {
    case 'every':
      return { frame: within(n) };
    case 'hold':
      return { frame: within(heldFrame(n, map.ratio)) };
    case 'blend': {
      const [top, bottom] = [BigInt(n) * BigInt(map.ratio.den), BigInt(map.ratio.num)];
      const first = Number(top / bottom);
      const share = Number(top % bottom) / Number(bottom);
      return share === 0 || first + 1 >= frames
        ? { frame: within(first) }
        : { frame: first, other: { frame: first + 1, share } };
    }
    case 'fields':
      return { frame: within(Math.floor(n / 2)) };
    case 'pulldown-out': {
      const { top, bottom } = filmFieldsOf(n, map.phase);
      return top === bottom
        ? { frame: within(top) }
        : { frame: within(Math.min(top, bottom)), other: { frame: within(Math.max(top, bottom)), share: 0.5 } };
    }
    case 'pulldown-in': {
      const base = Math.floor(n / 5) * 4;
      const [top, bottom] = [
        [0, 0],
        [1, 1],
        [1, 2],
        [2, 3],
        [3, 3],
      ][n % 5] as [number, number];
      return top === bottom || base + bottom >= frames
        ? { frame: within(base + top) }
        : { frame: within(base + top), other: { frame: within(base + bottom), share: 0.5 } };
    }
    case 'times':
      return { frame: lastNotAfter(map.places, n) };
  }
}

/** The output frames that show original frame `m`, first and last; null where none does. */
export function showing(
  map: FrameMap,
  m: number,
  frames: number,
  outputs: number,
): { first: number; last: number } | null {
  // What is shown never goes back, so the first and last are found by halving.
  const covers = (n: number): { from: number; to: number } => {
    const { frame, other } = shownBy(map, n, frames);
    return { from: frame, to: other ? other.frame : frame };
  };
  let [low, high] = [0, outputs];
  while (low < high) {
    const middle = Math.floor((low + high) / 2);
    if (covers(middle).to >= m) high = middle;
    else low = middle + 1;
  }
  if (low >= outputs || covers(low).from > m) return null;
  let last = low;
  let end = outputs;
  let from = low;
  while (from < end) {
    const middle = Math.floor((from + end) / 2);
    if (covers(middle).from <= m) {
      last = middle;
      from = middle + 1;
    } else end = middle;
  }
  return { first: low, last };
}

/**
 * Original frames that no output frame shows, and output frames that show what the one before them showed: counted, not
 * listed.
 */
export function mapCounts(map: FrameMap, frames: number, outputs: number): { dropped: number; repeated: number } {
  let [used, repeated, before] = [0, 0, -1];
  for (let n = 0; n < outputs; n += 1) {
    const { frame, other } = shownBy(map, n, frames);
    if (frame === before && !other) repeated += 1;
    for (const one of other ? [frame, other.frame] : [frame]) {
      if (one > before) {
        used += 1;
        before = one;
      }
    }
  }
  return {
    dropped: map.kind === 'every' ? Math.max(0, frames - outputs) : Math.max(0, frames - used),
    repeated: map.kind === 'fields' ? 0 : repeated,
  };
}

/** The map of a varying rate: each frame's second, from the first on, to the nearest frame of an even rate. */
export function mapByTimes(seconds: readonly number[], rate: Rational): FrameMap {
  const begin = seconds[0] ?? 0;
  // Times are on a clock's whole ticks; a millionth keeps halves of them from falling by a float's last digit.
  return { kind: 'times', places: seconds.map((second) => Math.floor((second - begin) * toNumber(rate) + 0.5 + 1e-6)) };
}

/** A map as text that a machine reads: `every`, `hold 4/5`, `pulldown-out 3`, and for times `places +1*40 +2 +1*7`. */
export function writeMap(map: FrameMap): string {
  switch (map.kind) {
    case 'every':
    case 'fields':
    case 'pulldown-in':
      return map.kind;
    case 'hold':
    case 'blend':
      return `${map.kind} ${map.ratio.num}/${map.ratio.den}`;
    case 'pulldown-out':
      return `pulldown-out ${map.phase}`;
    case 'times': {
      const words: string[] = [];
      let [step, count] = [NaN, 0];
      const put = (): void => {
        if (count > 0) words.push(`+${step}${count > 1 ? `*${count}` : ''}`);
      };
      for (let i = 1; i < map.places.length; i += 1) {
        const now = (map.places[i] as number) - (map.places[i - 1] as number);
        if (now === step) count += 1;
        else {
          put();
          [step, count] = [now, 1];
        }
      }
      put();
      return `places ${words.join(' ')}`;
    }
  }
}

/** Frames of a map of times are no more than these: days of them. */
const mostPlaces = 50_000_000;

/** Places out of their steps, `+1*40 +2`; null where they are no such. */
function readPlaces(words: readonly string[]): number[] | null {
  const places = [0];
  for (const word of words) {
    const [, step, count = '1'] = /^\+(\d{1,9})(?:\*(\d{1,9}))?$/.exec(word) ?? [];
    if (step === undefined || places.length + Number(count) > mostPlaces) return null;
    for (let n = 0; n < Number(count); n += 1) places.push((places.at(-1) as number) + Number(step));
  }
  return places;
}

/** Reads what {@link writeMap} wrote. */
export function readMap(text: string): Result<FrameMap> {
  const [kind = '', ...words] = text.trim().split(/\s+/);
  const wrong = fail(
    `${JSON.stringify(text.trim().slice(0, 40))} is no frame map`,
    'Take the column frame map of a relink sheet: every, hold 4/5, blend 25/24, fields, pulldown-out 3, pulldown-in, places +1*40 +2',
  );
  switch (kind) {
    case 'every':
    case 'fields':
    case 'pulldown-in':
      return words.length === 0 ? ok({ kind }) : wrong;
    case 'hold':
    case 'blend': {
      const ratio = parseRational(words[0] ?? '');
      return words.length === 1 && ratio.ok && ratio.value.num > 0 ? ok({ kind, ratio: ratio.value }) : wrong;
    }
    case 'pulldown-out':
      return words.length === 1 && /^[0-4]$/.test(words[0] ?? '') ? ok({ kind, phase: Number(words[0]) }) : wrong;
    case 'places': {
      const places = readPlaces(words);
      return places ? ok({ kind: 'times', places }) : wrong;
    }
    default:
      return wrong;
  }
}
