import type { VideoDescription } from '@relay/core/clip/description';
import { measureScan, type ScanMeasure, type Stretch } from '@relay/core/measure/fields';
import { toNumber } from '@relay/core/time/rational';
import { ffmpeg, inputArguments } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';
import { fewPictures, type Place } from './pictures.ts';

/** Pictures in a row, from three places of a clip: enough for two turns of a 2:3 pattern in each. */
const inARow = 12;
/** Columns of luma that are looked at; all rows are. */
const columns = 64;

/**
 * Looks at how pictures are scanned, from stretches of consecutive ones. Null where fields cannot be: faster than 30.5
 * frames a second, or more rows than any interlaced system has.
 */
export async function lookAtFields(places: readonly Place[], video: VideoDescription): Promise<ScanMeasure | null> {
  const { width, height } = video.raster;
  if (toNumber(video.rate) > 30.5 || height > 1088 || height < 32 || !video.rateConstant || video.frames < 4) return null;
  const across = Math.min(columns, width);
  const few = video.frames <= fewPictures;
  const wanted = [places[1], places[Math.floor(places.length / 2)], places.at(-2)].filter((place): place is Place => place !== undefined);
  const stretches: Stretch[] = [];
  const luma = `${video.chroma === '4:0:0' ? '' : video.chroma === 'rgb' ? 'format=yuv444p16le,extractplanes=y,' : 'extractplanes=y,'}scale=${across}:${height}:flags=neighbor:in_range=tv:out_range=tv,format=gray16le`;
  for (const { path, seconds, frame } of wanted) {
    const first = Math.max(0, few ? Math.min(frame, video.frames - inARow) : frame);
    const chunks: Buffer[] = [];
    await run(ffmpeg, [
      '-hide_banner', '-v', 'error', '-nostats', ...(few ? [] : ['-ss', seconds.toFixed(6)]), '-noautorotate', ...inputArguments(path), '-map', '0:v:0',
      '-vf', `${few ? `trim=start_frame=${first}:end_frame=${first + inARow}` : `trim=end_frame=${inARow}`},${luma}`, '-frames:v', String(inARow), '-fps_mode', 'passthrough', '-f', 'rawvideo', 'pipe:1',
    ], { timeoutMs: 120_000, onData: (chunk) => { chunks.push(chunk); } });
    const bytes = Buffer.concat(chunks);
    const all = new Uint16Array(Uint8Array.from(bytes.subarray(0, bytes.length & ~1)).buffer);
    const each = across * height;
    const pictures = Array.from({ length: Math.floor(all.length / each) }, (_, index) => all.subarray(index * each, (index + 1) * each));
    if (pictures.length > 1) stretches.push({ first, width: across, height, pictures });
    if (few && video.frames <= inARow) break;
  }
  return stretches.length > 0 ? measureScan(stretches) : null;
}
