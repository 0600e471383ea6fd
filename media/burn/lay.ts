import { burnFont } from '@relay/core/burn/font';
import type { BurnBox, BurnPlan } from '@relay/core/burn/plan';
import { runningFields, type Running } from '@relay/core/burn/running';
import type { Raster } from '@relay/core/shape/raster';
import type { Window } from '@relay/core/shape/window';
import { writeFile } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { ffmpeg } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';
import { byFont, fontPath, layFonts } from './font.ts';

/** What is laid over an output's pictures: still layers, then text that runs. All files have plain names. */
export interface LaidBurn {
  layers: { file: string; at: Window; frames: number | null }[];
  texts: string[];
}

function hex(code: number): string {
  const grey = Math.round(code * 255)
    .toString(16)
    .padStart(2, '0');
  return `0x${grey}${grey}${grey}`;
}

/** Text in a file of its own, so that nothing in it is taken for the filter's words. */
async function drawn(
  folder: string,
  name: string,
  text: string,
  place: {
    x: number;
    baseline: number;
    fontSize: number;
    colour: string;
    file?: 'latin' | 'latin-ext';
    expands?: boolean;
  },
): Promise<string> {
  const path = under(folder, name);
  await writeFile(path, text);
  const { x, baseline, fontSize, colour, file = 'latin', expands = false } = place;
  // `ascent` is how far this text goes above its baseline, which is where the filter puts the top.
  return `drawtext=fontfile=${fontPath(folder, file)}:textfile=${path}:expansion=${expands ? 'normal' : 'none'}:fontsize=${fontSize}:fontcolor=${colour}:x=${x}:y=${baseline}-ascent`;
}

/** Text that stands still, divided by the font files that hold it. */
async function still(
  folder: string,
  name: string,
  text: string,
  place: { x: number; baseline: number; fontSize: number; colour: string },
): Promise<string[]> {
  return Promise.all(
    byFont(text)
      .filter((part) => part.text.trim() !== '')
      .map((part, i) =>
        drawn(folder, `${name}.${i}.txt`, part.text, {
          ...place,
          x: place.x + Math.round(part.from * burnFont.advance * place.fontSize),
          file: part.file,
        }),
      ),
  );
}

/** The words of FFmpeg's own text expansion for a running label; nothing of the clip's is among them. */
function expansion(running: Running): string {
  return runningFields(running)
    .map((field) => (typeof field === 'string' ? field : `%{eif:${field.formula}:d:${field.digits}}`))
    .join('');
}

/**
 * Draws a picture of its own, once: a ground of `width` × `height` samples, transparent and of `grey`, 0 to 255, with
 * plates on it, and filters over that. The ground is made here: FFmpeg 5.1's own box filter breaks down on pictures
 * with alpha.
 */
async function paint(
  file: string,
  ground: { width: number; height: number; grey: number; plates?: readonly Window[]; plateStrength?: number },
  filters: readonly string[],
  signal?: AbortSignal,
): Promise<void> {
  const { width, height, grey, plates = [], plateStrength = 1 } = ground;
  const samples = Buffer.alloc(width * height * 4);
  for (let i = 0; i < samples.length; i += 4) samples.fill(grey, i, i + 3);
  const plate = Buffer.from([0, 0, 0, Math.round(plateStrength * 255)]);
  for (const { x, y, width: across, height: down } of plates) {
    for (let row = y; row < y + down; row += 1)
      samples.fill(plate, (row * width + x) * 4, (row * width + x + across) * 4);
  }
  const raw = `${file}.ground`;
  await writeFile(raw, samples);
  const ended = await run(
    ffmpeg,
    [
      '-hide_banner',
      '-v',
      'error',
      '-nostats',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgba',
      '-video_size',
      `${width}x${height}`,
      '-i',
      `file:${raw}`,
      '-vf',
      [...filters, 'format=rgba'].join(','),
      '-frames:v',
      '1',
      '-f',
      'image2',
      '-c:v',
      'png',
      '-y',
      `file:${file}`,
    ],
    { signal, timeoutMs: 60_000 },
  );
  if (ended.code !== 0)
    throw new Error(`The burn-in could not be drawn: ${ended.stderr.trim().split('\n')[0] ?? 'FFmpeg says nothing'}`);
}

function around(windows: readonly Window[]): Window {
  const x = Math.min(...windows.map((one) => one.x));
  const y = Math.min(...windows.map((one) => one.y));
  return {
    x,
    y,
    width: Math.max(...windows.map((one) => one.x + one.width)) - x,
    height: Math.max(...windows.map((one) => one.y + one.height)) - y,
  };
}

async function rowLayer(
  folder: string,
  name: string,
  boxes: readonly BurnBox[],
  burn: BurnPlan,
  signal?: AbortSignal,
): Promise<LaidBurn['layers'][number]> {
  const at = around(boxes.map((box) => box.plate));
  const filters: string[] = [];
  for (const [b, { baseline, fontSize, runs }] of boxes.entries()) {
    for (const [r, one] of runs.entries()) {
      if (one.kind === 'text')
        filters.push(
          ...(await still(folder, `${name}.${b}.${r}`, one.text, {
            x: one.x - at.x,
            baseline: baseline - at.y,
            fontSize,
            colour: hex(burn.white),
          })),
        );
    }
  }
  const file = under(folder, `${name}.png`);
  const plates = boxes.map(({ plate }) => ({ ...plate, x: plate.x - at.x, y: plate.y - at.y }));
  await paint(
    file,
    { width: at.width, height: at.height, grey: 0, plates, plateStrength: burn.plateStrength },
    filters,
    signal,
  );
  return { file, at, frames: null };
}

async function acrossLayer(
  folder: string,
  name: string,
  burn: BurnPlan,
  signal?: AbortSignal,
): Promise<LaidBurn['layers']> {
  const { across, raster } = burn;
  if (!across) return [];
  const { text, fontSize, opacity, degrees } = across;
  const [width, height] = [Math.ceil(text.length * burnFont.advance * fontSize), Math.ceil(fontSize * 1.4)];
  const colour = hex(burn.white);
  const angle = ((degrees * Math.PI) / 180).toFixed(6);
  const file = under(folder, `${name}.png`);
  await paint(
    file,
    { width, height, grey: Math.round(burn.white * 255) },
    [
      ...(await still(folder, name, text, { x: 0, baseline: Math.round(fontSize * 1.05), fontSize, colour })),
      `rotate=${angle}:ow=rotw(${angle}):oh=roth(${angle}):c=${colour}@0`,
      `colorchannelmixer=aa=${opacity}`,
      // As large as the output: parts of it may lie outside.
      `pad=max(iw\\,${raster.width}):max(ih\\,${raster.height}):(ow-iw)/2:(oh-ih)/2:color=${colour}@0`,
      `crop=${raster.width}:${raster.height}`,
    ],
    signal,
  );
  return [{ file, at: { x: 0, y: 0, ...raster }, frames: null }];
}

/**
 * Makes ready what an output's burn-in needs, in `folder`, which has a plain name. `imageFile` is where the laid-over
 * picture's bytes lie.
 * @throws Error in plain words when something cannot be drawn
 */
export async function layBurn(
  burn: BurnPlan,
  folder: string,
  name: string,
  imageFile: string | null,
  signal?: AbortSignal,
): Promise<LaidBurn> {
  await layFonts(folder);
  const layers: LaidBurn['layers'] = [];
  if (burn.image) {
    if (imageFile === null)
      throw new Error('The image that is laid over is no longer kept: choose it again in the recipe');
    const file = under(folder, `${name}.image.png`);
    const { at, opacity, frames } = burn.image;
    const ended = await run(
      ffmpeg,
      [
        '-hide_banner',
        '-v',
        'error',
        '-nostats',
        '-f',
        'png_pipe',
        '-i',
        `file:${imageFile}`,
        '-vf',
        `format=rgba,scale=${at.width}:${at.height}:flags=area,colorchannelmixer=aa=${opacity}:rr=${burn.white}:gg=${burn.white}:bb=${burn.white}`,
        '-frames:v',
        '1',
        '-f',
        'image2',
        '-c:v',
        'png',
        '-y',
        `file:${file}`,
      ],
      { signal, timeoutMs: 60_000 },
    );
    if (ended.code !== 0)
      throw new Error('The image that is laid over cannot be decoded: choose another in the recipe');
    layers.push({ file, at, frames });
  }
  layers.push(...(await acrossLayer(folder, `${name}.across`, burn, signal)));
  for (const row of ['top', '', 'bottom']) {
    const boxes = burn.boxes.filter(({ at }) =>
      row === '' ? !at.startsWith('top') && !at.startsWith('bottom') : at.startsWith(row),
    );
    if (boxes.length > 0) layers.push(await rowLayer(folder, `${name}.${row || 'middle'}`, boxes, burn, signal));
  }
  const texts: string[] = [];
  for (const [b, { baseline, fontSize, runs }] of burn.boxes.entries()) {
    for (const [r, one] of runs.entries()) {
      // What the first frame says has the width of every other; blanks before it keep digits in their cells.
      if (one.kind === 'running')
        texts.push(
          await drawn(folder, `${name}.run${b}.${r}.txt`, expansion(one.running), {
            x: one.x,
            baseline,
            fontSize,
            colour: hex(burn.white),
            expands: true,
          }),
        );
    }
  }
  return { layers, texts };
}

/** Pixel formats that layers are blended in → FFmpeg's name for the blending, and the layer's own format. */
const blending: Readonly<Record<string, readonly [string, string]>> = {
  yuv420p: ['yuv420', 'yuva420p'],
  yuv420p10le: ['yuv420p10', 'yuva420p10le'],
  yuv422p: ['yuv422', 'yuva422p'],
  yuv422p10le: ['yuv422p10', 'yuva422p10le'],
  yuv444p: ['yuv444', 'yuva444p'],
};

/**
 * What pictures are brought to where FFmpeg's overlay cannot blend with theirs: layers are merged by a mask then, and
 * nothing is lost.
 */
export const denseFormat = 'yuv444p16le';

/** The format that layers are laid over: the output's own where that can be blended with. */
export function layingFormat(format: string): string {
  return format in blending ? format : denseFormat;
}

/** A layer merged with the picture by its own alpha, in as many bits as the picture has. */
function merged(
  { file, at, frames }: LaidBurn['layers'][number],
  raster: Raster,
  matrix: string,
  [under, over, mask]: readonly [string, string, string],
): string {
  return [
    `null${under};movie=${file},format=rgba,pad=${raster.width}:${raster.height}:${at.x}:${at.y}:color=black@0,split${over}${mask}`,
    `${over}scale=out_range=tv:out_color_matrix=${matrix}:flags=accurate_rnd,format=${denseFormat}${over}`,
    `${mask}alphaextract,format=gray16le,mergeplanes=0x000000:${denseFormat}${mask}`,
    `${under}${over}${mask}maskedmerge${frames === null ? '' : `=enable='lt(n,${frames})'`}`,
  ].join(';');
}

/**
 * A graph's middle: still layers over the picture, then running text. `name` keeps the labels of several in one graph
 * apart. `format` is one that `layingFormat` gives, `raster` the picture's.
 */
export function burnFilters(
  { layers, texts }: LaidBurn,
  format: string,
  raster: Raster,
  matrix: string,
  name: string,
): string[] {
  const laid = layers.map((layer, i) => {
    const { file, at, frames } = layer;
    const formats = blending[format];
    if (!formats) return merged(layer, raster, matrix, [`[${name}u${i}]`, `[${name}o${i}]`, `[${name}m${i}]`]);
    const [blend, layerFormat] = formats;
    const [under, over] = [`[${name}u${i}]`, `[${name}o${i}]`];
    return `null${under};movie=${file},scale=out_range=tv:out_color_matrix=${matrix}:flags=accurate_rnd,format=${layerFormat}${over};${under}${over}overlay=x=${at.x}:y=${at.y}:format=${blend}${frames === null ? '' : `:enable='lt(n,${frames})'`}`;
  });
  return [...laid, ...texts];
}
