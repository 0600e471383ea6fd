import { readFile, rm } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import type { Scan, VideoDescription } from '@relay/core/clip/description';
import type { Edges } from '@relay/core/measure/bars';
import { findBars } from '@relay/core/measure/bars';
import { measureLevels, type SampledPicture } from '@relay/core/measure/levels';
import type { ScanMeasure } from '@relay/core/measure/fields';
import type { PictureMeasure } from '@relay/core/measure/measured';
import { displayAspect } from '@relay/core/shape/raster';
import { toNumber } from '@relay/core/time/rational';
import { complaints, ffmpeg, inputArguments } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';
import { memoryFor } from '../process/sandbox.ts';
import { scratchFolder } from '../process/scratch.ts';
import { fieldRuns, lookAtFields, measureFields, picturesOf, type FieldRuns } from './fields.ts';
import { fewPictures, type Place } from './places.ts';

const sampled = { width: 320, height: 180 };
const acrossColumns = 48;
const acrossRows = 64;

/** Height of the pictures of a strip. */
const stripHeight = 90;

/** Where what is taken of the pictures goes. */
interface Targets {
  small: string;
  columns: string;
  rows: string;
  strip: string;
  fields: string;
}

/** One input of the command, and which of its pictures is taken. */
interface Taken {
  before: string[];
  path: string;
  take: string;
}

/** The inputs for places: each by itself, or, of a file with few pictures, all of its places at once. */
function inputsFor(places: readonly Place[], few: boolean): Taken[] {
  if (!few)
    return places.map(({ path, seconds }) => ({
      before: ['-ss', seconds.toFixed(6)],
      path,
      take: 'trim=end_frame=1,setpts=0',
    }));
  return [...new Set(places.map((place) => place.path))].map((path) => {
    const numbers = places.filter((place) => place.path === path).map(({ frame }) => frame);
    return { before: [], path, take: takeOf(numbers) };
  });
}

/** Filters that let pictures of these numbers through. */
function takeOf(numbers: readonly number[]): string {
  return `select='${numbers.map((number) => `eq(n,${number})`).join('+')}',setpts=N`;
}

/** The raster of the pictures that levels are measured on. */
function sampledRaster({ raster }: VideoDescription): { width: number; height: number } {
  return { width: Math.min(sampled.width, raster.width), height: Math.min(sampled.height, raster.height) };
}

/** From the pictures to samples, columns, rows and strip: nearest samples only, nothing mixed, codes as stored. */
function graphFor(
  inputs: readonly Taken[],
  video: VideoDescription,
  { pictures, runs }: { pictures: number; runs: FieldRuns | null },
): string {
  const { width, height } = video.raster;
  const same = 'flags=neighbor:in_range=tv:out_range=tv:in_color_matrix=bt709:out_color_matrix=bt709';
  const aspect = toNumber(displayAspect(video.raster, video.pixelAspect));
  const stripWidth = Math.max(2, Math.round((stripHeight * aspect) / 2) * 2);
  const range = video.colour.range === 'full' ? 'pc' : 'tv';
  // RGB has no luma plane; its levels are those of the legal picture made of it.
  const toLuma = video.chroma === 'rgb' ? 'format=yuv444p16le,' : '';
  const luma = video.chroma === '4:0:0' ? '' : 'extractplanes=y,';
  const small = sampledRaster(video);
  return [
    // Of a file that is decoded from its beginning, stretches are taken of the same pictures.
    ...(runs ? ['[0:v:0]split[v0][all]', `[all]${takeOf(picturesOf(runs))},${runs.filters}[fields]`] : []),
    ...inputs.map(({ take }, index) => `[${runs ? 'v0' : `${index}:v:0`}]${take},${toLuma}setsar=1[p${index}]`),
    `${inputs.map((_, index) => `[p${index}]`).join('')}concat=n=${inputs.length}:v=1:a=0,showinfo,split=4[a][b][c][d]`,
    `[a]scale=${small.width}:${small.height}:${same},format=yuv444p16le[small]`,
    `[b]${luma}scale=${width}:${acrossColumns}:${same},format=gray16le[columns]`,
    `[c]${luma}scale=${acrossRows}:${height}:${same},format=gray16le[rows]`,
    `[d]scale=${stripWidth}:${stripHeight}:flags=bicubic:in_range=${range}:out_range=pc:out_color_matrix=bt601,format=yuvj420p,tile=${pictures}x1[strip]`,
  ].join(';');
}

function outputsTo({ strip, ...raw }: Targets, runs: FieldRuns | null): string[] {
  return [
    ...(['small', 'columns', 'rows', ...(runs ? (['fields'] as const) : [])] as const).flatMap((name) => [
      ...['-map', `[${name}]`, '-vsync', 'passthrough', '-f', 'rawvideo', `file:${raw[name]}`],
    ]),
    ...['-map', '[strip]', '-frames:v', '1', '-c:v', 'mjpeg', '-q:v', '3', '-f', 'image2', '-update', '1'],
    `file:${strip}`,
  ];
}

/** What decoders complained of, out of all that was said. */
function errorsIn(said: string): string[] {
  const lines = said.split('\n').filter((line) => /\[(error|fatal)\]/.test(line));
  return complaints(lines.map((line) => line.replace(/\[(error|fatal)\] ?/, '')).join('\n'));
}

async function samplesOf(path: string): Promise<Uint16Array> {
  const bytes = await readFile(path).catch(() => Buffer.alloc(0));
  return new Uint16Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + (bytes.length & ~1)));
}

/** Levels, bars and flags of the pictures that were taken; null where none was. */
async function measureTaken(
  { small, columns, rows }: Targets,
  video: VideoDescription,
  said: string,
): Promise<PictureMeasure | null> {
  const { width, height } = video.raster;
  const raster = sampledRaster(video);
  const pictures = splitPlanes(await samplesOf(small), raster.width * raster.height);
  const levels = measureLevels(pictures);
  if (!levels) return null;
  const [columnData, rowData] = [await samplesOf(columns), await samplesOf(rows)];
  const edges = pictures.map((_, index): Edges => ({
    columns: columnData.subarray(index * width * acrossColumns, (index + 1) * width * acrossColumns),
    rows: rowData.subarray(index * height * acrossRows, (index + 1) * height * acrossRows),
  }));
  const black = video.colour.range === 'full' && video.chroma !== 'rgb' ? 0 : 16 << 8;
  return { ...levels, bars: findBars(edges, video.raster, black), scans: scansIn(said) };
}

/** What pictures from across a clip, and stretches of them, give. */
export interface PicturesSeen {
  measure: PictureMeasure | null;
  fields: ScanMeasure | null;
  errors: string[];
}

/**
 * Takes pictures from several places of a clip in one process: sampled for their levels, by columns and rows for their
 * edges, and small, side by side, as a JPEG strip at `strip`; and looks at stretches for fields, in the same process
 * where it decodes everything. Null when not one picture decodes.
 */
export async function lookAtPictures(
  places: readonly Place[],
  video: VideoDescription,
  wrapperId: string,
  strip: string,
): Promise<PicturesSeen> {
  const folder = await scratchFolder();
  const targets = {
    small: under(folder, 'small'),
    columns: under(folder, 'columns'),
    rows: under(folder, 'rows'),
    fields: under(folder, 'fields'),
    strip,
  };
  try {
    const few = video.frames <= fewPictures;
    const inputs = inputsFor(places, few);
    const runs = fieldRuns(places, video);
    const together = few && inputs.length === 1 ? runs : null;
    const [{ stderr }, apart] = await Promise.all([
      run(
        ffmpeg,
        [
          ...['-hide_banner', '-nostats', '-v', 'level+info', '-y'],
          ...inputs.flatMap(({ before, path }) => [
            ...['-threads', '2', '-noautorotate', ...before],
            ...inputArguments(path),
          ]),
          ...['-filter_complex', graphFor(inputs, video, { pictures: places.length, runs: together })],
          ...outputsTo(targets, together),
        ],
        { timeoutMs: 300_000, memoryBytes: memoryFor(inputs.length * video.raster.width * video.raster.height) },
      ),
      runs && !together ? lookAtFields((places[0] as Place).path, runs, video) : null,
    ]);
    const fields = together
      ? measureFields(await readFile(targets.fields).catch(() => Buffer.alloc(0)), together)
      : apart;
    // Where there is no index, a place in the middle is found by guess, and what is broken off there complains for
    // nothing.
    const believed = few || !/^mpeg/.test(wrapperId);
    return { measure: await measureTaken(targets, video, stderr), fields, errors: believed ? errorsIn(stderr) : [] };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

function splitPlanes(data: Uint16Array, samples: number): SampledPicture[] {
  return Array.from({ length: Math.floor(data.length / (samples * 3)) }, (_, index) => {
    const plane = (n: number): Uint16Array => data.subarray((index * 3 + n) * samples, (index * 3 + n + 1) * samples);
    return { y: plane(0), u: plane(1), v: plane(2) };
  });
}

/**
 * The scan that each picture is flagged with, as the `showinfo` filter prints it: P whole, T and B by the field that
 * comes first.
 */
function scansIn(said: string): Scan[] {
  const names: Readonly<Record<string, Scan>> = { P: 'progressive', T: 'top-field-first', B: 'bottom-field-first' };
  return [...new Set([...said.matchAll(/ i:([PTB]) /g)].map((match) => names[match[1] as string] as Scan))];
}
