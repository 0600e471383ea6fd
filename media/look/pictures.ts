import { readFile, rm } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import type { Scan, VideoDescription } from '@relay/core/clip/description';
import type { Edges } from '@relay/core/measure/bars';
import { findBars } from '@relay/core/measure/bars';
import { measureLevels, type SampledPicture } from '@relay/core/measure/levels';
import type { PictureMeasure } from '@relay/core/measure/measured';
import { displayAspect } from '@relay/core/shape/raster';
import { toNumber } from '@relay/core/time/rational';
import { complaints, ffmpeg, inputArguments } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';
import { memoryFor } from '../process/sandbox.ts';
import { scratchFolder } from '../process/scratch.ts';

/** A picture to be taken: the file that holds it, the second in it, and its number in that file. */
export interface Place {
  path: string;
  seconds: number;
  frame: number;
}

/**
 * A file of fewer pictures is decoded from its beginning: that costs less than finding nine places in it, and needs no
 * index to be right.
 */
export const fewPictures = 300;

const sampled = { width: 320, height: 180 };
const acrossColumns = 48;
const acrossRows = 64;

/** Height of the pictures of a strip. */
const stripHeight = 90;

/**
 * Takes pictures from several places of a clip in one process: sampled for their levels, by columns and rows for their
 * edges (nearest samples only, nothing mixed, codes as stored), and small, side by side, as a JPEG strip at `strip`.
 * Null when not one picture decodes.
 */
export async function lookAtPictures(
  places: readonly Place[],
  video: VideoDescription,
  wrapperId: string,
  strip: string,
): Promise<{ measure: PictureMeasure | null; errors: string[] }> {
  const folder = await scratchFolder();
  try {
    const { width, height } = video.raster;
    const [small, columns, rows] = ['small', 'columns', 'rows'].map((name) => under(folder, name)) as [
      string,
      string,
      string,
    ];
    const same = 'flags=neighbor:in_range=tv:out_range=tv:in_color_matrix=bt709:out_color_matrix=bt709';
    const stripWidth = Math.max(
      2,
      Math.round((stripHeight * toNumber(displayAspect(video.raster, video.pixelAspect))) / 2) * 2,
    );
    const range = video.colour.range === 'full' ? 'pc' : 'tv';
    const rgb = video.chroma === 'rgb';
    // RGB has no luma plane; its levels are those of the legal picture made of it.
    const toLuma = rgb ? 'format=yuv444p16le,' : '';
    const few = video.frames <= fewPictures;
    const files = [...new Set(places.map((place) => place.path))];
    const inputs = few
      ? files.map((path) => ({
          before: [] as string[],
          path,
          take: `select='${places
            .filter((place) => place.path === path)
            .map((place) => `eq(n,${place.frame})`)
            .join('+')}',setpts=N`,
        }))
      : places.map(({ path, seconds }) => ({
          before: ['-ss', seconds.toFixed(6)],
          path,
          take: 'trim=end_frame=1,setpts=0',
        }));
    // Where there is no index, a place in the middle is found by guess, and what is broken off there complains for
    // nothing.
    const believed = few || !/^mpeg/.test(wrapperId);
    const ended = await run(
      ffmpeg,
      [
        '-hide_banner',
        '-nostats',
        '-v',
        'level+info',
        '-y',
        ...inputs.flatMap(({ before, path }) => ['-threads', '2', '-noautorotate', ...before, ...inputArguments(path)]),
        '-filter_complex',
        [
          ...inputs.map(({ take }, index) => `[${index}:v:0]${take},${toLuma}setsar=1[p${index}]`),
          `${inputs.map((_, index) => `[p${index}]`).join('')}concat=n=${inputs.length}:v=1:a=0,showinfo,split=4[a][b][c][d]`,
          `[a]scale=${Math.min(sampled.width, width)}:${Math.min(sampled.height, height)}:${same},format=yuv444p16le[small]`,
          `[b]${video.chroma === '4:0:0' ? '' : 'extractplanes=y,'}scale=${width}:${acrossColumns}:${same},format=gray16le[columns]`,
          `[c]${video.chroma === '4:0:0' ? '' : 'extractplanes=y,'}scale=${acrossRows}:${height}:${same},format=gray16le[rows]`,
          `[d]scale=${stripWidth}:${stripHeight}:flags=bicubic:in_range=${range}:out_range=pc:out_color_matrix=bt601,format=yuvj420p,tile=${places.length}x1[strip]`,
        ].join(';'),
        '-map',
        '[small]',
        '-vsync',
        'passthrough',
        '-f',
        'rawvideo',
        `file:${small}`,
        '-map',
        '[columns]',
        '-vsync',
        'passthrough',
        '-f',
        'rawvideo',
        `file:${columns}`,
        '-map',
        '[rows]',
        '-vsync',
        'passthrough',
        '-f',
        'rawvideo',
        `file:${rows}`,
        '-map',
        '[strip]',
        '-frames:v',
        '1',
        '-c:v',
        'mjpeg',
        '-q:v',
        '3',
        '-f',
        'image2',
        '-update',
        '1',
        `file:${strip}`,
      ],
      { timeoutMs: 300_000, memoryBytes: memoryFor(inputs.length * width * height) },
    );
    const errors = !believed
      ? []
      : complaints(
          ended.stderr
            .split('\n')
            .filter((line) => /\[(error|fatal)\]/.test(line))
            .map((line) => line.replace(/\[(error|fatal)\] ?/, ''))
            .join('\n'),
        );
    const read = async (path: string): Promise<Uint16Array> => {
      const bytes = await readFile(path).catch(() => Buffer.alloc(0));
      return new Uint16Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + (bytes.length & ~1)));
    };
    const pictures = splitPlanes(await read(small), Math.min(sampled.width, width) * Math.min(sampled.height, height));
    const levels = measureLevels(pictures);
    if (!levels) return { measure: null, errors };
    const [columnData, rowData] = [await read(columns), await read(rows)];
    const edges = pictures.map((_, index): Edges => ({
      columns: columnData.subarray(index * width * acrossColumns, (index + 1) * width * acrossColumns),
      rows: rowData.subarray(index * height * acrossRows, (index + 1) * height * acrossRows),
    }));
    const bars = findBars(edges, video.raster, video.colour.range === 'full' && !rgb ? 0 : 16 << 8);
    return { measure: { ...levels, bars, scans: scansIn(ended.stderr) }, errors };
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
