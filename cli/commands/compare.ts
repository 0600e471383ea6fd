import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { isRefusal, type ClipDescription, type VideoDescription } from '@relay/core/clip/description';
import { colourState } from '@relay/core/colour/states';
import { stateOfTags } from '@relay/core/colour/tags';
import { meanPsnr } from '@relay/core/measure/along';
import { seenApart, type SeenApart } from '@relay/core/measure/deltaE';
import { formatRate } from '@relay/core/time/rate';
import { readMap, type FrameMap } from '@relay/core/time/frameMap';
import { measuredFiles, measureLikeness, type FrameLikeness, type Measured } from '@relay/media/compare/measure';
import { clipSide, type Side } from '@relay/media/compare/side';
import { pairStill } from '@relay/media/compare/still';
import { describeFile } from '@relay/media/describe/describe';
import { inputArguments } from '@relay/media/process/ffmpeg';
import { Misuse, printJson } from './output.ts';

const measures = ['psnr', 'ssim', 'ditp'] as const;
type Measure = (typeof measures)[number];

export interface CompareOptions {
  map?: string;
  measure: string;
  every?: string;
  json?: boolean;
}

/** Frames of which ΔE ITP is measured, at most; pictures are so wide then. */
const [mostSeen, seenWidth] = [48, 480];

/** A map that is written is small, but for varying rates. */
const largestMap = 16 * 1024 * 1024;

function measuresOf(text: string): Measure[] {
  const wanted = text.split(',').map((one) => one.trim());
  const unknown = wanted.find((one) => !measures.some((known) => known === one));
  if (unknown !== undefined) throw new Misuse(`--measure takes ${measures.join(', ')}, not ${JSON.stringify(unknown)}`);
  return measures.filter((one) => wanted.includes(one));
}

async function mapOf(path: string | undefined): Promise<FrameMap> {
  if (path === undefined) return { kind: 'every' };
  const text = await readFile(path).catch((error: Error) => {
    throw new Misuse(`${path} cannot be read: ${error.message}`);
  });
  if (text.length > largestMap) throw new Misuse(`${path} is too large for a frame map`);
  const map = readMap(text.toString('utf8'));
  if (!map.ok) throw new Misuse(`${path}: ${map.problem.what}. ${map.problem.remedy}`);
  return map.value;
}

async function described(path: string): Promise<ClipDescription & { video: VideoDescription }> {
  const entry = await describeFile(path, basename(path)).catch((error: Error) => {
    throw new Misuse(`${path} cannot be read: ${error.message}`);
  });
  if (isRefusal(entry)) throw new Misuse(`${path}: ${entry.problem.what}. ${entry.problem.remedy}`);
  const { video } = entry;
  if (!video) throw new Misuse(`${path} has no picture`);
  return { ...entry, video };
}

/** Of some frames, how far apart both are seen on the copy's own display. */
async function seen(copy: Side, original: Side, video: VideoDescription, frames: number, every: number) {
  const tagged = stateOfTags(video.colour);
  const named = tagged === null ? null : colourState(tagged);
  const step = Math.max(every, Math.ceil(frames / mostSeen / every) * every);
  const found: Seen[] = [];
  const { signal } = new AbortController();
  for (let frame = 0; frame < frames; frame += step) {
    const [a, b] = await Promise.all(
      [copy, original].map((side) => pairStill({ ...side, raster: copy.raster }, frame, seenWidth, signal)),
    );
    if (!a || !b) break;
    const picture = ({ width, height, planes }: typeof a, { matrix }: Side) => ({
      width,
      height,
      matrix,
      planes: new Uint16Array(Uint8Array.from(planes).buffer),
    });
    found.push({ frame, ...seenApart(picture(a, copy), picture(b, original), named?.ok ? named.value : null) });
  }
  return found;
}

function measured(copy: Side, original: Side, video: VideoDescription): Measured {
  try {
    return measuredFiles(copy, original, video);
  } catch (error) {
    throw new Misuse((error as Error).message);
  }
}

function meanOf(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
}

const sayPsnr = (psnr: number | null): string => (psnr === null ? 'equal' : `${psnr.toFixed(2)} dB`);

/** `relay compare A B`: how like its original a copy is, frame by frame. */
export async function compareCommand(a: string, b: string, options: CompareOptions): Promise<number> {
  const wanted = measuresOf(options.measure);
  const every = Number(options.every ?? 1);
  if (!Number.isInteger(every) || every < 1 || every > 100_000) throw new Misuse('--every takes a whole number from 1');
  const map = await mapOf(options.map);
  const [original, copy] = [await described(a), await described(b)];
  const { rate } = copy.video;
  const open = (clip: ClipDescription, path: string) => ({ clip, input: inputArguments(path), hands: [] });
  const first = clipSide(open(copy, b), { map: { kind: 'every' }, rate, pace: 1 }) as Side;
  const second = clipSide(open(original, a), { map, rate, pace: 1 }) as Side;
  const frames: FrameLikeness[] = [];
  if (wanted.includes('psnr') || wanted.includes('ssim'))
    await measureLikeness(measured(first, second, copy.video), every, (one) => frames.push(one));
  const differing = wanted.includes('ditp') ? await seen(first, second, copy.video, copy.video.frames, every) : [];
  const counted = Math.ceil(copy.video.frames / every);
  const missing = frames.length > 0 && frames.length < counted ? counted - frames.length : 0;
  const compared: Compared = {
    original: a,
    copy: b,
    frames: copy.video.frames,
    measured: Math.max(frames.length, differing.length),
    missing,
    ...(wanted.includes('psnr')
      ? {
          psnr: {
            mean: meanPsnr(frames.map(({ psnr }) => psnr)),
            worst: worstOf(frames, ({ psnr }) => psnr ?? Infinity),
          },
        }
      : {}),
    ...(wanted.includes('ssim')
      ? { ssim: { mean: meanOf(frames.map(({ ssim }) => ssim)), worst: worstOf(frames, ({ ssim }) => ssim) } }
      : {}),
    ...(wanted.includes('ditp')
      ? { ditp: { mean: meanOf(differing.map(({ mean }) => mean)), worst: worstOf(differing, ({ mean }) => -mean) } }
      : {}),
  };
  if (options.json) printJson({ ...compared, each: frames, seen: differing });
  else process.stdout.write(`${sayCompared(compared, formatRate(rate)).join('\n')}\n`);
  return missing > 0 ? 1 : 0;
}

type Seen = { frame: number } & SeenApart;

/** What was found, of each measure that was wanted. */
interface Compared {
  original: string;
  copy: string;
  frames: number;
  measured: number;
  /** Frames of the copy that no frame of the original was left for. */
  missing: number;
  psnr?: { mean: number | null; worst: FrameLikeness | null };
  ssim?: { mean: number; worst: FrameLikeness | null };
  ditp?: { mean: number; worst: Seen | null };
}

function sayCompared(
  { original, copy, measured, frames, missing, psnr, ssim, ditp }: Compared,
  rate: string,
): string[] {
  const lines = [`${copy} beside ${original}: ${measured} of ${frames} frames at ${rate}`];
  if (psnr) lines.push(`PSNR ${sayPsnr(psnr.mean)}; ${sayWorst(psnr.worst, (one) => sayPsnr(one.psnr))}`);
  if (ssim) lines.push(`SSIM ${ssim.mean.toFixed(5)}; ${sayWorst(ssim.worst, (one) => one.ssim.toFixed(5))}`);
  if (ditp) lines.push(`ΔE ITP ${ditp.mean.toFixed(2)}; ${sayWorst(ditp.worst, (one) => one.mean.toFixed(2))}`);
  if (missing > 0) lines.push(`${missing} frames have no counterpart`);
  return lines;
}

function worstOf<T>(all: readonly T[], by: (one: T) => number): T | null {
  return all.reduce<T | null>((worst, one) => (worst === null || by(one) < by(worst) ? one : worst), null);
}

function sayWorst<T extends { frame: number }>(worst: T | null, say: (one: T) => string): string {
  return worst ? `worst ${say(worst)} at frame ${worst.frame + 1}` : 'nothing was measured';
}
