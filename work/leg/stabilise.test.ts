import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import { keptOf, planStabilising } from '@relay/core/repair/stabilise';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { sayPlan } from '@relay/core/recipe/sentence';
import { unwrap } from '@relay/core/result';
import { rational } from '@relay/core/time/rational';
import { describeFile } from '@relay/media/describe/describe';
import { ffmpeg, inputArguments } from '@relay/media/process/ffmpeg';
import { runOwn as run } from '@relay/media/process/run';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { runLeg } from './leg.ts';
import { quickH264 } from '../../testing/commands.ts';

let folder: string;
let clip: ClipDescription;
const size = { width: 640, height: 360 };
const proxies: Recipe = {
  ...finishAndCut,
  deliverables: finishAndCut.deliverables.filter(({ role }) => role === 'proxy'),
};

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-stabilise-'));
  // A textured still seen by a hand that shakes: known to the sample, with a slow pan under it.
  await run(ffmpeg, [
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    'cellauto=s=400x240:rule=110:random_fill_ratio=0.4:random_seed=7:scroll=0:full=1',
    '-vf',
    `trim=end_frame=1,loop=59:1,setpts=N/25/TB,scale=900:540:flags=bicubic,gblur=2.5,crop=${size.width}:${size.height}:x='100+n*0.6+7*sin(n*1.9)+4*sin(n*3.1)':y='80+6*sin(n*2.3)+3*cos(n*1.1)'`,
    '-r',
    '25',
    ...quickH264,
    '-crf',
    '12',
    '-pix_fmt',
    'yuv420p',
    '-y',
    join(folder, 'shaken.mov'),
  ]);
  clip = (await describeFile(join(folder, 'shaken.mov'), 'shaken.mov')) as ClipDescription;
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** How much neighbouring frames differ in their middle: mean of absolute differences of luma. */
async function unrest(path: string): Promise<number> {
  const chunks: Buffer[] = [];
  const [w, h] = [320, 160];
  await run(
    ffmpeg,
    [
      '-v',
      'error',
      ...inputArguments(path),
      '-vf',
      `crop=${w}:${h},format=gray`,
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
  let [sum, count] = [0, 0];
  for (let i = w * h; i < all.length; i += 1, count += 1)
    sum += Math.abs((all[i] as number) - (all[i - w * h] as number));
  return sum / count;
}

describe('stabilising', () => {
  it('never moves or turns further than the enlargement hides, at any raster', () => {
    for (const firmness of [1, 2, 3] as const) {
      for (const raster of [
        { width: 1920, height: 1080 },
        { width: 1080, height: 1920 },
        { width: 3840, height: 2160 },
        { width: 720, height: 576 },
      ]) {
        const plan = planStabilising(firmness, raster, rational(25));
        const kept = keptOf(plan, raster);
        const margin = Math.min(kept.x, kept.y);
        expect(
          plan.maxShift + (Math.max(raster.width, raster.height) / 2) * Math.sin(plan.maxAngle),
        ).toBeLessThanOrEqual(margin + 1);
      }
    }
    expect(keptOf({ zoomPercent: 9 }, { width: 1920, height: 1080 })).toEqual({
      x: 80,
      y: 45,
      width: 1761,
      height: 991,
    });
  });

  it('takes most of a known shaking away, keeps every frame, shows no edge, and is proved', async () => {
    const plan = unwrap(planLeg(clip, proxies, { repair: { stabilise: 3 } }));
    expect(sayPlan(plan)).toContain('The camera held as on a tripod: the middle 557×313 is kept and enlarged');
    const result = await runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: 'out' },
      owner: 'test',
      whole: 'x',
      recorded: async () => null,
      record: async () => undefined,
    });
    expect(result.outputs[0]?.proof?.reasons).toEqual([]);
    expect(result.state).toBe('proved');
    const [before, after] = [
      await unrest(join(folder, 'shaken.mov')),
      await unrest(join(folder, 'out/proxy/shaken.mov')),
    ];
    expect(after).toBeLessThan(before * 0.5);
    // The filter would fill what it has no picture for with black; the picture itself holds none.
    const dark = await run(ffmpeg, [
      '-v',
      'info',
      ...inputArguments(join(folder, 'out/proxy/shaken.mov')),
      '-vf',
      'cropdetect=limit=17:round=2:reset=0',
      '-f',
      'null',
      '-',
    ]);
    expect(/crop=(\d+:\d+)/.exec(dark.stderr.slice(-400))?.[1]).toBe('640:360');
  });
});
