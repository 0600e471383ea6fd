import { add, equal, rational, type Rational } from '../time/rational.ts';
import { framesPerDay, timecodeToFrames } from '../time/timecode.ts';
import type { Chapter, ClipDescription } from './description.ts';
import { folderOf, stemOf } from './roll.ts';

/**
 * Sizes at which recorders begin a new file: the limits of FAT (ISO/IEC 9293) and what makers chose above them, in
 * bytes. Common practice, no source.
 */
const splitSizes = [2, 4, 8, 16, 32].map((gibibytes) => gibibytes * 2 ** 30);

/**
 * A file name as a series and its place in it: `V0034_02` is number 2 of `V0034_`. Null for a name without a counter of
 * its own.
 */
export function placeInSeries(path: string): { series: string; number: number } | null {
  const parts = /^(.+[_\-.])(\d{1,3})$/.exec(stemOf(path));
  return parts ? { series: `${folderOf(path)}/${parts[1]}`, number: Number(parts[2]) } : null;
}

/**
 * Whether two files could be parts of one recording: the same in everything that a camera does not change within one.
 */
function alike(a: ClipDescription, b: ClipDescription): boolean {
  const [v, w] = [a.video, b.video];
  if (a.wrapperId !== b.wrapperId || (v === null) !== (w === null) || a.cutShort) return false;
  const sound = (clip: ClipDescription): string =>
    clip.audio.map((t) => `${t.codecId} ${t.channels} ${t.sampleRate} ${t.bitDepth ?? ''}`).join('|');
  if (sound(a) !== sound(b)) return false;
  if (!v || !w) return a.audio.length > 0;
  return (
    v.codecId === w.codecId &&
    v.raster.width === w.raster.width &&
    v.raster.height === w.raster.height &&
    equal(v.pixelAspect, w.pixelAspect) &&
    v.rateConstant &&
    w.rateConstant &&
    equal(v.rate, w.rate) &&
    v.scan === w.scan &&
    v.bitDepth === w.bitDepth &&
    v.colour.transfer === w.colour.transfer
  );
}

/** Whether `b` begins with the very next frame after `a`; null when neither has a timecode to tell by. */
function goesOn(a: ClipDescription, b: ClipDescription): boolean | null {
  if (!a.timecode && !b.timecode) return null;
  if (!a.video || !b.video || !a.timecode || !b.timecode || a.timecode.dropFrame !== b.timecode.dropFrame) return false;
  const [from, to] = [
    timecodeToFrames(a.timecode.start, a.video.rate),
    timecodeToFrames(b.timecode.start, b.video.rate),
  ];
  return (
    from.ok && to.ok && (from.value + a.video.frames) % framesPerDay(a.video.rate, a.timecode.dropFrame) === to.value
  );
}

/** Whether two numbers differ by no more than a share of the larger. */
export function near(a: number, b: number, share: number): boolean {
  return Math.abs(a - b) <= share * Math.max(a, b);
}

/** Whether a file is as large as those after which recorders begin a new one. */
export function endsAtSplitSize(sizeBytes: number): boolean {
  return splitSizes.some((size) => sizeBytes <= size && near(sizeBytes, size, 0.06));
}

/**
 * Whether files in a row were split by their recorder, and not by somebody who pressed the button twice: all but the
 * last are equally long or large, and there are three, or they end at a size where recorders split.
 */
function wereSplit(row: readonly ClipDescription[]): boolean {
  const full = row.slice(0, -1);
  const [first, last] = [full[0], row.at(-1)];
  if (!first || !last) return false;
  const sameSize =
    full.every((clip) => near(clip.sizeBytes, first.sizeBytes, 0.03)) && last.sizeBytes <= first.sizeBytes * 1.03;
  const sameLength =
    first.video !== null &&
    full.every((clip) => clip.video?.frames === first.video?.frames) &&
    (last.video?.frames ?? 0) <= first.video.frames;
  const atLimit = full.every((clip) => endsAtSplitSize(clip.sizeBytes));
  return (sameSize && atLimit) || (full.length >= 2 && (sameSize || sameLength));
}

function chapterOf(clip: ClipDescription): Chapter {
  return {
    path: clip.path,
    sizeBytes: clip.sizeBytes,
    frames: clip.video?.frames ?? 0,
    duration: clip.video?.duration ?? clip.audio[0]?.duration ?? rational(0),
    ...(clip.video ? { start: clip.video.start } : {}),
  };
}

/** One clip of files that follow each other: the first one's facts, everybody's size and length. */
function joined(row: readonly ClipDescription[]): ClipDescription {
  const first = row[0] as ClipDescription;
  const chapters = row.map(chapterOf);
  const duration = chapters.reduce<Rational>((sum, chapter) => add(sum, chapter.duration), rational(0));
  return {
    ...first,
    sizeBytes: chapters.reduce((sum, chapter) => sum + chapter.sizeBytes, 0),
    modifiedAt: row
      .map((clip) => clip.modifiedAt)
      .sort()
      .at(-1) as string,
    video: first.video && {
      ...first.video,
      frames: chapters.reduce((sum, chapter) => sum + chapter.frames, 0),
      duration,
    },
    audio: first.audio.map((track, index) => ({
      ...track,
      duration: row.reduce<Rational | null>(
        (sum, clip) => (sum && clip.audio[index]?.duration ? add(sum, clip.audio[index].duration) : null),
        rational(0),
      ),
    })),
    cutShort: row.find((clip) => clip.cutShort)?.cutShort ?? null,
    chapters,
  };
}

/**
 * Clips with the files that one recording was split into joined to one. Files are joined when a sidecar lists them
 * together (`spans`, paths in order), or when they count up in one folder, are alike, follow each other without a gap
 * by timecode (or have none), and were evidently split by the recorder. In doubt they stay apart.
 */
export function joinChapters(
  clips: readonly ClipDescription[],
  spans: readonly (readonly string[])[] = [],
): ClipDescription[] {
  const byPath = new Map(clips.map((clip) => [clip.path, clip]));
  const rows: ClipDescription[][] = [];
  for (const span of spans) {
    const row = span.flatMap((path) => byPath.get(path) ?? []);
    const whole =
      row.length === span.length &&
      row.length > 1 &&
      row.every(
        (clip, index) =>
          index === 0 ||
          (alike(row[index - 1] as ClipDescription, clip) && goesOn(row[index - 1] as ClipDescription, clip) !== false),
      );
    if (whole && !rows.flat().some((clip) => row.includes(clip))) rows.push(row);
  }
  const taken = new Set(rows.flat());
  const series = new Map<string, { clip: ClipDescription; number: number }[]>();
  for (const clip of clips) {
    const place = taken.has(clip) ? null : placeInSeries(clip.path);
    if (place) series.set(place.series, [...(series.get(place.series) ?? []), { clip, number: place.number }]);
  }
  for (const members of series.values()) {
    let row: ClipDescription[] = [];
    const close = (): void => {
      if (wereSplit(row)) rows.push(row);
      row = [];
    };
    members
      .sort((a, b) => a.number - b.number)
      .forEach(({ clip, number }, index) => {
        const before = members[index - 1];
        const follows =
          before !== undefined &&
          number === before.number + 1 &&
          alike(before.clip, clip) &&
          goesOn(before.clip, clip) !== false;
        if (!follows) close();
        row.push(clip);
      });
    close();
  }
  const first = new Map(rows.map((row) => [row[0], row]));
  const rest = new Set(rows.flatMap((row) => row.slice(1)));
  return clips.flatMap((clip) =>
    rest.has(clip) ? [] : [first.has(clip) ? joined(first.get(clip) as ClipDescription[]) : clip],
  );
}
