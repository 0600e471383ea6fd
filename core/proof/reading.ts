import type { VideoDescription } from '../clip/description.ts';
import { codecRow } from '../recipe/codecs.ts';
import type { OutputPlan } from '../recipe/legPlan.ts';
import { matrixMade, matrixOf } from '../recipe/video.ts';
import type { Planes, Small } from './smalls.ts';

/** What codes of a file mean, as whoever reads it takes them. */
export interface Reading {
  rgb: boolean;
  /** Bits a sample; 16 for floats, which are kept as shares of 65,535. */
  bitDepth: number;
  /** Of R'G'B' always full. */
  range: 'legal' | 'full';
  /** Matrix by the names of ITU-T H.273; of no meaning for R'G'B'. */
  matrix: string;
  /** Thinned-out chroma lies between luma samples, as JPEG has it; else with the left one. */
  centred?: boolean;
}

/** How a file's codes are read: by its tags, and where it has none by this application's own rules. */
export function readingOf({
  codecId,
  colour,
  raster,
  chroma,
  bitDepth,
}: Pick<VideoDescription, 'codecId' | 'colour' | 'raster' | 'chroma' | 'bitDepth'>): Reading {
  const rgb = chroma === 'rgb';
  return {
    rgb,
    bitDepth: Math.min(16, bitDepth),
    range: rgb ? 'full' : (colour.range ?? 'legal'),
    matrix: matrixOf(colour, raster, rgb),
    centred: codecId === 'mjpeg',
  };
}

/** Whether nothing beyond black and white can be written so: R'G'B', and Y'CbCr of full range. */
export function endsAtWhite({ rgb, range }: Reading): boolean {
  return rgb || range === 'full';
}

/** How the samples of an output are to be read, by its plan. */
export function readingOfOutput({ codec, video }: OutputPlan): Reading {
  const { chroma, bitDepth, encodedDepth } = codecRow(codec);
  const rgb = chroma === 'rgb';
  return {
    rgb,
    bitDepth: Math.min(16, encodedDepth ?? bitDepth),
    range: rgb ? 'full' : (video.colour.range ?? 'legal'),
    matrix: matrixMade(video),
    centred: codec.id === 'mjpeg',
  };
}

/**
 * Luma weights of red and blue (BT.709-6, BT.601-7, SMPTE 240M, BT.2020-2), written here once more: the proof reads by
 * a table of its own.
 */
const weights: Readonly<Record<string, readonly [number, number]>> = {
  bt709: [0.2126, 0.0722],
  smpte170m: [0.299, 0.114],
  bt470bg: [0.299, 0.114],
  fcc: [0.3, 0.11],
  smpte240m: [0.212, 0.087],
  bt2020nc: [0.2627, 0.0593],
  bt2020c: [0.2627, 0.0593],
};

/** One for each of a picture's three planes or channels. */
export type Three<T> = readonly [T, T, T];

/**
 * Codes of `bitDepth` bits, shifted up to 16, → R', G', B' with black 0 and white 1, nothing cut off. Legal: black 16,
 * white 235, differences ±112 about 128 of 8 bits, more bits by shifting (BT.709-6, item 3.6). Full: white is the
 * highest code (H.273, equations 20 to 28). Planes of Y', Cb, Cr, or of G', B', R' as FFmpeg orders them.
 */
export function signalsOf(
  planes: Three<ArrayLike<number>>,
  { rgb, bitDepth, range, matrix }: Reading,
): Three<Float32Array> {
  const count = planes[0].length;
  const step = 2 ** (16 - bitDepth);
  const most = 2 ** bitDepth - 1;
  const [red, green, blue] = [new Float32Array(count), new Float32Array(count), new Float32Array(count)];
  const [first, second, third] = planes;
  if (rgb) {
    for (let i = 0; i < count; i += 1) {
      red[i] = (third[i] as number) / step / most;
      green[i] = (first[i] as number) / step / most;
      blue[i] = (second[i] as number) / step / most;
    }
    return [red, green, blue];
  }
  const [kr, kb] = weights[matrix] ?? [0.2126, 0.0722];
  const legal = range === 'legal';
  const zero = 2 ** (bitDepth - 1);
  for (let i = 0; i < count; i += 1) {
    const [a, b, c] = [first[i] as number, second[i] as number, third[i] as number];
    const y = legal ? (a / 256 - 16) / 219 : a / step / most;
    const cb = legal ? (b / 256 - 128) / 224 : (b / step - zero) / most;
    const cr = legal ? (c / 256 - 128) / 224 : (c / step - zero) / most;
    red[i] = y + 2 * (1 - kr) * cr;
    green[i] = y - (2 * (1 - kb) * kb * cb + 2 * (1 - kr) * kr * cr) / (1 - kr - kb);
    blue[i] = y + 2 * (1 - kb) * cb;
  }
  return [red, green, blue];
}

/** R', G', B' → planes of Y', Cb, Cr in legal codes of 16 bits, by a matrix (BT.709-6, items 3.3 to 3.6, and alike). */
export function legalCodesOf(
  [red, green, blue]: readonly [Float32Array, Float32Array, Float32Array],
  matrix: string,
): Uint16Array {
  const [kr, kb] = weights[matrix] ?? [0.2126, 0.0722];
  const count = red.length;
  const out = new Uint16Array(count * 3);
  const code = (value: number): number => Math.max(0, Math.min(65_535, Math.round(value * 256)));
  for (let i = 0; i < count; i += 1) {
    const [r, g, b] = [red[i] as number, green[i] as number, blue[i] as number];
    const y = kr * r + (1 - kr - kb) * g + kb * b;
    out[i] = code(16 + 219 * y);
    out[count + i] = code(128 + (224 * (b - y)) / (2 * (1 - kb)));
    out[2 * count + i] = code(128 + (224 * (r - y)) / (2 * (1 - kr)));
  }
  return out;
}

/** The luma of a picture in legal codes of 16 bits, whatever its own codes are: what shapes and places are told by. */
export function legalLuma(planes: Planes, reading: Reading): Uint16Array {
  if (!reading.rgb && reading.range === 'legal') return planes[0];
  const [r, g, b] = signalsOf(planes, reading);
  return Uint16Array.from(r, (red, i) =>
    Math.max(
      0,
      Math.min(
        65_535,
        Math.round(4096 + 56_064 * (0.2126 * red + 0.7152 * (g[i] as number) + 0.0722 * (b[i] as number))),
      ),
    ),
  );
}

/** A small picture of a decoded one's planes: of means over areas, and where they were taken, of single samples. */
export function smallOf(width: number, height: number, planes: Planes, reading: Reading, points?: Planes): Small {
  return { width, height, luma: legalLuma(planes, reading), planes, ...(points ? { points } : {}) };
}
