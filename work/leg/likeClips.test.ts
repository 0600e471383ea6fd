import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { EndState } from '@relay/contract/run';
import type { ClipDescription } from '@relay/core/clip/description';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { kindOf, LikeClips } from '@relay/core/size/likeClips';
import { proResCeiling, proResTargetFrameBytes } from '@relay/core/size/prores';
import { describeFile } from '@relay/media/describe/describe';
import { ffmpeg } from '@relay/media/process/ffmpeg';
import { runOwn } from '@relay/media/process/run';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { runLeg } from './leg.ts';
import type { LegResult } from './outcome.ts';
import { quickH264 } from '../../testing/commands.ts';

let folder: string;
const plans = new Map<string, LegPlan>();

/** Paints a second of H.264 with so much noise, its index first, and plans an intermediate of it. */
async function paint(name: string, noise: number): Promise<void> {
  const made = await runOwn(ffmpeg, [
    ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25:d=1'],
    ...['-vf', `noise=alls=${noise}:allf=t:all_seed=7,format=yuv420p`, ...quickH264, '-crf', '16'],
    ...['-movflags', '+faststart'],
    join(folder, name),
  ]);
  expect(made.stderr).toBe('');
  await planOf(name);
}

async function planOf(name: string): Promise<void> {
  const clip = (await describeFile(join(folder, name), name)) as ClipDescription;
  plans.set(name, unwrap(planLeg(clip, { ...finishAndCut, deliverables: finishAndCut.deliverables.slice(0, 1) })));
}

function planned(name: string): { plan: LegPlan; output: OutputPlan; kind: string } {
  const plan = plans.get(name) as LegPlan;
  const output = plan.outputs[0] as OutputPlan;
  return { plan, output, kind: kindOf(plan, output) as string };
}

/** Makes a clip's intermediate in a folder of its own; what was said of quantisers, and what they were. */
async function make(name: string, to: string, likeClips?: LikeClips, state: EndState = 'proved') {
  const { plan, output } = planned(name);
  const result: LegResult = await runLeg(plan, {
    sourceRoot: folder,
    outRoot: await mkdtemp(join(folder, to)),
    owner: to,
    whole: 'day',
    recorded: async () => null,
    record: async () => undefined,
    ...(likeClips ? { likeClips } : {}),
  });
  expect(result.state).toBe(state);
  return {
    quantiser: Number(/-q:v (\d+)/.exec(result.log.join('\n'))?.[1]),
    said: result.log.filter((line) => line.includes('quantiser')).map((line) => line.replace(/^[\d:]+ /, '')),
    bytes: result.outputs[0]?.sizeBytes,
    path: output.path,
  };
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-like-'));
  for (const [name, noise] of [
    ['clean-1.mov', 0],
    ['clean-2.mov', 0],
    ['clean-3.mov', 0],
    ['grainy.mov', 60],
  ] as const)
    await paint(name, noise);
});
afterAll(() => rm(folder, { recursive: true, force: true }));

it('samples two clips of a kind, and takes over for the third what it would have found itself', async () => {
  const like = new LikeClips();
  const alone = await make('clean-3.mov', 'alone');
  expect((await make('clean-1.mov', 'first', like)).said).toEqual([]);
  expect((await make('clean-2.mov', 'second', like)).said).toEqual([]);
  const third = await make('clean-3.mov', 'third', like);
  expect(third.said).toEqual([`${third.path}: quantiser ${alone.quantiser}, as for the clips like it`]);
  expect([third.quantiser, third.bytes]).toEqual([alone.quantiser, alone.bytes]);
});

it('learns nothing of a clip that is cut short, and makes none again for it', async () => {
  const whole = await readFile(join(folder, 'clean-2.mov'));
  await writeFile(join(folder, 'short.mov'), whole.subarray(0, Math.round(whole.length * 0.6)));
  await planOf('short.mov');
  const { plan, kind } = planned('short.mov');
  expect(plan.original.cutShort).not.toBeNull();
  const like = new LikeClips();
  expect((await make('short.mov', 'short', like, 'needs eyes')).said).toEqual([]);
  expect(like.last(kind)).toBeNull();
  // Of the whole one it does learn.
  await make('clean-2.mov', 'whole', like);
  expect(like.last(planned('clean-2.mov').kind)).not.toBeNull();
});

it('makes an output again that is unlike its kind: too coarse as well as too large', async () => {
  /** Takes every clip to be like ones that took so many bytes a frame at a quantiser. */
  class AllLike extends LikeClips {
    constructor(quantiser: number, bytes: number) {
      super();
      this.expected = () => [1, 4, 16, 64].map((q) => ({ quantiser: q, bytes: (bytes * quantiser) / q }));
    }
  }
  const { codec, video } = planned('grainy.mov').output;
  if (codec.id !== 'prores') throw new Error('the intermediate is no ProRes');
  const room = proResTargetFrameBytes(codec.profile, video.raster) * proResCeiling * 0.98;

  // As if clean clips had come out well at 40: it could be at 1.
  const sampled = await make('clean-1.mov', 'sampled');
  const finer = await make('clean-1.mov', 'finer', new AllLike(40, room * 0.995));
  expect(finer.said).toEqual([
    `${finer.path}: quantiser 40, as for the clips like it`,
    expect.stringMatching(/unlike the clips before it; made again at quantiser \d+$/),
  ]);
  expect(finer.bytes).toBe(sampled.bytes);

  // As if grainy clips had fitted at 1: it passes the ceiling.
  const grainy = await make('grainy.mov', 'grainy-sampled');
  const coarser = await make('grainy.mov', 'coarser', new AllLike(1, room / 2));
  expect(coarser.said.at(-1)).toMatch(/made again at quantiser \d+$/);
  expect(coarser.bytes).toBeLessThan((room / 0.98) * 1.02 * 25 + 8_000);
  expect(grainy.quantiser).toBeGreaterThan(1);
});
