import { csvLine } from '../identity/csv.ts';
import type { Cut, CutEvent, Span } from '../cut/cut.ts';
import { framesNeeded } from '../cut/needed.ts';
import { framesWithin } from '../cut/retime.ts';
import { showing, type FrameMap } from '../time/frameMap.ts';
import { divide, toNumber, type Rational } from '../time/rational.ts';
import { timecodeToFrames } from '../time/timecode.ts';
import type { StartTimecode } from '../clip/description.ts';
import type { Match } from './match.ts';

/** A file that was pulled: what of which original it shows. */
export interface PulledFile {
  /** The original's place among those that the cut was matched against. */
  original: number;
  /** As lists are to name it. */
  path: string;
  reel: string | null;
  timecode: StartTimecode | null;
  rate: Rational;
  frames: number;
  map: FrameMap;
  /** The original's frames that it was made from. */
  taken: Span;
}

/** An event on a pulled file. */
export interface Swapped {
  /** The file's place among those that were pulled. */
  file: number;
  /** Its first frame that the event shows, from 0. */
  at: number;
  /** The original's frame that this one is to show. */
  of: number;
}

export interface Swap {
  /** The cut on the pulled files; events that none has are as they were. */
  cut: Cut;
  /** Event by event; null for those that are as they were. */
  events: (Swapped | null)[];
  /** Events that should be on a pulled file and are not, and why. */
  left: { event: number; why: string }[];
  /** What a path of before becomes. */
  paths: { low: string; high: string; original: number }[];
}

/** Frames of a file whose clock is `to` in the time of `frames` of one whose clock is `from`. */
function atClock(frames: number, from: Rational, to: Rational): number {
  const ratio = divide(to, from);
  return ratio.num === ratio.den ? frames : Math.round(frames * toNumber(ratio));
}

function nameOf(path: string): string {
  const name = path.slice(path.lastIndexOf('/') + 1);
  const dot = name.lastIndexOf('.');
  return dot > 0 ? name.slice(0, dot) : name;
}

/** First of all the file that has most beside what is needed. */
function roomiest(files: readonly PulledFile[], { original, frames }: Match): number {
  let best = -1;
  for (const [index, { original: of, taken }] of files.entries()) {
    if (of !== original || !frames || taken.from > frames.from || taken.to < frames.to) continue;
    const known = files[best];
    if (!known || taken.to - taken.from > known.taken.to - known.taken.from) best = index;
  }
  return best;
}

function swapEvent(
  event: CutEvent,
  needed: Span,
  match: Match & { frames: Span },
  files: readonly PulledFile[],
): { event: CutEvent; swapped: Swapped } | string {
  const index = roomiest(files, match);
  const file = files[index];
  const shown = event.source.frames;
  if (!file || !shown) return 'nothing was pulled that has all of its frames';
  const { taken, map, rate, frames, timecode } = file;
  const made = showing(map, match.frames.from - taken.from, taken.to - taken.from, frames);
  if (!made) return `its first frame is not in ${file.path}, whose frames were dropped or mixed`;
  const { source } = event;
  const first = timecode ? timecodeToFrames(timecode.start, rate) : null;
  const base = first?.ok ? first.value : 0;
  const lead = atClock(shown.from - needed.from, source.rate, rate);
  const at = made.first + lead;
  const length = framesWithin(shown.to - shown.from, divide(rate, source.rate));
  // What was made of an original that is cut short may be shorter than what was taken.
  if (at < 0 || at + length > frames) return `${file.path} ends before all of its frames`;
  return {
    swapped: { file: index, at, of: match.frames.from + lead },
    event: {
      ...event,
      source: {
        ...source,
        reel: file.reel ?? source.reel,
        clip: nameOf(file.path),
        file: file.path,
        rate,
        dropFrame: timecode?.dropFrame ?? false,
        frames: { from: base + at, to: base + at + length },
        labels: null,
        available: { from: base, to: base + frames },
      },
    },
  };
}

/**
 * A cut on the files that were pulled for it: each event names the file that has all of its frames, by reel, name, path
 * and that file's own timecode. `matches` are the cut's events against the originals.
 */
export function swapped(cut: Cut, matches: readonly (Match | null)[], files: readonly PulledFile[]): Swap {
  const needed = framesNeeded(cut);
  const swap: Swap = { cut, events: [], left: [], paths: [] };
  const known = new Set<string>();
  const events = cut.events.map((event, index): CutEvent => {
    const match = matches[index];
    const frames = needed[index];
    swap.events.push(null);
    if (!match) return event;
    const made =
      match.frames && frames
        ? swapEvent(event, frames, { ...match, frames: match.frames }, files)
        : 'it was found in no original';
    if (typeof made === 'string') {
      swap.left.push({ event: index, why: made });
      return event;
    }
    swap.events[index] = made.swapped;
    const { original, path: high } = files[made.swapped.file] as PulledFile;
    const low = event.source.file ?? match.output?.path ?? event.source.clip ?? event.source.reel ?? '';
    if (!known.has(`${low}\n${high}`)) {
      known.add(`${low}\n${high}`);
      swap.paths.push({ low, high, original });
    }
    return made.event;
  });
  return { ...swap, cut: { ...cut, events } };
}

/** What every path of before becomes, as a table: what the list called it, the file that was pulled, its original. */
export function pathMapCsv({ paths }: Swap, originals: readonly { path: string }[]): string {
  const lines = paths.map(({ low, high, original }) => csvLine([low, high, originals[original]?.path ?? '']));
  return `${[csvLine(['low', 'high', 'original']), ...lines].join('\r\n')}\r\n`;
}
