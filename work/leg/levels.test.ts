import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Deliverable, type Recipe } from '@relay/core/recipe/recipe';
import { outputWarnings } from '@relay/core/recipe/warnings';
import { unwrap } from '@relay/core/result';
import { describeFile } from '@relay/media/describe/describe';
import { openOutput } from '@relay/media/leg/open';
import { ffmpeg, ffprobe, inputArguments } from '@relay/media/process/ffmpeg';
import { runOwn } from '@relay/media/process/run';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { runLeg } from './leg.ts';

/**
 * Levels and matrices, held against the codes that SMPTE RP 219 prints for colour bars at 75 % in BT.709 and 10 bits,
 * and BT.709-6's white (940) and black (64); the rows are from memory. What is made is read plane by plane and turned
 * to R'G'B' here, by the tags that ffprobe finds.
 */
const bars: readonly { rgb: readonly [number, number, number]; codes: readonly [number, number, number] }[] = [
  { rgb: [1, 1, 1], codes: [940, 512, 512] },
  { rgb: [0.75, 0.75, 0], codes: [674, 176, 543] },
  { rgb: [0, 0.75, 0.75], codes: [581, 589, 176] },
  { rgb: [0, 0.75, 0], codes: [534, 253, 207] },
  { rgb: [0.75, 0, 0.75], codes: [251, 771, 817] },
  { rgb: [0.75, 0, 0], codes: [204, 435, 848] },
  { rgb: [0, 0, 0.75], codes: [111, 848, 481] },
  { rgb: [0, 0, 0], codes: [64, 512, 512] },
];

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-levels-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** Luma weights of red and blue: BT.709-6, item 3.2, and BT.601-7, item 2.5.1. */
const kr = { bt709: 0.2126, smpte170m: 0.299, bt470bg: 0.299 } as const;
const kb = { bt709: 0.0722, smpte170m: 0.114, bt470bg: 0.114 } as const;
type Matrix = keyof typeof kr;

function codesOf(
  [r, g, b]: readonly [number, number, number],
  matrix: Matrix,
  full: boolean,
): [number, number, number] {
  const y = kr[matrix] * r + (1 - kr[matrix] - kb[matrix]) * g + kb[matrix] * b;
  const [blue, red] = [(b - y) / (2 * (1 - kb[matrix])), (r - y) / (2 * (1 - kr[matrix]))];
  return full ? [y * 1023, 512 + blue * 1023, 512 + red * 1023] : [64 + y * 876, 512 + blue * 896, 512 + red * 896];
}

function rgbOf(
  [y, blue, red]: readonly [number, number, number],
  matrix: Matrix,
  full: boolean,
  bits: number,
): [number, number, number] {
  const most = 2 ** bits - 1;
  const unit = 2 ** (bits - 8);
  const [luma, cb, cr] = full
    ? [y / most, (blue - 2 ** (bits - 1)) / most, (red - 2 ** (bits - 1)) / most]
    : [(y / unit - 16) / 219, (blue / unit - 128) / 224, (red / unit - 128) / 224];
  const [r, b] = [luma + 2 * (1 - kr[matrix]) * cr, luma + 2 * (1 - kb[matrix]) * cb];
  return [r, (luma - kr[matrix] * r - kb[matrix] * b) / (1 - kr[matrix] - kb[matrix]), b];
}

/** So many frames of bars as FFV1, which keeps every code, in planes of 10 bits. */
async function original(
  name: string,
  width: number,
  height: number,
  planes: readonly (readonly [number, number, number])[],
  format: string,
  tags: readonly string[],
  frames = 12,
): Promise<ClipDescription> {
  const raw = Buffer.alloc(width * height * 6);
  for (let plane = 0; plane < 3; plane += 1) {
    for (let y = 0; y < height; y += 1) {
      for (let x = 0; x < width; x += 1)
        raw.writeUInt16LE(
          Math.round(planes[Math.floor((x * planes.length) / width)]?.[plane] as number),
          ((plane * height + y) * width + x) * 2,
        );
    }
  }
  await writeFile(join(folder, `${name}.raw`), raw);
  const ended = await runOwn(ffmpeg, [
    '-v',
    'error',
    '-y',
    '-f',
    'rawvideo',
    '-pix_fmt',
    format,
    '-s',
    `${width}x${height}`,
    '-r',
    '25',
    '-i',
    join(folder, `${name}.raw`),
    '-vf',
    `loop=loop=${frames - 1}:size=1,setpts=N/25/TB`,
    '-r',
    '25',
    '-frames:v',
    String(frames),
    '-c:v',
    'ffv1',
    ...tags,
    join(folder, `${name}.mkv`),
  ]);
  if (ended.code !== 0) throw new Error(ended.stderr);
  return (await describeFile(join(folder, `${name}.mkv`), `${name}.mkv`)) as ClipDescription;
}

interface Found {
  colours: [number, number, number][];
  matrix: string | undefined;
}

/**
 * The bars of an output, by its own planes, from the middle of its first frame; `active` is the share of its width that
 * they fill, in the middle.
 */
async function read(output: Parameters<typeof openOutput>[0], path: string, active: number): Promise<Found> {
  const { input } = openOutput(output, path);
  const probed = await runOwn(ffprobe, [
    '-v',
    'error',
    '-select_streams',
    'v:0',
    '-show_entries',
    'stream=pix_fmt,color_space,color_range,width,height',
    '-of',
    'json',
    ...input,
  ]);
  const [stream] = (
    JSON.parse(probed.stdout) as {
      streams: { pix_fmt: string; color_space?: string; color_range?: string; width: number; height: number }[];
    }
  ).streams;
  if (!stream) throw new Error(`${path} has no picture`);
  const rgb = /^(gbr|rgb)/.test(stream.pix_fmt);
  const bits = rgb ? (stream.pix_fmt.startsWith('gbrp10') ? 10 : 16) : Number(/p(\d\d)/.exec(stream.pix_fmt)?.[1] ?? 8);
  const full = rgb || stream.color_range === 'pc';
  const format = rgb ? `gbrp${bits}le` : `yuv444p${bits > 8 ? `${bits}le` : ''}`;
  const chunks: Buffer[] = [];
  const own = full ? 'pc' : 'tv';
  await runOwn(
    ffmpeg,
    [
      '-v',
      'error',
      ...input,
      '-map',
      '0:v:0',
      '-vf',
      `scale=in_range=${own}:out_range=${own}:flags=neighbor,format=${format}`,
      '-frames:v',
      '1',
      '-f',
      'rawvideo',
      'pipe:1',
    ],
    {
      onData: (chunk) => {
        chunks.push(chunk);
      },
    },
  );
  const bytes = Buffer.concat(chunks);
  const size = stream.width * stream.height;
  expect(bytes.length).toBe(size * 3 * (bits > 8 ? 2 : 1));
  const at = (plane: number, i: number): number =>
    bits > 8 ? bytes.readUInt16LE((plane * size + i) * 2) : (bytes[plane * size + i] as number);
  const matrix = (stream.color_space ?? (stream.height <= 576 ? 'smpte170m' : 'bt709')) as Matrix;
  const left = (stream.width * (1 - active)) / 2;
  return {
    matrix: stream.color_space,
    colours: bars.map((_, bar) => {
      const i =
        Math.floor(stream.height / 2) * stream.width +
        Math.floor(left + ((bar + 0.5) / bars.length) * stream.width * active);
      const [a, b, c] = [at(0, i), at(1, i), at(2, i)];
      return rgb
        ? [c / (2 ** bits - 1), a / (2 ** bits - 1), b / (2 ** bits - 1)]
        : rgbOf([a, b, c], matrix, full, bits);
    }),
  };
}

const [intermediate, proxy] = finishAndCut.deliverables as [Deliverable, Deliverable];
const as = (
  name: string,
  codec: Deliverable['codec'],
  wrapper: Deliverable['wrapper'],
  more: Partial<Deliverable> = {},
): Deliverable => ({ ...intermediate, name, folder: name, codec, wrapper, ...more });
/** What is made, and how far of 255 a colour may lie off in it. */
const wanted: readonly [Deliverable, number][] = [
  [as('prores', { id: 'prores', profile: 'hq' }, 'mov'), 0.8],
  [{ ...proxy, name: 'proxy', folder: 'proxy' }, 2.5],
  [as('tiff', { id: 'pictures', format: 'tiff' }, 'pictures'), 0.3],
  [as('dpx', { id: 'pictures', format: 'dpx' }, 'pictures'), 0.5],
  [as('png', { id: 'pictures', format: 'png' }, 'pictures'), 0.3],
  [as('mjpeg', { id: 'mjpeg', quality: 2 }, 'mov'), 2.5],
  [as('v210', { id: 'v210' }, 'avi', { raster: { kind: 'fit', width: 960, height: 540 } }), 0.8],
  [as('vc3', { id: 'vc3', profile: 'hqx' }, 'mxf'), 0.8],
];

describe('thinned-out chroma', () => {
  it('lies with the left luma sample, as zimg puts it there, and not between two', async () => {
    const size = 128;
    const painted = join(folder, 'edges.mkv');
    const ended = await runOwn(ffmpeg, [
      '-v',
      'error',
      '-y',
      '-f',
      'lavfi',
      '-i',
      `color=c=blue:s=${size}x${size}:r=25:d=0.2,format=yuv444p,drawbox=x=33:y=0:w=40:h=${size}:c=red:t=fill`,
      '-c:v',
      'ffv1',
      '-colorspace',
      'bt709',
      painted,
    ]);
    expect(ended.stderr).toBe('');
    const clip = (await describeFile(painted, 'edges.mkv')) as ClipDescription;
    const plan = unwrap(
      planLeg(clip, { ...finishAndCut, deliverables: [as('ffv1', { id: 'ffv1', sampling: '4:2:0 8' }, 'mkv')] }),
    );
    const result = await runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: 'edges' },
      owner: 'test.edges',
      whole: 'X',
      recorded: async () => null,
      record: async () => undefined,
    });
    expect([result.state, result.outputs[0]?.proof?.reasons ?? result.problem]).toEqual(['proved', []]);
    const planes = async (path: string, filter: string): Promise<Buffer> => {
      const chunks: Buffer[] = [];
      await runOwn(
        ffmpeg,
        [
          '-v',
          'error',
          ...inputArguments(path),
          '-map',
          '0:v:0',
          '-vf',
          filter,
          '-frames:v',
          '1',
          '-f',
          'rawvideo',
          'pipe:1',
        ],
        {
          onData: (chunk) => {
            chunks.push(chunk);
          },
        },
      );
      return Buffer.concat(chunks).subarray(size * size);
    };
    const found = await planes(join(folder, 'edges', plan.outputs[0]?.path ?? ''), 'null');
    const away = (reference: Buffer): number =>
      reference.reduce((worst, value, i) => Math.max(worst, Math.abs(value - (found[i] as number))), 0);
    expect(away(await planes(painted, 'zscale=filter=bicubic:chromal=left,format=yuv420p'))).toBeLessThanOrEqual(2);
    expect(away(await planes(painted, 'zscale=filter=bicubic:chromal=center,format=yuv420p'))).toBeGreaterThan(20);
  });
});

describe('levels and matrices', () => {
  it.each<
    [
      string,
      number,
      number,
      (bar: (typeof bars)[number]) => readonly [number, number, number],
      string,
      readonly string[],
    ]
  >([
    ['untagged HD, legal', 1280, 720, ({ codes }) => codes, 'yuv444p10le', []],
    [
      'tagged BT.601 in HD',
      1280,
      720,
      ({ rgb }) => codesOf(rgb, 'smpte170m', false),
      'yuv444p10le',
      ['-colorspace', 'smpte170m'],
    ],
    ['untagged SD', 720, 576, ({ rgb }) => codesOf(rgb, 'smpte170m', false), 'yuv444p10le', []],
    [
      'full range',
      1280,
      720,
      ({ rgb }) => codesOf(rgb, 'bt709', true),
      'yuv444p10le',
      ['-color_range', 'pc', '-colorspace', 'bt709'],
    ],
    ["R'G'B'", 1280, 720, ({ rgb: [r, g, b] }) => [g * 1023, b * 1023, r * 1023], 'gbrp10le', []],
  ])('of %s are the published ones in whatever is made', async (name, width, height, codes, format, tags) => {
    const clip = await original(name.replaceAll(/\W/g, '-'), width, height, bars.map(codes), format, tags, 4);
    const recipe: Recipe = { ...finishAndCut, deliverables: wanted.map(([one]) => one) };
    const plan = unwrap(planLeg(clip, recipe));
    const into = `out-${name.replaceAll(/\W/g, '-')}`;
    const result = await runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: into },
      owner: 'test.levels',
      whole: 'X',
      recorded: async () => null,
      record: async () => undefined,
    });
    expect(result.outputs.map(({ path, state, proof, problem }) => [path, state, proof?.reasons ?? problem])).toEqual(
      plan.outputs.map(({ path }) => [path, 'proved', []]),
    );
    for (const [index, output] of plan.outputs.entries()) {
      const found = await read(output, join(folder, into, output.path), 1);
      const off = found.colours.map((colour, bar) =>
        Math.max(...colour.map((value, c) => Math.abs(value - (bars[bar]?.rgb[c] as number)) * 255)),
      );
      // White is white: 1023 of 1023 in images.
      if (output.wrapper === 'pictures')
        expect(found.colours[0]?.map((value) => Math.round(value * 1023))).toEqual([1023, 1023, 1023]);
      expect([
        output.deliverable,
        Math.max(...off) <= (wanted[index]?.[1] as number),
        off.map((value) => value.toFixed(2)),
      ]).toEqual([output.deliverable, true, off.map((value) => value.toFixed(2))]);
    }
  });
});

describe('OpenEXR brought to light', () => {
  /** ACEScct, S-2016-001: linear light of codes above the toe. */
  const light = (signal: number): number => 2 ** (signal * 17.52 - 9.72);
  const exr: Deliverable = as('exr', { id: 'pictures', format: 'exr' }, 'pictures', {
    colour: { kind: 'brought', state: 'acescg' },
  });
  // Greys from 1 % of white to 90 times it, which whole numbers would cut off at 1.09.
  const signals = [0.18, 0.3, 0.4135884, 0.5, 0.55, 0.65, 0.8, 0.925];

  async function made(into: string, deliverable: Deliverable) {
    const clip = await original(
      into,
      640,
      360,
      signals.map((signal) => [64 + 876 * signal, 512, 512] as const),
      'yuv444p10le',
      ['-colorspace', 'bt709'],
    );
    const corrections = {
      colour: { input: 'acescct', inputRange: 'full' as const, steps: [], output: 'bt709', rendering: null },
    };
    const plan = unwrap(planLeg(clip, { ...finishAndCut, deliverables: [deliverable] }, corrections));
    const result = await runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: into },
      owner: 'test.light',
      whole: 'X',
      recorded: async () => null,
      record: async () => undefined,
    });
    const [output] = plan.outputs as [(typeof plan.outputs)[number]];
    const chunks: Buffer[] = [];
    const decoded = await runOwn(
      ffmpeg,
      [
        '-v',
        'error',
        ...openOutput(output, join(folder, into, output.path)).input,
        '-map',
        '0:v:0',
        '-vf',
        'format=gbrpf32le',
        '-pix_fmt',
        'gbrpf32le',
        '-frames:v',
        '1',
        '-f',
        'rawvideo',
        'pipe:1',
      ],
      {
        onData: (chunk) => {
          chunks.push(chunk);
        },
      },
    );
    expect([result.outputs[0]?.problem ?? null, decoded.stderr]).toEqual([null, '']);
    const bytes = Buffer.concat(chunks);
    const greys = signals.map((_, bar) =>
      bytes.readFloatLE(
        (Math.floor(output.video.raster.height / 2) * output.video.raster.width +
          Math.floor(output.video.raster.width * ((bar + 0.5) / signals.length))) *
          4,
      ),
    );
    return { result, plan, greys };
  }

  it('keeps all of it, by the published curve, and its proof says so', async () => {
    const { result, greys } = await made('light', exr);
    expect([result.state, result.outputs[0]?.proof?.reasons ?? result.problem]).toEqual(['proved', []]);
    greys.forEach((grey, bar) =>
      expect(Math.abs(grey / light(signals[bar] as number) - 1), `bar ${bar}: ${grey}`).toBeLessThan(0.015),
    );
    expect(result.outputs[0]?.proof?.comparisons.find(({ name }) => name === 'light above white')?.found).toMatch(
      /^-?0\.\d\d % at frame 12, where it is \d/,
    );
  });

  it('says beforehand that bars around it cost the light above white', async () => {
    const { plan, result, greys } = await made('bars', { ...exr, raster: { kind: 'pad', width: 640, height: 400 } });
    expect(outputWarnings(plan.original, plan.outputs[0] as (typeof plan.outputs)[number]).join()).toContain(
      'loses light above white',
    );
    expect([result.state, result.outputs[0]?.proof?.reasons ?? result.problem]).toEqual(['proved', []]);
    greys
      .slice(0, 3)
      .forEach((grey, bar) =>
        expect(Math.abs(grey / light(signals[bar] as number) - 1), `bar ${bar}: ${grey}`).toBeLessThan(0.03),
      );
    expect(Math.max(...greys)).toBeLessThan(1.1);
  });
});

describe('a chain baked over hard edges', () => {
  it('is told by the places between them: bars are proved, and to a third of a code', async () => {
    const clip = await original(
      'edges-baked',
      640,
      360,
      bars.map(({ codes }) => codes),
      'yuv444p10le',
      ['-colorspace', 'bt709'],
    );
    const baked = { colour: { kind: 'baked' as const } };
    const deliverables = [
      as('lightest', { id: 'prores', profile: 'proxy' }, 'mov', baked),
      as('hq', { id: 'prores', profile: 'hq' }, 'mov', baked),
      { ...proxy, name: 'proxy', folder: 'proxy', ...baked },
    ];
    const plan = unwrap(
      planLeg(
        clip,
        { ...finishAndCut, deliverables },
        { colour: { input: 'slog3-sgamut3cine', inputRange: 'full', steps: [], output: 'bt709', rendering: null } },
      ),
    );
    const result = await runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: 'edges-baked' },
      owner: 'test.baked',
      whole: 'X',
      recorded: async () => null,
      record: async () => undefined,
    });
    expect(result.outputs.map(({ proof, problem }) => proof?.reasons ?? problem)).toEqual([[], [], []]);
    for (const { proof } of result.outputs)
      expect(
        Number.parseFloat(proof?.comparisons.find(({ name }) => name === 'colour by the chain')?.found ?? '9'),
      ).toBeLessThan(0.34);
  });
});
