import { spawn } from 'node:child_process';
import { mkdir, mkdtemp, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { isRefusal, type ClipDescription } from '@relay/core/clip/description';
import type { Chain } from '@relay/core/colour/chain/chain';
import { planBatch } from '@relay/core/recipe/batch';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { finishAndCut, viewingCopies, type Recipe } from '@relay/core/recipe/recipe';
import { proResTargetBitsPerSecond } from '@relay/core/size/prores';
import { formatFraction, toNumber } from '@relay/core/time/rational';
import { likeness } from '@relay/media/likeness';
import { openOutput } from '@relay/media/leg/open';
import { performLeg } from '@relay/media/leg/perform';
import { tuneLeg } from '@relay/media/leg/tune';
import { ffmpeg, inputArguments } from '@relay/media/process/ffmpeg';
import { run } from '@relay/media/process/run';
import { decodeWhole } from '@relay/media/proof/decode';
import { inLanes } from '@relay/work/lanes';
import { readFiles } from '@relay/work/read/readFiles';
import { legColour } from '@relay/work/leg/colour';
import { runLeg } from '@relay/work/leg/leg';
import { makeReady } from '@relay/work/leg/ready';
import { filesBelow } from '@relay/work/disk/walk';
import { median, secondsSince } from '../numbers.ts';

/** Intermediate, proxy and review copy of each original; the last two with a LUT baked in, the last with a burn-in. */
const recipe: Recipe = { ...finishAndCut, deliverables: [...finishAndCut.deliverables, ...viewingCopies.deliverables] };
const lanes = 2;

/** A night with a curve in it, as a 33-point cube. */
function cube(): string {
  const size = 33;
  const curve = (value: number): string => (value * value * (3 - 2 * value) * 0.6 + value * 0.4).toFixed(6);
  const rows: string[] = [];
  for (let b = 0; b < size; b += 1)
    for (let g = 0; g < size; g += 1)
      for (let r = 0; r < size; r += 1) rows.push([r, g, b].map((one) => curve(one / (size - 1))).join(' '));
  return `LUT_3D_SIZE ${size}\n${rows.join('\n')}\n`;
}

/** HD and UHD, clean and noisy, from two of the demo's originals. */
async function originals(source: string, folder: string): Promise<void> {
  for (const [name, path] of [
    ['hd', 'day-1/A001/A001C003.mov'],
    ['uhd', 'day-1/B001/B001C001.mp4'],
  ] as const) {
    for (const [kind, noise] of [
      ['clean', ''],
      ['noisy', 'noise=alls=18:allf=t:all_seed=3,'],
    ] as const) {
      const ended = await run(
        ffmpeg,
        [
          '-v',
          'error',
          '-stream_loop',
          '1',
          ...inputArguments(join(source, path)),
          '-map',
          '0:v:0',
          '-map',
          '0:a',
          '-vf',
          `${noise}format=yuv420p10le`,
          '-c:v',
          'libx264',
          '-preset',
          'veryfast',
          '-crf',
          '14',
          '-g',
          '12',
          '-c:a',
          'pcm_s24le',
          '-timecode',
          '10:00:00:00',
          join(folder, `${name}-${kind}.mov`),
        ],
        { own: true },
      );
      if (ended.code !== 0) throw new Error(ended.stderr);
    }
  }
}

/**
 * One FFmpeg command an output, defaults but for codec, size and rate: LUT at full raster as one writes it, then
 * scaled, then text.
 */
function plainArguments(output: OutputPlan, source: string, lut: string, target: string): string[] {
  const { video, codec } = output;
  const filters = [
    ...(output.colour?.kind === 'baked' ? [`lut3d=${lut}`] : []),
    ...(video.steps.some((step) => step.kind === 'scale')
      ? [`scale=${video.raster.width}:${video.raster.height}`]
      : []),
    ...(output.burn
      ? [
          'drawtext=text=NAME:x=40:y=h-60:fontsize=28:fontcolor=white:box=1',
          "drawtext=timecode='10\\:00\\:00\\:00':rate=24:x=w-300:y=h-60:fontsize=28:fontcolor=white:box=1",
        ]
      : []),
  ];
  return [
    '-v',
    'error',
    '-y',
    '-i',
    source,
    '-map',
    '0:v:0',
    '-map',
    '0:a?',
    '-dn',
    ...(filters.length > 0 ? ['-vf', filters.join(',')] : []),
    '-r',
    formatFraction(video.rate),
    ...(codec.id === 'prores'
      ? ['-c:v', 'prores_ks', '-profile:v', 'hq', '-pix_fmt', 'yuv422p10le']
      : ['-c:v', 'libx264', '-pix_fmt', 'yuv420p']),
    '-c:a',
    'pcm_s24le',
    '-f',
    'mov',
    target,
  ];
}

async function plainWay(
  legs: readonly { plan: LegPlan; source: string }[],
  lut: string,
  outRoot: string,
): Promise<void> {
  for (const { plan, source } of legs) {
    for (const output of plan.outputs) {
      const target = join(outRoot, output.path);
      await mkdir(dirname(target), { recursive: true });
      const child = spawn('ffmpeg', plainArguments(output, source, lut, target), {
        stdio: ['ignore', 'ignore', 'inherit'],
      });
      await new Promise((resolve) => child.once('close', resolve));
    }
  }
}

/**
 * A batch in which each original gets three outputs: ours against the plain way, and against the floor: one decode, the
 * cheapest encodes, each output decoded once.
 */
export async function benchRun(args: readonly string[]): Promise<void> {
  const source = args[0] ?? '.relay/painted/estuary/salt-lantern';
  const rounds = Math.max(1, Number(args[1] ?? 3));
  // The plain way takes most of the time: without it, ours is held against the floor alone.
  const withPlain = args[2] !== 'floor';
  const scratch = await mkdtemp(join(tmpdir(), 'relay-bench-'));
  try {
    const from = join(scratch, 'originals');
    await mkdir(from);
    await originals(source, from);
    const text = cube();
    const lut = join(scratch, 'night.cube');
    await writeFile(lut, text);
    const chain: Chain = {
      input: 'bt709',
      output: 'bt709',
      rendering: null,
      steps: [{ kind: 'lut', id: 'night', name: 'Night', lut, takes: 'bt709', gives: 'bt709' }],
    } as Chain;
    const lutText = async (): Promise<{ text: string; fileName: string }> => ({ text, fileName: lut });
    const clips = (await readFiles((await filesBelow(from)).files)).filter(
      (entry): entry is ClipDescription => !isRefusal(entry),
    );
    if (clips.length !== 4) throw new Error(`four originals were made, ${clips.length} can be read`);
    const plans = planBatch(
      clips.map((clip) => ({ clip, whole: 'bench', corrections: { colour: chain } })),
      recipe,
      [],
    ).map((plan) => {
      if (!plan.ok) throw new Error(plan.problem.what);
      return plan.value;
    });
    const legs = plans.map((plan) => ({ plan, source: join(from, plan.original.path) }));
    const [plain, floor, ours]: [number[], number[], number[]] = [[], [], []];
    for (let round = 0; round < rounds; round += 1) {
      let begun = performance.now();
      if (withPlain) await plainWay(legs, lut, join(scratch, `plain-${round}`));
      plain.push(withPlain ? secondsSince(begun) : Number.NaN);

      // The floor knows its quantisers and has its LUTs baked and burn-ins drawn: only decoding and encoding count.
      begun = performance.now();
      const ready = await Promise.all(
        legs.map(async (leg) => {
          const files = { clip: leg.plan.original, paths: [leg.source] };
          const colour = await legColour(leg.plan.outputs, lutText);
          const made = await makeReady(leg.plan, files, async () => null);
          const tunings = await tuneLeg(
            leg.plan,
            files,
            undefined,
            leg.plan.outputs.map((_, index) => {
              const baked = colour.luts[index];
              return { ...made.tunings[index], ...(baked ? { lut: baked } : {}) };
            }),
          );
          return { ...leg, files, tunings, discard: () => Promise.all([colour.discard(), made.discard()]) };
        }),
      );
      const readying = secondsSince(begun);
      begun = performance.now();
      await inLanes(ready, lanes, async ({ plan, files, tunings }, index) => {
        const targets = plan.outputs.map((output) => join(scratch, `floor-${round}`, String(index), output.path));
        await Promise.all(targets.map((target) => mkdir(dirname(target), { recursive: true })));
        await performLeg({ plan, source: files, tunings }, targets);
        for (const [at, output] of plan.outputs.entries())
          await decodeWhole(openOutput(output, targets[at] as string), output.sound.tracks.length);
      });
      floor.push(secondsSince(begun));
      await Promise.all(ready.map((one) => one.discard()));

      const out = join(scratch, `ours-${round}`);
      await mkdir(out);
      begun = performance.now();
      const proving: number[] = [];
      const results = await inLanes(legs, lanes, async (leg, index) => {
        let since = performance.now();
        const result = await runLeg(leg.plan, {
          sourceRoot: from,
          outRoot: out,
          owner: `bench-${index}`,
          whole: 'bench',
          lutText,
          recorded: async () => null,
          record: async () => undefined,
          onState: () => {
            since = performance.now();
          },
        });
        proving.push(secondsSince(since));
        return result;
      });
      ours.push(secondsSince(begun));
      console.log(
        `ours: readying ${readying.toFixed(1)} s (measured before the floor), proving ${(proving.reduce((a, b) => a + b, 0) / lanes).toFixed(1)} s of a lane`,
      );
      // What was not proved was made all the same: its time counts, and it is named.
      for (const odd of results.filter(({ state }) => state !== 'proved'))
        console.log(`not proved: ${odd.problem?.what ?? ''}`);
      console.log(
        `round ${round + 1}: plain ${plain.at(-1)?.toFixed(1)} s, floor ${floor.at(-1)?.toFixed(1)} s, ours ${ours.at(-1)?.toFixed(1)} s: ${((ours.at(-1) as number) / (plain.at(-1) as number)).toFixed(3)} of plain, ${((ours.at(-1) as number) / (floor.at(-1) as number)).toFixed(3)} of the floor`,
      );
    }
    console.log(
      `median: ${(median(ours) / median(plain)).toFixed(3)} of the plain way (aim 0.35), ${(median(ours) / median(floor)).toFixed(3)} of the floor (aim 1.25)`,
    );
    if (!withPlain) return;
    let worst = Infinity;
    for (const leg of legs) {
      // What went through a LUT has no original to be like; intermediates do.
      for (const output of leg.plan.outputs.filter(({ colour }) => colour?.kind !== 'baked')) {
        const [mine, theirs] = [
          await likeness(join(scratch, 'ours-0', output.path), leg.source, output),
          await likeness(join(scratch, 'plain-0', output.path), leg.source, output),
        ];
        const rateOf = async (way: string): Promise<number> =>
          ((await stat(join(scratch, way, output.path))).size * 8) /
          (output.video.frames / toNumber(output.video.rate));
        const rate = await rateOf('ours-0');
        const target =
          output.codec.id === 'prores'
            ? proResTargetBitsPerSecond(output.codec.profile, output.video.raster, output.video.rate)
            : Infinity;
        worst = Math.min(worst, mine.psnr - theirs.psnr);
        console.log(
          `${output.path}: ${mine.psnr.toFixed(2)} dB, plain ${theirs.psnr.toFixed(2)} dB; ${(rate / 1e6).toFixed(0)} Mb/s with sound, plain ${((await rateOf('plain-0')) / 1e6).toFixed(0)}, target ${(target / 1e6).toFixed(0)}`,
        );
      }
    }
    console.log(`worst difference: ${worst.toFixed(2)} dB (not below -0.3)`);
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}
