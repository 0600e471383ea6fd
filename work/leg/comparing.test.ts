import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import type { ClipCorrections } from '@relay/core/corrections/corrections';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { stacked } from '@relay/core/shape/stacked';
import { shownBy } from '@relay/core/time/frameMap';
import { rational } from '@relay/core/time/rational';
import { readStrip } from '@relay/demo/scene/slate';
import { originalSide, outputSide, type Side } from '@relay/media/compare/side';
import { pairStill } from '@relay/media/compare/still';
import { playPair, playPairBack, type Pair, type Played } from '@relay/media/compare/stream';
import { describeFile } from '@relay/media/describe/describe';
import { openOutput } from '@relay/media/leg/open';
import { ffmpeg, inputArguments } from '@relay/media/process/ffmpeg';
import { runOwn as run } from '@relay/media/process/run';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { paintedClip } from '../../testing/paintedClip.ts';
import { runLeg } from './leg.ts';
import { quickH264 } from '../../testing/commands.ts';

/** What two sides show beside each other, read back from the slates of what is played. */

let folder: string;
let clip: ClipDescription;
const name = 'S009C001.mov';
const proxies: Recipe = {
  ...finishAndCut,
  deliverables: finishAndCut.deliverables.filter(({ role }) => role === 'proxy'),
};
const timecode = 'as labelled' as const;
/** Large enough for its slate to be read. */
const small = { frames: 30, width: 960, height: 540 };
interface PaintedSize {
  frames: number;
  width?: number;
  height?: number;
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-comparing-'));
  clip = await paintedClip(name, folder, { ...small, frames: 60 });
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** An output made of the clip, as a side beside another output's times, and beside its original. */
async function made(into: string, corrections: ClipCorrections): Promise<OutputPlan> {
  const plan = unwrap(planLeg(clip, proxies, corrections));
  await runLeg(plan, {
    sourceRoot: folder,
    outRoot: { root: folder, folder: into },
    owner: `test.${into}`,
    whole: 'S009',
    recorded: async () => null,
    record: async () => undefined,
  });
  return plan.outputs[0] as OutputPlan;
}

function sideOf(output: OutputPlan, into: string, beside: OutputPlan): Side {
  return outputSide(openOutput(output, join(folder, into, output.path)), output, beside) as Side;
}

function withOriginal(output: OutputPlan, into: string): Pair {
  const input = inputArguments(join(folder, name));
  return {
    first: sideOf(output, into, output),
    second: originalSide({ clip, input, hands: [] }, output) as Side,
    rate: output.video.rate,
    frames: output.video.frames,
  };
}

interface Seen {
  first: number[];
  second: number[];
  /** Times of the pictures in the stream, in its first side's frames. */
  times: number[];
  sound: number;
}

async function played(pair: Pair, what: Played, play = playPair): Promise<Seen> {
  const file = join(folder, 'played.mp4');
  const chunks: Buffer[] = [];
  await play(
    pair,
    what,
    (chunk) => {
      chunks.push(chunk);
    },
    new AbortController().signal,
  );
  await writeFile(file, Buffer.concat(chunks));
  const { raster, first, second } = stacked(pair.first.light, pair.second.light);
  const seen: Seen = { first: [], second: [], times: [], sound: 0 };
  let rest = Buffer.alloc(0);
  const size = raster.width * raster.height;
  const part = (of: typeof first): number => {
    const luma = new Uint8Array(of.width * of.height);
    for (let row = 0; row < of.height; row += 1)
      luma.set(rest.subarray((of.y + row) * raster.width, (of.y + row) * raster.width + of.width), row * of.width);
    return readStrip(luma, of.width, of.height, of.width / of.height);
  };
  await run(
    ffmpeg,
    ['-v', 'error', '-i', file, '-fps_mode', 'passthrough', '-vf', 'extractplanes=y', '-f', 'rawvideo', 'pipe:1'],
    {
      onData: (chunk) => {
        rest = Buffer.concat([rest, chunk]);
        for (; rest.length >= size; rest = rest.subarray(size)) {
          seen.first.push(part(first));
          seen.second.push(part(second));
        }
      },
    },
  );
  const probed = await run('ffprobe', [
    ...['-v', 'error', '-select_streams', 'v:0', '-show_entries', 'packet=pts_time', '-of', 'csv=p=0', file],
  ]);
  seen.times = probed.stdout
    .trim()
    .split('\n')
    .map((line) => Math.round((parseFloat(line) * pair.rate.num) / pair.rate.den));
  const heard = await run('ffprobe', [
    ...['-v', 'error', '-select_streams', 'a:0', '-show_entries', 'stream=duration', '-of', 'csv=p=0', file],
  ]);
  seen.sound = parseFloat(heard.stdout) || 0;
  return seen;
}

const range = (from: number, to: number, step = 1): number[] =>
  Array.from({ length: Math.ceil((to - from) / step) }, (_, index) => from + index * step);

describe('an output beside its original', () => {
  it.each<[string, ClipCorrections]>([
    ['plain', {}],
    ['relabelled', { time: { kind: 'relabel', rate: rational(24000, 1001), timecode, sound: 'stretched' } }],
    ['down', { time: { kind: 'resample', rate: rational(25), how: 'hold', timecode } }],
    ['up', { time: { kind: 'resample', rate: rational(96), how: 'hold', timecode } }],
  ])(
    '%s: both show the frame that core says, from any frame on, at once and twice as fast',
    async (into, corrections) => {
      const output = await made(into, corrections);
      const pair = withOriginal(output, into);
      const shown = (n: number): number => shownBy(output.video.map, n, 60).frame;
      const { frames } = output.video;
      for (const [from, every, to] of [
        [0, 1, frames],
        [7, 1, 22],
        [5, 2, frames],
      ] as const) {
        const seen = await played(pair, { from, to, every, sound: { of: 'second', channel: null } });
        const wanted = range(from, to, every).map(shown);
        expect(seen.first).toEqual(wanted);
        expect(seen.second).toEqual(wanted);
        expect(seen.times).toEqual(range(0, wanted.length));
        expect(Math.abs(seen.sound - (wanted.length * pair.rate.den) / pair.rate.num)).toBeLessThan(0.1);
      }
      const stills = await Promise.all(
        [pair.first, pair.second].map((side) => pairStill(side, 9, 4096, new AbortController().signal)),
      );
      for (const [index, still] of stills.entries()) {
        if (!still) throw new Error('no still');
        const side = index === 0 ? pair.first : pair.second;
        expect([still.width, still.height]).toEqual([side.raster.width, side.raster.height]);
        const luma = new Uint16Array(new Uint8Array(still.planes).buffer, 0, still.width * still.height);
        expect(readStrip(luma, still.width, still.height, still.width / still.height)).toBe(shown(9));
      }
    },
  );

  it('is played backwards, every frame or every other, over more than one stretch', async () => {
    const output = await made('back', {});
    const pair = withOriginal(output, 'back');
    const all = await played(pair, { from: 55, to: -1, every: 1, sound: null }, playPairBack);
    const wanted = range(0, 56).reverse();
    expect([all.first, all.second]).toEqual([wanted, wanted]);
    const some = await played(pair, { from: 40, to: 10, every: 4, sound: null }, playPairBack);
    expect(some.second).toEqual([40, 36, 32, 28, 24, 20, 16, 12]);
  });

  it('what is mixed of two frames is mixed alike in both, from any frame on', async () => {
    // Slates cannot be read where two are mixed: difference is measured, against a frame's distance from the next.
    const output = await made('mixed', { time: { kind: 'resample', rate: rational(25), how: 'blend', timecode } });
    const pair = withOriginal(output, 'mixed');
    const luma = async (side: Side, frame: number): Promise<Uint16Array> => {
      const still = await pairStill({ ...side, raster: side.light }, frame, 960, new AbortController().signal);
      if (!still) throw new Error('no still');
      return new Uint16Array(new Uint8Array(still.planes).buffer, 0, still.width * still.height);
    };
    const apart = (a: ArrayLike<number>, b: ArrayLike<number>): number => {
      let sum = 0;
      for (let i = 0; i < a.length; i += 1) sum += Math.abs((a[i] as number) - (b[i] as number));
      return sum / a.length;
    };
    const plain = withOriginal(await made('unmixed', {}), 'unmixed').second;
    for (const frame of [0, 7, 11, 20]) {
      const { frame: one, other } = shownBy(output.video.map, frame, 60);
      const share = other?.share ?? 0;
      const [here, there] = [await luma(plain, one), await luma(plain, other?.frame ?? one)];
      const wanted = Float64Array.from(here, (value, i) => value * (1 - share) + (there[i] as number) * share);
      const seen = await luma(pair.second, frame);
      // An eighth of an 8-bit code on average, and nearer than either frame is.
      expect(apart(seen, wanted)).toBeLessThan(32);
      if (share > 0.2 && share < 0.8) {
        expect(apart(seen, wanted)).toBeLessThan(apart(seen, here) / 2);
        expect(apart(seen, wanted)).toBeLessThan(apart(seen, there) / 2);
      }
      expect(apart(await luma(pair.first, frame), seen)).toBeLessThan(257);
    }
  });
});

describe('by every other kind of map both show the same', () => {
  const kinds: [kind: string, from: string, corrections: ClipCorrections, size: PaintedSize][] = [
    ['pulldown-in', 'A001C003.mov', { time: { kind: 'pulldown-in', timecode } }, small],
    ['pulldown-out', 'woven.mov', { time: { kind: 'pulldown-out', phase: 0, timecode } }, small],
    ['fields', 'C0001.MXF', { scan: { deinterlaced: 'double' } }, { frames: 30 }],
    ['times', 'P000_0007.mp4', {}, small],
  ];
  it.each(kinds)('%s', async (kind, from, corrections, size) => {
    const folded = join(folder, kind);
    await mkdir(folded, { recursive: true });
    if (from === 'woven.mov') await wovenOriginal(join(folded, from));
    else await paintedClip(from, folded, size);
    const other = (await describeFile(join(folded, from), from)) as ClipDescription;
    // Only an intermediate keeps fields; a proxy has whole pictures.
    const role = kind === 'pulldown-in' ? 'intermediate' : 'proxy';
    const deliverables = finishAndCut.deliverables.filter((one) => one.role === role);
    const plan = unwrap(planLeg(other, { ...finishAndCut, deliverables }, corrections));
    const result = await runLeg(plan, {
      sourceRoot: folded,
      outRoot: { root: folded, folder: 'made' },
      owner: `test.${kind}`,
      whole: 'S009',
      recorded: async () => null,
      record: async () => undefined,
    });
    expect(result.outputs[0]?.proof?.reasons).toEqual([]);
    const output = plan.outputs[0] as OutputPlan;
    expect(output.video.map.kind).toBe(kind);
    const pair: Pair = {
      first: outputSide(openOutput(output, join(folded, 'made', output.path)), output, output) as Side,
      second: originalSide({ clip: other, input: inputArguments(join(folded, from)), hands: [] }, output) as Side,
      rate: output.video.rate,
      frames: output.video.frames,
    };
    for (const start of [0, 7, 13]) {
      const seen = await played(pair, { from: start, to: start + 10, every: 1, sound: null });
      expect(seen.first).toHaveLength(10);
      expect(seen.second).toEqual(seen.first);
      expect(new Set(seen.first).size).toBeGreaterThan(4);
    }
  });
});

it('a frame that stays long is shown from wherever it is begun, and as a still', async () => {
  const folded = join(folder, 'held');
  await mkdir(folded, { recursive: true });
  await paintedClip('S009C001.mov', folded, { frames: 40 });
  const late = await run(ffmpeg, [
    ...['-v', 'error', '-y', '-i', join(folded, 'S009C001.mov'), '-an', '-fps_mode', 'passthrough'],
    // The tenth frame stays for half a second more.
    ...['-vf', "setpts='(N+if(gt(N,9),30,0))/(60000/1001)/TB'", ...quickH264, '-crf', '16', join(folded, 'H.mp4')],
  ]);
  expect(late.code).toBe(0);
  const held = (await describeFile(join(folded, 'H.mp4'), 'H.mp4')) as ClipDescription;
  const plan = unwrap(planLeg(held, proxies));
  const output = plan.outputs[0] as OutputPlan;
  expect(output.video.map.kind).toBe('times');
  const input = inputArguments(join(folded, 'H.mp4'));
  const original = originalSide({ clip: held, input, hands: [] }, output) as Side;
  const pair: Pair = { first: original, second: original, rate: output.video.rate, frames: output.video.frames };
  const whole = await played(pair, { from: 0, to: output.video.frames, every: 1, sound: null });
  const begun = whole.first.indexOf(9);
  const middle = begun + 8;
  expect(whole.first[middle]).toBe(9);
  const seen = await played(pair, { from: middle, to: output.video.frames, every: 1, sound: null });
  expect(seen.first).toEqual(whole.first.slice(middle));
  const still = await pairStill(original, middle, 4096, new AbortController().signal);
  if (!still) throw new Error('no still');
  const luma = new Uint16Array(new Uint8Array(still.planes).buffer, 0, still.width * still.height);
  expect(readStrip(luma, still.width, still.height, still.width / still.height)).toBe(9);
});

/** Slates at 23.976 in fields of the 2:3 pattern, by FFmpeg and not by this application. */
async function wovenOriginal(path: string): Promise<void> {
  await paintedClip('A001C003.mov', folder, small);
  const made = await run(ffmpeg, [
    ...['-v', 'error', '-y', '-i', join(folder, 'A001C003.mov'), '-an'],
    ...['-vf', 'telecine=pattern=23:first_field=top'],
    ...['-r', '30000/1001', '-c:v', 'prores_ks', '-profile:v', '1', '-flags', '+ildct', '-top', '1', path],
  ]);
  expect(made.code).toBe(0);
}

describe('two outputs of one original', () => {
  it('show the same moment, each by its own map', async () => {
    const [plain, down] = [
      await made('one', {}),
      await made('other', {
        time: { kind: 'resample', rate: rational(25), how: 'hold', timecode },
      }),
    ];
    const pair: Pair = {
      first: sideOf(down, 'other', down),
      second: sideOf(plain, 'one', down),
      rate: down.video.rate,
      frames: down.video.frames,
    };
    const seen = await played(pair, { from: 3, to: 20, every: 1, sound: { of: 'second', channel: 0 } });
    const wanted = range(3, 20).map((n) => shownBy(down.video.map, n, 60).frame);
    expect([seen.first, seen.second]).toEqual([wanted, wanted]);
  });
});
