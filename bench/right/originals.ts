import { join } from 'node:path';
import { ffmpeg } from '@relay/media/process/ffmpeg';
import { run, writeAll } from '@relay/media/process/run';

/**
 * One odd original: how it is coded, and what is odd. Frames bear their numbers, and there is a click every quarter
 * second.
 */
export interface Odd {
  name: string;
  rate: string;
  frames: number;
  /** FFmpeg's arguments for the output, after picture (input 0) and sound (input 1). */
  coding: readonly string[];
  /** Arguments before the sound's input; null leaves sound out. */
  sound?: readonly string[] | null;
  /** Filters of the picture. */
  picture?: string;
  /** Copied once more from this second on: an edit list that begins late. */
  from?: number;
  /** Files of one recording, each of so many frames. */
  chapters?: number;
}

export const raster = { width: 640, height: 360 };
/** Cells of the counter, the highest bit first, then a bright and a dark one. */
export const bits = 8;
const cell = { width: 56, height: 80 };

/** Whether a cell lights up in a frame. */
function lit(place: number, frame: number): boolean {
  return place === bits || (place < bits && ((frame >> (bits - 1 - place)) & 1) === 1);
}

/** A grey frame that moves, with its number on it. */
export function drawFrame(frame: number): Uint8Array {
  const { width, height } = raster;
  const luma = new Uint8Array(width * height);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1)
      luma[y * width + x] = 90 + Math.round(40 * Math.sin((x + frame * 7) / 23) * Math.cos((y - frame * 3) / 19));
  for (let place = 0; place < bits + 2; place += 1)
    for (let y = 140; y < 140 + cell.height; y += 1)
      luma.fill(
        lit(place, frame) ? 220 : 24,
        y * width + 32 + place * cell.width,
        y * width + 32 + (place + 1) * cell.width - 8,
      );
  return luma;
}

/** The number on a decoded grey frame of any size; null where it has none. */
export function readFrame(luma: Uint8Array, width: number, height: number): number | null {
  const at = (place: number): number =>
    luma[
      Math.floor(((140 + cell.height / 2) / raster.height) * height) * width +
        Math.floor(((32 + place * cell.width + (cell.width - 8) / 2) / raster.width) * width)
    ] as number;
  const [bright, dark] = [at(bits), at(bits + 1)];
  if (bright - dark < 60) return null;
  return Array.from({ length: bits }, (_, place) => place).reduce(
    (number, place) => number * 2 + (at(place) > (bright + dark) / 2 ? 1 : 0),
    0,
  );
}

const click = (seconds: number): string[] => [
  '-f',
  'lavfi',
  '-i',
  `aevalsrc=0.8*lt(mod(t\\,0.25)\\,0.003)*sin(2*PI*1500*mod(t\\,0.25)):s=48000:d=${seconds.toFixed(6)}`,
];
const h264 = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '14', '-pix_fmt', 'yuv420p'];
const mpeg2 = ['-c:v', 'mpeg2video', '-q:v', '2', '-pix_fmt', 'yuv420p'];
const tagged = (matrix: string): string[] => ['-colorspace', matrix, '-color_primaries', matrix, '-color_trc', 'bt709'];
const rates = ['24000/1001', '24', '25', '30000/1001', '30', '50', '60000/1001', '120000/1001'];
const short = (rate: string): string => rate.replace('/1001', '').replace('000', '');

export const odds: readonly Odd[] = [
  ...rates.map((rate): Odd => ({
    name: `mov-pcm-${short(rate)}.mov`,
    rate,
    frames: 60,
    coding: [...h264, '-c:a', 'pcm_s24le'],
  })),
  ...['24000/1001', '25', '30000/1001', '50', '60000/1001'].map((rate): Odd => ({
    name: `mp4-aac-${short(rate)}.mp4`,
    rate,
    frames: 61,
    coding: [...h264, '-c:a', 'aac', '-b:a', '160k'],
  })),
  ...['24000/1001', '25', '30000/1001', '60000/1001'].flatMap((rate): Odd[] => [
    { name: `mkv-pcm-${short(rate)}.mkv`, rate, frames: 47, coding: [...h264, '-c:a', 'pcm_s16le'] },
    { name: `mkv-aac-${short(rate)}.mkv`, rate, frames: 47, coding: [...h264, '-c:a', 'aac'] },
  ]),
  ...['25', '30000/1001', '50'].map((rate): Odd => ({
    name: `ts-ac3-${short(rate)}.ts`,
    rate,
    frames: 55,
    coding: [...h264, '-c:a', 'ac3'],
  })),
  { name: 'ts-mp2.ts', rate: '25', frames: 55, coding: [...mpeg2, '-c:a', 'mp2'] },
  ...['25', '30000/1001'].map((rate): Odd => ({
    name: `mxf-${short(rate)}.mxf`,
    rate,
    frames: 50,
    coding: [...mpeg2, '-c:a', 'pcm_s24le'],
  })),
  ...['25', '15'].map((rate): Odd => ({
    name: `avi-${rate}.avi`,
    rate,
    frames: 45,
    coding: ['-c:v', 'mjpeg', '-q:v', '2', '-pix_fmt', 'yuvj422p', '-c:a', 'pcm_s16le'],
  })),
  ...[1, 2, 3, 20].map((frames): Odd => ({
    name: `mkv-frames-${frames}.mkv`,
    rate: '24000/1001',
    frames,
    coding: [...h264, '-c:a', 'pcm_s16le'],
  })),
  ...['mov', 'mxf', 'ts'].map((kind): Odd => ({
    name: `one.${kind}`,
    rate: '25',
    frames: 1,
    sound: null,
    coding: kind === 'mov' ? h264 : mpeg2,
  })),
  {
    name: 'tagged-601.mkv',
    rate: '25',
    frames: 40,
    coding: ['-c:v', 'ffv1', '-pix_fmt', 'yuv422p10le', ...tagged('smpte170m'), '-c:a', 'flac'],
  },
  {
    name: 'full-range.mov',
    rate: '25',
    frames: 40,
    picture: 'scale=in_range=tv:out_range=pc',
    coding: [...h264, '-color_range', 'pc', '-c:a', 'pcm_s16le'],
  },
  { name: 'rgb.mkv', rate: '25', frames: 40, coding: ['-c:v', 'ffv1', '-pix_fmt', 'gbrp', '-c:a', 'pcm_s16le'] },
  { name: 'grey.mkv', rate: '25', frames: 40, coding: ['-c:v', 'ffv1', '-pix_fmt', 'gray', '-c:a', 'pcm_s16le'] },
  {
    name: 'deep-444.mov',
    rate: '24',
    frames: 40,
    coding: ['-c:v', 'prores_ks', '-profile:v', '4', '-pix_fmt', 'yuv444p10le', '-c:a', 'pcm_s24le'],
  },
  { name: 'list-late.mov', rate: '25', frames: 75, from: 1.2, coding: [...h264, '-g', '60', '-c:a', 'pcm_s16le'] },
  {
    name: 'list-late.mp4',
    rate: '25',
    frames: 75,
    from: 0.8,
    coding: [...h264, '-g', '75', '-bf', '3', '-c:a', 'aac'],
  },
  { name: 'chapters-aac.mp4', rate: '25', frames: 50, chapters: 3, coding: [...h264, '-c:a', 'aac'] },
  { name: 'chapters-ac3.ts', rate: '25', frames: 50, chapters: 3, coding: [...mpeg2, '-c:a', 'ac3'] },
  {
    name: 'chapters-23.mp4',
    rate: '24000/1001',
    frames: 48,
    chapters: 4,
    coding: [...h264, '-c:a', 'aac', '-ar', '44100'],
  },
  {
    name: 'sound-late.mov',
    rate: '25',
    frames: 60,
    sound: ['-itsoffset', '0.3'],
    coding: [...h264, '-c:a', 'pcm_s16le'],
  },
  {
    name: 'sound-early.mkv',
    rate: '25',
    frames: 60,
    sound: ['-itsoffset', '-0.2'],
    coding: [...h264, '-c:a', 'pcm_s16le', '-avoid_negative_ts', 'disabled'],
  },
  { name: 'sound-44.mov', rate: '30000/1001', frames: 60, coding: [...h264, '-c:a', 'pcm_s16le', '-ar', '44100'] },
  { name: 'sound-short.mov', rate: '25', frames: 60, coding: [...h264, '-af', 'atrim=end=1.5', '-c:a', 'pcm_s16le'] },
  {
    name: 'sound-six.mov',
    rate: '25',
    frames: 60,
    coding: [...h264, '-af', 'pan=6c|c0=c0|c1=c0|c2=c0|c3=c0|c4=c0|c5=c0', '-c:a', 'pcm_s24le'],
  },
  { name: 'opus.mkv', rate: '25', frames: 60, coding: [...h264, '-c:a', 'libopus'] },
  { name: 'mute.mov', rate: '24000/1001', frames: 60, sound: null, coding: h264 },
  {
    name: 'timecode-df.mov',
    rate: '30000/1001',
    frames: 60,
    coding: [...h264, '-c:a', 'pcm_s16le', '-timecode', '00:59:59;20'],
  },
];

function rateNumber(rate: string): number {
  const [num = 25, den = 1] = rate.split('/').map(Number);
  return num / den;
}

async function must(args: readonly string[], feed?: (stdin: NodeJS.WritableStream) => Promise<void>): Promise<void> {
  const ended = await run(ffmpeg, ['-v', 'error', '-y', ...args], { own: true, ...(feed ? { feed } : {}) });
  if (ended.code !== 0) throw new Error(ended.stderr);
}

/** Writes an original's files below `folder`; answers their names in order. */
export async function makeOriginal(odd: Odd, folder: string): Promise<string[]> {
  const dot = odd.name.lastIndexOf('.');
  const names = Array.from({ length: odd.chapters ?? 1 }, (_, index) =>
    odd.chapters ? `${odd.name.slice(0, dot)}_0${index + 1}${odd.name.slice(dot)}` : odd.name,
  );
  const seconds = odd.frames / rateNumber(odd.rate);
  for (const [index, name] of names.entries()) {
    const made = odd.from === undefined ? join(folder, name) : join(folder, `whole-${name}`);
    await must(
      [
        '-f',
        'rawvideo',
        '-pix_fmt',
        'gray',
        '-s',
        `${raster.width}x${raster.height}`,
        '-framerate',
        odd.rate,
        '-i',
        'pipe:0',
        ...(odd.sound === null ? [] : [...(odd.sound ?? []), ...click(seconds)]),
        '-map',
        '0:v',
        ...(odd.sound === null ? [] : ['-map', '1:a']),
        ...(odd.picture ? ['-vf', odd.picture] : []),
        ...odd.coding,
        ...(odd.name.endsWith('.mxf') ? ['-f', 'mxf'] : []),
        made,
      ],
      async (stdin) => {
        for (let frame = 0; frame < odd.frames; frame += 1)
          await writeAll(stdin, drawFrame(index * odd.frames + frame));
      },
    );
    if (odd.from !== undefined)
      await must(['-ss', String(odd.from), '-i', made, '-map', '0:v', '-map', '0:a', '-c', 'copy', join(folder, name)]);
  }
  return names;
}
