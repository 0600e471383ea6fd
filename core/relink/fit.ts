import type { CutSource, Span } from '../cut/cut.ts';
import { labelFrames } from '../cut/labels.ts';
import { nominalFramesPerSecond } from '../time/rate.ts';
import { divide, multiply, scaleToInteger, toNumber, type Rational } from '../time/rational.ts';
import { droppedPerMinute, framesToTimecode } from '../time/timecode.ts';
import type { Target } from './target.ts';

/** How the frames that an event needs lie in a file. */
export interface Fit {
  /**
   * *whole*: all of them are in it. *part*: some are not. *outside*: none is. *other rate*: they are in it, but its
   * timecode counts at another rate than the list. *unknown*: it has no timecode, or the event no frames.
   */
  kind: 'whole' | 'part' | 'outside' | 'other rate' | 'unknown';
  /** The needed frames counted in the file from 0, those that it has; null where none is known. */
  frames: Span | null;
  /** Frames that it lacks at its beginning and at its end. */
  lacks: { before: number; after: number };
  /** Drop-frame is said otherwise than the file has it: its labels were taken at their figures. */
  dropDiffers: boolean;
  /** It has no timecode: frames are counted from 0 on both sides. */
  fromZero: boolean;
}

const nothing = { lacks: { before: 0, after: 0 }, dropDiffers: false, fromZero: false } as const;

/** False where a glance says that a file has not all of some frames; what only a closer look tells may be. */
export function mayHave(target: Target, source: CutSource, needed: Span): boolean {
  const { rate, start, frames, dropFrame } = target;
  if (rate === null || start === null) return true;
  if (nominalFramesPerSecond(rate) !== nominalFramesPerSecond(source.rate)) return false;
  if (dropFrame !== source.dropFrame && source.labels) return true;
  return start <= needed.from && needed.to <= start + frames;
}

/** Where the needed frames of an event's source lie in a file. */
export function fits(target: Target, source: CutSource, needed: Span | null): Fit {
  if (!needed || !source.frames) return { kind: 'unknown', frames: null, ...nothing };
  if (target.rate === null) return soundFit(target, source, needed);
  if (target.varies) return { kind: 'unknown', frames: null, ...nothing };
  const own = target.rate;
  if (nominalFramesPerSecond(own) !== nominalFramesPerSecond(source.rate))
    return otherRate(target, own, source, needed);
  if (target.start === null) {
    // Programs count files without timecode from 0.
    return { ...within({ from: needed.from, to: needed.to }, target.frames), dropDiffers: false, fromZero: true };
  }
  const taken = asDropped(target, source, needed, own);
  const at = taken.span;
  return {
    ...within({ from: at.from - target.start, to: at.to - target.start }, target.frames),
    dropDiffers: taken.differs,
    fromZero: false,
  };
}

/** Labels that are written without regard to drop-frame mean the file's own, by their figures. */
function asDropped(
  { dropFrame }: Target,
  source: CutSource,
  needed: Span,
  rate: Rational,
): { span: Span; differs: boolean } {
  if (!source.labels || !source.frames || dropFrame === source.dropFrame) return { span: needed, differs: false };
  const from = labelFrames(source.labels.from, rate, dropFrame);
  if (!from.ok) return { span: needed, differs: false };
  const by = from.value - source.frames.from;
  return { span: { from: needed.from + by, to: needed.to + by }, differs: by !== 0 };
}

function within(span: Span, frames: number): Pick<Fit, 'kind' | 'frames' | 'lacks'> {
  const had = { from: Math.max(0, span.from), to: Math.min(frames, span.to) };
  const lacks = { before: Math.max(0, -span.from), after: Math.max(0, span.to - frames) };
  if (had.to <= had.from && span.to > span.from) return { kind: 'outside', frames: null, lacks };
  return { kind: lacks.before + lacks.after > 0 ? 'part' : 'whole', frames: had, lacks };
}

/** The same seconds counted at the file's own rate: its first and last frame are its nearest. */
function otherRate(target: Target, own: Rational, source: CutSource, needed: Span): Fit {
  if (target.start === null) return { kind: 'unknown', frames: null, ...nothing };
  const from = atOtherRate(needed.from, source, own, target.dropFrame);
  const length = scaleToInteger(needed.to - needed.from, divide(own, source.rate));
  const span = {
    from: from - target.start,
    to: from - target.start + Math.max(length, needed.to > needed.from ? 1 : 0),
  };
  const fit = within(span, target.frames);
  return { ...fit, kind: fit.kind === 'whole' ? 'other rate' : 'outside', dropDiffers: false, fromZero: false };
}

/** The frame at another rate whose label names the same moment of the day. */
function atOtherRate(frame: number, { rate, dropFrame }: CutSource, other: Rational, otherDrops: boolean): number {
  const [from, to] = [nominalFramesPerSecond(rate), nominalFramesPerSecond(other)];
  const label = framesToTimecode(frame, rate, dropFrame);
  const clock = label.ok ? label.value.text.slice(0, 8) : '00:00:00';
  const scaled = Math.floor((Number(label.ok ? label.value.text.slice(9) : 0) * to) / from);
  const written = `${clock}:${String(scaled).padStart(to > 100 ? 3 : 2, '0')}`;
  const found = labelFrames(written, other, otherDrops);
  // Numbers that drop-frame leaves out are at its next minute's beginning.
  const next = found.ok
    ? found
    : labelFrames(`${clock}:${String(droppedPerMinute(other)).padStart(2, '0')}`, other, otherDrops);
  return next.ok ? next.value : scaleToInteger(frame, { num: to, den: from });
}

/** Sound alone is counted at the rate of whoever asks. */
function soundFit({ sound }: Target, { rate }: CutSource, needed: Span): Fit {
  if (!sound) return { kind: 'unknown', frames: null, ...nothing };
  const start = sound.start ? Math.round(toNumber(multiply(sound.start, rate))) : 0;
  const frames = Math.floor(toNumber(sound.seconds) * toNumber(rate) + 1e-6);
  const fit = within({ from: needed.from - start, to: needed.to - start }, frames);
  return { ...fit, dropDiffers: false, fromZero: sound.start === null };
}
