import { mkdtemp, readFile, readdir, rm, writeFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { labelAt } from '@relay/core/burn/running';
import type { BurnBox } from '@relay/core/burn/plan';
import type { BurnLayout } from '@relay/core/burn/layout';
import type { ClipDescription } from '@relay/core/clip/description';
import type { ClipCorrections } from '@relay/core/corrections/corrections';
import { burnComparison } from '@relay/core/proof/burn';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { viewingCopies, type Recipe } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { rational } from '@relay/core/time/rational';
import { ffmpeg, inputArguments } from '@relay/media/process/ffmpeg';
import { runOwn as run } from '@relay/media/process/run';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { paintedClip } from '../../testing/paintedClip.ts';
import { runLeg } from './leg.ts';
import type { LegResult } from './outcome.ts';

let folder: string;
let clip: ClipDescription;
const name = 'S009C001.mov';
const font = join(
  dirname(createRequire(import.meta.url).resolve('@fontsource/spline-sans-mono/package.json')),
  'files/spline-sans-mono-latin-600-normal.woff2',
);
const glyphs = '0123456789:;';

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-burn-'));
  clip = await paintedClip(name, folder, { frames: 60 });
});
afterAll(() => rm(folder, { recursive: true, force: true }));

function recipeOf(burn: BurnLayout): Recipe {
  return { ...viewingCopies, deliverables: viewingCopies.deliverables.map((one) => ({ ...one, burn })) };
}

async function grey(input: readonly string[], filters: string, bytes: number): Promise<Buffer[]> {
  const chunks: Buffer[] = [];
  await run(
    ffmpeg,
    [
      '-v',
      'error',
      ...input,
      '-vf',
      filters,
      '-fps_mode',
      'passthrough',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'gray',
      'pipe:1',
    ],
    {
      onData: (chunk) => {
        chunks.push(chunk);
      },
    },
  );
  const all = Buffer.concat(chunks);
  return Array.from({ length: Math.floor(all.length / bytes) }, (_, i) => all.subarray(i * bytes, (i + 1) * bytes));
}

/**
 * Reads a run of figures back from every decoded frame: each cell is the glyph that it is most like, drawn by FFmpeg in
 * the same font apart from our code.
 */
async function readBack(path: string, box: BurnBox, index: number): Promise<string[]> {
  const { fontSize, plate, baseline } = box;
  const one = box.runs[index] as BurnBox['runs'][number];
  const cell = 0.6 * fontSize;
  const text = join(folder, 'glyphs.txt');
  await writeFile(text, glyphs);
  const [width, height] = [cell * glyphs.length, plate.height];
  const [drawn] = await grey(
    ['-f', 'lavfi', '-i', `color=black:s=${width}x${height}`, '-frames:v', '1'],
    `drawtext=fontfile=${font}:textfile=${text}:expansion=none:fontsize=${fontSize}:fontcolor=white:x=0:y=${baseline - plate.y}-ascent`,
    width * height,
  );
  const across = cell * one.text.length;
  const frames = await grey(
    [...inputArguments(path), '-map', '0:v:0'],
    `format=yuv444p,crop=${across}:${height}:${one.x}:${plate.y}`,
    across * height,
  );
  const cellOf = (picture: Buffer, row: number, c: number): number[] =>
    Array.from(
      { length: cell * height },
      (_, i) => picture[Math.floor(i / cell) * row + c * cell + (i % cell)] as number,
    );
  const known = Array.from(glyphs).map((glyph, c) => ({ glyph, cells: cellOf(drawn as Buffer, width, c) }));
  return frames.map((frame) =>
    Array.from({ length: one.text.length }, (_, c) => {
      const seen = cellOf(frame, across, c);
      return known
        .map(({ glyph, cells }) => ({
          glyph,
          apart: cells.reduce((sum, value, i) => sum + Math.abs(value - (seen[i] as number)), 0),
        }))
        .sort((a, b) => a.apart - b.apart)[0]?.glyph;
    }).join(''),
  );
}

async function made(
  layout: BurnLayout,
  corrections: ClipCorrections,
  into: string,
  image: Buffer | null = null,
): Promise<{ plan: LegPlan; result: LegResult }> {
  const plan = unwrap(
    planLeg(clip, recipeOf(layout), corrections, {
      production: 'Salt Lantern',
      date: '2026-11-24',
      scene: '14A',
      take: '3',
    }),
  );
  const result = await runLeg(plan, {
    sourceRoot: folder,
    outRoot: { root: folder, folder: into },
    owner: `test.${into}`,
    whole: 'S009',
    recorded: async () => null,
    record: async () => undefined,
    imageBytes: async () => image,
  });
  return { plan, result };
}

const timecode = 'as labelled' as const;
const running: BurnLayout = {
  size: 'usual',
  lines: [
    { at: 'bottom right', pieces: [{ kind: 'fact', fact: 'source' }] },
    { at: 'bottom left', pieces: [{ kind: 'fact', fact: 'record' }] },
    { at: 'bottom', pieces: [{ kind: 'fact', fact: 'frame' }] },
  ],
};

describe('a burn-in, run and read back', () => {
  it.each<[string, ClipCorrections]>([
    ['as it is', {}],
    ['down', { time: { kind: 'resample', rate: rational(25), how: 'hold', timecode } }],
    ['slower', { time: { kind: 'relabel', rate: rational(24000, 1001), timecode, sound: 'dropped' } }],
  ])("%s: source and record timecode and frame on every decoded frame are the plan's", async (into, corrections) => {
    const { plan, result } = await made(running, corrections, into);
    expect(result.outputs[0]?.proof?.reasons).toEqual([]);
    const [output] = plan.outputs as [OutputPlan];
    for (const box of output.burn?.boxes ?? []) {
      const one = box.runs[0];
      if (one?.kind !== 'running') throw new Error('not running');
      expect(await readBack(join(folder, into, output.path), box, 0)).toEqual(
        Array.from({ length: output.video.frames }, (_, n) => labelAt(one.running, n)),
      );
    }
  });

  it('gives every recipient a copy of their own, draws odd names as they are, lays an image over, and proves pictures and colour beside it', async () => {
    const image = join(folder, 'slate.png');
    await run(ffmpeg, ['-v', 'error', '-f', 'lavfi', '-i', 'testsrc=s=200x100', '-frames:v', '1', '-y', image]);
    const { plan, result } = await made(
      {
        size: 'small',
        lines: [
          { at: 'top left', pieces: [{ kind: 'text', text: "%{n} \\: 'x' [a];b,c Łódź 雨" }] },
          {
            at: 'bottom left',
            pieces: [
              { kind: 'fact', fact: 'scene' },
              { kind: 'fact', fact: 'take' },
            ],
          },
        ],
        mark: {
          as: 'across',
          at: 'centre',
          strength: 'clear',
          pieces: [{ kind: 'fact', fact: 'recipient' }],
          recipients: ['Ada Quill', 'Brim & Sons'],
        },
        image: { image: 'slate', width: 200, height: 100, at: 'right', share: 0.2, opacity: 0.9 },
      },
      {},
      'each',
      await readFile(image),
    );
    expect(result.outputs.map(({ path, state, problem }) => [path, state, problem])).toEqual([
      ['review/Ada-Quill/S009C001.mp4', 'proved', null],
      ['review/Brim-&-Sons/S009C001.mp4', 'proved', null],
    ]);
    const [first] = plan.outputs as [OutputPlan];
    const frames = await Promise.all(
      ['Ada-Quill', 'Brim-&-Sons'].map((who) =>
        grey(
          [
            ...inputArguments(join(folder, 'each/review', who, name.replace('.mov', '.mp4'))),
            '-map',
            '0:v:0',
            '-frames:v',
            '1',
          ],
          'format=gray',
          first.video.raster.width * first.video.raster.height,
        ),
      ),
    );
    // The two copies are told apart by their marks.
    const [a, b] = frames.map((pictures) => pictures[0] as Buffer) as [Buffer, Buffer];
    expect(a.reduce((count, value, i) => count + Number(Math.abs(value - (b[i] as number)) > 20), 0)).toBeGreaterThan(
      2000,
    );
    expect((await readdir(tmpdir())).filter((one) => one.startsWith(`relay-scratch-${process.pid}-`))).toEqual([]);
  });

  it('without its image makes nothing and says so; a copy without its lines does not pass for one with them', async () => {
    const gone = await made(
      { size: 'small', lines: [], image: { image: 'gone', width: 10, height: 10, at: 'top', share: 0.1, opacity: 1 } },
      {},
      'gone',
    );
    expect([gone.result.state, gone.result.problem?.what]).toEqual([
      'failed',
      `${name}: The image that is laid over is no longer kept: choose it again in the recipe`,
    ]);
    const bad = await made(
      { size: 'small', lines: [], image: { image: 'bad', width: 10, height: 10, at: 'top', share: 0.1, opacity: 1 } },
      {},
      'bad',
      Buffer.from('no picture'),
    );
    expect(bad.result.problem?.what).toContain('cannot be decoded');
    const { plan } = await made(running, {}, 'told');
    const burn = plan.outputs[0]?.burn as NonNullable<OutputPlan['burn']>;
    const flat = new Uint16Array(burn.raster.width * burn.raster.height);
    for (const code of [16, 120, 235])
      expect(burnComparison(burn, null, { frame: 0, luma: flat.fill(code * 256) })[0]?.holds).toBe(false);
    expect(burnComparison(burn, null, null)[0]?.holds).toBe(false);
  });
});
