import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { isRefusal, type ClipDescription } from '@relay/core/clip/description';
import { planBatch } from '@relay/core/recipe/batch';
import {
  finishAndCut,
  type Deliverable,
  type Recipe,
  type SoundCodec,
  type VideoCodec,
  type WrapperId,
} from '@relay/core/recipe/recipe';
import type { Estimate } from '@relay/core/size/estimate';
import { ffmpeg, inputArguments } from '@relay/media/process/ffmpeg';
import { run } from '@relay/media/process/run';
import { inLanes } from '@relay/work/lanes';
import { readFiles } from '@relay/work/read/readFiles';
import { forecastLeg } from '@relay/work/leg/forecast';
import { runLeg } from '@relay/work/leg/leg';
import { filesBelow } from '@relay/work/disk/walk';
import { median, secondsSince } from '../numbers.ts';

const pcm: SoundCodec = { codec: 'pcm', sampleRate: 48_000 };
function one(folder: string, codec: VideoCodec, wrapper: WrapperId = 'mov', width?: number): Deliverable {
  return {
    name: folder,
    role: 'intermediate',
    folder,
    wrapper,
    codec,
    raster: width ? { kind: 'fit', width, height: width } : { kind: 'source' },
    interlaced: 'deinterlace',
    sound: pcm,
  };
}
/** Codecs whose sizes follow the picture, and one of each kind whose do not. */
const recipe: Recipe = {
  ...finishAndCut,
  deliverables: [
    one('prores-hq', { id: 'prores', profile: 'hq' }),
    one('prores-proxy', { id: 'prores', profile: 'proxy' }, 'mov', 960),
    one('h264-21', { id: 'h264', quality: 21 }, 'mov', 960),
    one('h264-26', { id: 'h264', quality: 26 }, 'mov', 1280),
    one('h264-intra', { id: 'h264', quality: 20, intra: true }, 'mov', 960),
    one('hevc-24', { id: 'hevc', quality: 24 }, 'mov', 960),
    one('vc5', { id: 'vc5', quality: 'high' }, 'mov', 1280),
    one('mjpeg', { id: 'mjpeg', quality: 4 }, 'mov', 960),
    one('vc3', { id: 'vc3', profile: 'sq' }, 'mov', 1280),
    one(
      'h264-share',
      { id: 'h264', quality: 21, rate: { kind: 'average', bitsPerSecond: 3_000_000, passes: 2 } },
      'mov',
      960,
    ),
  ],
};

/** Longer clips than the demo's: its scenes after each other, twice, with grain that differs from clip to clip. */
async function longer(source: string, folder: string): Promise<void> {
  const scenes = (await filesBelow(source)).files
    .filter(({ path }) => /A001C00[34]\.mov|S009C001\.mov|P000_0007\.mp4|F001_r1\.mov/.test(path))
    .map(({ path }) => path);
  for (const [index, grain] of [0, 4, 10, 24].entries()) {
    const order = [...scenes.slice(index), ...scenes.slice(0, index)];
    const ended = await run(
      ffmpeg,
      [
        '-v',
        'error',
        '-y',
        ...order.flatMap((path) => inputArguments(path)),
        '-f',
        'lavfi',
        '-i',
        'sine=r=48000:d=30',
        '-filter_complex',
        `${order.map((_, n) => `[${n}:v:0]fps=25,scale=1280:720,setsar=1,format=yuv420p[v${n}]`).join(';')};${order.map((_, n) => `[v${n}]`).join('')}concat=n=${order.length}:v=1:a=0,${grain > 0 ? `noise=alls=${grain}:allf=t:all_seed=${index},` : ''}loop=1:400[v]`,
        '-map',
        '[v]',
        '-map',
        `${order.length}:a`,
        '-shortest',
        '-c:v',
        'libx264',
        '-preset',
        'veryfast',
        '-crf',
        '16',
        '-c:a',
        'pcm_s16le',
        join(folder, `long-${grain}.mov`),
      ],
      { own: true },
    );
    if (ended.code !== 0) throw new Error(ended.stderr);
  }
}

/**
 * Sizes and times as forecast, against what a run then took. Prints the share of sizes inside their range, the ranges'
 * widths, and errors.
 */
export async function benchForecast(args: readonly string[]): Promise<void> {
  const source = args[0] ?? '.relay/painted/estuary/salt-lantern';
  const scratch = await mkdtemp(join(tmpdir(), 'relay-bench-'));
  try {
    const long = join(scratch, 'long');
    await mkdir(long);
    await longer(source, long);
    const rows: { folder: string; estimate: Estimate; actual: number; path: string }[] = [];
    for (const folder of [source, long]) {
      const entries = await readFiles((await filesBelow(folder)).files);
      const clips = entries.filter((entry): entry is ClipDescription => !isRefusal(entry) && entry.cutShort === null);
      const plans = planBatch(
        clips.map((clip) => ({ clip, whole: basename(folder) })),
        recipe,
        [],
      ).flatMap((plan) => (plan.ok ? [plan.value] : []));
      let from = performance.now();
      const forecasts = await inLanes(plans, 1, (plan) =>
        forecastLeg(plan, { clip: plan.original, paths: [join(folder, plan.original.path)] }, async () => null),
      );
      const forecastSeconds = secondsSince(from);
      const out = join(scratch, `out-${basename(folder)}`);
      await mkdir(out);
      from = performance.now();
      const results = await inLanes(plans, 2, (plan, index) =>
        runLeg(plan, {
          sourceRoot: folder,
          outRoot: out,
          owner: `bench-${index}`,
          whole: basename(folder),
          recorded: async () => null,
          record: async () => undefined,
        }),
      );
      const runSeconds = secondsSince(from);
      const foretold = forecasts.reduce((sum, forecast) => sum + (forecast.seconds ?? 0), 0);
      console.log(
        `${basename(folder)}: ${plans.length} clips, forecast in ${forecastSeconds.toFixed(0)} s; a run of ${foretold.toFixed(0)} s foretold, ${runSeconds.toFixed(0)} s taken`,
      );
      results.forEach((result, index) =>
        result.outputs.forEach((output, o) => {
          const estimate = forecasts[index]?.outputs[o];
          if (estimate && output.sizeBytes > 0)
            rows.push({ folder: output.deliverable, estimate, actual: output.sizeBytes, path: output.path });
          else console.log(`no size: ${output.path}: ${output.problem?.what ?? output.state}`);
        }),
      );
    }
    const inside = (row: (typeof rows)[number]): boolean =>
      row.actual >= row.estimate.bytes.least && row.actual <= row.estimate.bytes.most;
    const width = ({ estimate: { bytes } }: (typeof rows)[number]): number =>
      (bytes.most - bytes.least) / 2 / bytes.likely;
    const error = ({ estimate: { bytes }, actual }: (typeof rows)[number]): number =>
      Math.abs(bytes.likely / actual - 1);
    const percent = (share: number): string => `${(share * 100).toFixed(1)} %`;
    const say = (name: string, some: readonly (typeof rows)[number][]): void =>
      console.log(
        `${name.padEnd(16)} ${String(some.length).padStart(3)} files, inside ${percent(some.filter(inside).length / some.length)}, range ±${percent(median(some.map(width)))} (widest ±${percent(Math.max(...some.map(width)))}), error ${percent(median(some.map(error)))} (worst ${percent(Math.max(...some.map(error)))})`,
      );
    for (const { name } of recipe.deliverables)
      say(
        name,
        rows.filter((row) => row.folder === name),
      );
    say('all', rows);
    console.log('aim: at least 90 % inside, ±20 % at most, median error under 8 %');
    for (const row of rows.filter((one) => !inside(one)))
      console.log(
        `outside: ${row.path}: ${row.actual} bytes, foretold ${row.estimate.bytes.least} to ${row.estimate.bytes.most} (${row.estimate.known})`,
      );
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}
