import type { ClipCorrections } from '../corrections/corrections.ts';
import type { Span } from '../cut/cut.ts';
import { fail, ok, type Result } from '../result.ts';
import { steadied } from '../time/cadence.ts';
import { add, divide, multiply, rational, toNumber, type Rational } from '../time/rational.ts';
import { framesToTimecode, timecodeToFrames } from '../time/timecode.ts';
import type { ClipPart } from './partPlace.ts';
import type { Chapter, ClipDescription, StartTimecode, VideoDescription } from './description.ts';

/** Seconds as times of packets have them, to a millionth. */
function exactly(seconds: number): Rational {
  return rational(Math.round(seconds * 1_000_000), 1_000_000);
}

/** Seconds from the first picture to the part's first, and how long the part is. */
function timeOf(
  video: VideoDescription,
  { from, to }: Span,
  times: readonly number[],
): { at: Rational; long: Rational } {
  const each = divide(rational(1), video.rate);
  if (video.rateConstant) return { at: multiply(rational(from), each), long: multiply(rational(to - from), each) };
  const [first, begin, end] = [times[0] ?? 0, times[from] ?? 0, times[to]];
  const at = exactly(begin - first);
  return { at, long: end === undefined ? add(video.duration, rational(-at.num, at.den)) : exactly(end - begin) };
}

/** The files of several that a part lies in, and the seconds of those before it. */
function chaptersOf(chapters: readonly Chapter[], { from, to }: Span): { kept: Chapter[]; before: Rational } {
  let [first, before] = [0, rational(0)];
  const kept: Chapter[] = [];
  for (const chapter of chapters) {
    const last = first + chapter.frames;
    if (last <= from) before = add(before, chapter.duration);
    else if (first < to) kept.push(chapter);
    first = last;
  }
  return { kept, before };
}

/** The timecode of a part's first frame; what a track said at another rate is not said of a part. */
function timecodeAt(
  { start, dropFrame }: StartTimecode,
  video: VideoDescription,
  from: number,
  at: Rational,
): StartTimecode | null {
  // Labels of what varies run at the rate that it is brought to.
  const rate = video.rateConstant ? video.rate : steadied(video.rate, video.duration).rate;
  const frames = video.rateConstant ? from : Math.round(toNumber(multiply(at, rate)));
  const count = timecodeToFrames(start, rate);
  if (!count.ok) return null;
  const label = framesToTimecode(count.value + frames, rate, dropFrame);
  return label.ok ? { start: label.value.text, dropFrame } : null;
}

/**
 * A part of a clip as a clip of its own: described as if nothing else had been recorded, so that everything that is
 * planned, forecast, made and proved of a clip is so of a part. Frames count from the part's first. Of a clip in several
 * files only those that the part lies in remain. `times` are the seconds of all its pictures, wanted where its rate varies.
 * Fails where it has no such frames, or no pictures.
 */
export function partOfClip(clip: ClipDescription, span: Span, times: readonly number[] = []): Result<ClipDescription> {
  const { video } = clip;
  const { from, to } = span;
  if (!video) return fail(`${clip.path} has no pictures to take a part of`, 'Copy it whole');
  if (!Number.isInteger(from) || !Number.isInteger(to) || from < 0 || from >= to || to > video.frames)
    return fail(`${clip.path} has no frames ${from} to ${to}: it has ${video.frames}`, 'Take frames that it has');
  if (!video.rateConstant && times.length !== video.frames)
    return fail(`When the pictures of ${clip.path} are shown is not known`, 'Read it again');
  const { at, long } = timeOf(video, span, times);
  const goesOn = to < video.frames;
  const { kept, before } = chaptersOf(clip.chapters, span);
  const share = toNumber(long) / Math.max(1e-9, toNumber(video.duration));
  return ok({
    ...clip,
    ...(kept.length > 0 ? { sizeBytes: kept.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0) } : {}),
    video: {
      ...video,
      frames: to - from,
      duration: long,
      start: before.num === 0 ? video.start : (kept[0]?.start ?? rational(0)),
    },
    audio: clip.audio.map((track) => ({
      ...track,
      duration: track.duration && exactly(toNumber(track.duration) * Math.min(1, share)),
    })),
    timecode: clip.timecode && timecodeAt(clip.timecode, video, from, at),
    chapters: kept,
    part: { from, of: video.frames, at: add(at, rational(-before.num, before.den)), goesOn },
  });
}

/** Of the times of all pictures of the files that are opened, those of the part, if it is but a part. */
export function timesOfPart({ part, video }: ClipDescription, times: readonly number[]): readonly number[] {
  if (!part || !video) return times;
  const first = (times[0] ?? 0) + toNumber(part.at) - 0.5e-6;
  const from = Math.max(
    0,
    times.findIndex((time) => time >= first),
  );
  return times.slice(from, from + video.frames);
}

/** Corrections as they hold for a part: the place in a pulldown's pattern is that of the part's first frame. */
export function correctionsOfPart(corrections: ClipCorrections, part: ClipPart | undefined): ClipCorrections {
  const { time } = corrections;
  return part && time?.kind === 'pulldown-out'
    ? { ...corrections, time: { ...time, phase: (time.phase + part.from) % 5 } }
    : corrections;
}

/** What keeps a part's name apart from others of its original: its first timecode, or its first frame. */
export function partMark({ timecode, part }: Pick<ClipDescription, 'timecode' | 'part'>): string {
  if (!part) return '';
  return timecode ? `_${timecode.start.replaceAll(/\D/g, '')}` : `_f${String(part.from).padStart(6, '0')}`;
}

/** Of a clip's files those that a part of it lies in, in their order. */
export function filesOfPart<T>(part: ClipDescription, whole: ClipDescription, files: readonly T[]): T[] {
  if (!part.part || whole.chapters.length === 0) return [...files];
  const kept = new Set(part.chapters.map(({ path }) => path));
  return files.filter((_, index) => kept.has(whole.chapters[index]?.path ?? ''));
}

/** A part's files for whoever seeks in them himself: as if it began where they do. */
export function filesWhole(clip: ClipDescription): ClipDescription {
  const whole = { ...clip };
  delete whole.part;
  return whole;
}
