import type { VideoDescription } from '@relay/core/clip/description';
import { measureScan, type ScanMeasure, type Stretch } from '@relay/core/measure/fields';
import { toNumber } from '@relay/core/time/rational';
import { ffmpeg, inputArguments } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';
import { fewPictures, type Place } from './pictures.ts';

/** Pictures in a stretch: two of the five-frame patterns of 2:3 pulldown and the picture before them. */
const together = 11;
/** Columns that a picture is brought to, each a mean of several; rows stay as they are. */
const columns = 256;
/**
 * ITU-R BT.2020 knows no fields; nothing higher than the tallest raster of BT.709, with what coders add, was ever
 * interlaced.
 */
const tallest = 1088;

/**
 * Looks at stretches of consecutive pictures for fields, around every third of the places. Null where there can be
 * none, or nothing could be decoded. Numbers of pictures, and so the phase of a pulldown, are counted in the clip's
 * first file.
 */
export async function lookAtFields(places: readonly Place[], video: VideoDescription): Promise<ScanMeasure | null> {
  if (video.raster.height > tallest || video.frames < 3 || !video.rateConstant) return null;
  const path = places[0]?.path;
  const starts = places
    .filter((place, index) => index % 3 === 1 && place.path === path)
    .map((place) => Math.max(0, Math.min(place.frame, video.frames - together)));
  const width = Math.min(columns, video.raster.width);
  const { height } = video.raster;
  const rate = toNumber(video.rate);
  // With rounding, a picture's time may lie a hair before its place: half a picture early is always right.
  const from = (start: number): string[] =>
    video.frames <= fewPictures || start === 0 ? [] : ['-ss', ((start - 0.5) / rate).toFixed(6)];
  const stretches: Stretch[] = [];
  for (const start of [...new Set(starts)]) {
    const seek = from(start);
    const chunks: Buffer[] = [];
    await run(
      ffmpeg,
      [
        '-v',
        'quiet',
        '-noautorotate',
        ...seek,
        ...inputArguments(path as string),
        '-map',
        '0:v:0',
        '-vf',
        `${seek.length > 0 ? `trim=end_frame=${together}` : `trim=start_frame=${start}:end_frame=${start + together}`},${video.chroma === 'rgb' ? 'format=gray16le' : video.chroma === '4:0:0' ? 'null' : 'extractplanes=y'},scale=${width}:${height}:flags=area,format=gray16le`,
        '-fps_mode',
        'passthrough',
        '-f',
        'rawvideo',
        'pipe:1',
      ],
      {
        timeoutMs: 120_000,
        onData: (chunk) => {
          chunks.push(chunk);
        },
      },
    );
    const all = Buffer.concat(chunks);
    const bytes = width * height * 2;
    const pictures = Array.from({ length: Math.floor(all.length / bytes) }, (_, n) => {
      const one = new Uint16Array(width * height);
      Buffer.from(one.buffer).set(all.subarray(n * bytes, (n + 1) * bytes));
      return one;
    });
    if (pictures.length > 1) stretches.push({ first: start, width, height, pictures });
  }
  return stretches.length > 0 ? measureScan(stretches) : null;
}
