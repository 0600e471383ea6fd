import type { VideoDescription } from '@relay/core/clip/description';
import { measureScan, type ScanMeasure, type Stretch } from '@relay/core/measure/fields';
import { toNumber } from '@relay/core/time/rational';
import { ffmpeg, inputArguments } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';
import { fewPictures, type Place } from './places.ts';
import { justBefore } from '../process/seek.ts';

/** Pictures in a stretch: two of the five-frame patterns of 2:3 pulldown and the picture before them. */
const together = 11;
/** Columns that a picture is brought to, each a mean of several; rows stay as they are. */
const columns = 256;
/**
 * ITU-R BT.2020 knows no fields; nothing higher than the tallest raster of BT.709, with what coders add, was ever
 * interlaced.
 */
const tallest = 1088;

/** Which stretches of a clip's first file are looked at for fields, and what their pictures are brought to. */
export interface FieldRuns {
  /** The first picture of each. */
  starts: readonly number[];
  width: number;
  height: number;
  /** The filters that bring them there: luma alone, rows as they are. */
  filters: string;
}

/** The stretches around every third of the places; null where there can be no fields. */
export function fieldRuns(places: readonly Place[], video: VideoDescription): FieldRuns | null {
  if (video.raster.height > tallest || video.frames < 3 || !video.rateConstant) return null;
  const path = places[0]?.path;
  const starts = places
    .filter((place, index) => index % 3 === 1 && place.path === path)
    .map((place) => Math.max(0, Math.min(place.frame, video.frames - together)));
  const width = Math.min(columns, video.raster.width);
  const { height } = video.raster;
  const luma = video.chroma === 'rgb' ? 'format=gray16le' : video.chroma === '4:0:0' ? 'null' : 'extractplanes=y';
  const filters = `${luma},scale=${width}:${height}:flags=area,format=gray16le`;
  return { starts: [...new Set(starts)], width, height, filters };
}

/** The numbers of all pictures of the stretches, each once. */
export function picturesOf({ starts }: FieldRuns): number[] {
  const all = starts.flatMap((start) => Array.from({ length: together }, (_, n) => start + n));
  return [...new Set(all)].sort((a, b) => a - b);
}

/** Pictures of 16-bit luma, one after the other. */
function splitPictures(all: Buffer, { width, height }: FieldRuns): Uint16Array[] {
  const bytes = width * height * 2;
  return Array.from({ length: Math.floor(all.length / bytes) }, (_, n) => {
    const one = new Uint16Array(width * height);
    Buffer.from(one.buffer).set(all.subarray(n * bytes, (n + 1) * bytes));
    return one;
  });
}

/** What fields there are in stretches whose pictures were taken together, each once; null where too few decoded. */
export function measureFields(all: Buffer, runs: FieldRuns): ScanMeasure | null {
  const { width, height, starts } = runs;
  const numbers = picturesOf(runs);
  const pictures = splitPictures(all, runs);
  const stretches = starts.flatMap((first): Stretch[] => {
    const at = numbers.indexOf(first);
    const own = pictures.slice(at, at + together).filter((_, n) => numbers[at + n] === first + n);
    return own.length > 1 ? [{ first, width, height, pictures: own }] : [];
  });
  return stretches.length > 0 ? measureScan(stretches) : null;
}

/**
 * Looks at stretches of consecutive pictures for fields, each by itself: for clips that are not decoded from end to
 * end. Numbers of pictures, and so the phase of a pulldown, are counted in the clip's first file.
 */
export async function lookAtFields(
  path: string,
  runs: FieldRuns,
  { frames, rate }: VideoDescription,
): Promise<ScanMeasure | null> {
  const { starts, width, height, filters } = runs;
  const framesPerSecond = toNumber(rate);
  // With rounding, a picture's time may lie a hair before its place: half a picture early is always right.
  const from = (start: number): string[] =>
    frames <= fewPictures || start === 0 ? [] : ['-ss', justBefore(start, framesPerSecond).toFixed(6)];
  const stretches: Stretch[] = [];
  for (const start of starts) {
    const seek = from(start);
    const chunks: Buffer[] = [];
    await run(
      ffmpeg,
      [
        ...['-v', 'quiet', '-noautorotate', ...seek, ...inputArguments(path), '-map', '0:v:0', '-vf'],
        `${seek.length > 0 ? `trim=end_frame=${together}` : `trim=start_frame=${start}:end_frame=${start + together}`},${filters}`,
        ...['-fps_mode', 'passthrough', '-f', 'rawvideo', 'pipe:1'],
      ],
      {
        timeoutMs: 120_000,
        onData: (chunk) => {
          chunks.push(chunk);
        },
      },
    );
    const pictures = splitPictures(Buffer.concat(chunks), runs);
    if (pictures.length > 1) stretches.push({ first: start, width, height, pictures });
  }
  return stretches.length > 0 ? measureScan(stretches) : null;
}
