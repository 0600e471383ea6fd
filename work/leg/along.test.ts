import { join, relative } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import { emptyChain, type Chain } from '@relay/core/colour/chain/chain';
import type { ClipCorrections } from '@relay/core/corrections/corrections';
import { meanPsnr, worstFrames, type Along } from '@relay/core/measure/along';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import {
  finishAndCut,
  viewingCopies,
  type Deliverable,
  type Recipe,
  type VideoCodec,
  type WrapperId,
} from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { describeFile } from '@relay/media/describe/describe';
import { pictureFilters } from '@relay/media/leg/filters';
import { ffmpeg } from '@relay/media/process/ffmpeg';
import { runOwn as run } from '@relay/media/process/run';
import { beforeAll, describe, expect, it } from 'vitest';
import { ffmpegMakes, quickH264, scratchFolder } from '../../testing/commands.ts';
import { holding } from '../disk/held.ts';
import { measureAlong } from './along.ts';
import { legColour } from './colour.ts';
import { runLeg } from './leg.ts';
import { outputIn } from './outputPlace.ts';

const chain: Chain = { ...emptyChain, input: 'slog3-sgamut3cine', output: 'bt709', rendering: 'estuary' };
const proxies: Recipe = {
  ...finishAndCut,
  deliverables: finishAndCut.deliverables.filter(({ role }) => role === 'proxy'),
};
let folder: string;
let clip: ClipDescription;
const name = 'small.mov';
beforeAll(async () => {
  folder = await scratchFolder();
  await ffmpegMakes(
    ...['-f', 'lavfi', '-i', 'testsrc2=s=640x360:r=25:d=2,format=yuv420p,noise=alls=3:allf=t'],
    ...['-f', 'lavfi', '-i', 'sine=f=330:r=48000:d=2', ...quickH264, '-crf', '12', '-pix_fmt', 'yuv420p'],
    ...['-color_range', 'tv', '-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709'],
    ...['-c:a', 'pcm_s16le', join(folder, name)],
  );
  clip = (await describeFile(join(folder, name), name)) as ClipDescription;
});

async function made(into: string, corrections: ClipCorrections = {}, recipe = proxies): Promise<LegPlan> {
  const plan = unwrap(planLeg(clip, recipe, corrections));
  const result = await runLeg(plan, {
    sourceRoot: folder,
    outRoot: { root: folder, folder: into },
    owner: `test.${into}`,
    whole: 'card',
    recorded: async () => null,
    record: async () => undefined,
  });
  expect(result.state).toBe('proved');
  return plan;
}

const first = (plan: LegPlan): OutputPlan => plan.outputs[0] as OutputPlan;
const pathIn = (plan: LegPlan, into: string): string => join(folder, into, first(plan).path);

async function measured(plan: LegPlan, path: string, every = 1): Promise<Along> {
  const output = first(plan);
  // Held open, as a worker does it: a folder of pictures has no one name that could be given.
  return holding(async (held) =>
    measureAlong({
      ...{ plan, output, files: [join(folder, name)], clip, every },
      path: await outputIn(held, output, folder, relative(folder, path)),
      lutText: async () => null,
      imageBytes: async () => null,
    }),
  );
}

/** FFmpeg's own figures of two files, frame by frame, from its statistics. */
async function byFfmpeg(copy: string, reference: string): Promise<{ psnr: number[]; ssim: number[] }> {
  const of = async (filter: string, word: RegExp): Promise<number[]> => {
    const ended = await run(ffmpeg, ['-v', 'error', '-i', copy, '-i', reference, '-lavfi', filter, '-f', 'null', '-']);
    return [...ended.stdout.matchAll(word)].map((match) => Number(match[1]));
  };
  return {
    psnr: await of('psnr=stats_file=-', /psnr_avg:(\S+)/g),
    ssim: await of('ssim=stats_file=-', / All:(\S+)/g),
  };
}

/** One deliverable at the original's own raster, in a codec and wrapper. */
function inCodec(codec: VideoCodec, wrapper: WrapperId): Recipe {
  const [intermediate] = finishAndCut.deliverables;
  return {
    ...finishAndCut,
    deliverables: [{ ...(intermediate as Deliverable), codec, wrapper, colour: { kind: 'baked' } }],
  };
}

describe('an output in each kind of samples', () => {
  // What loses nothing is what its encoder was given, to the code: any other reading of its samples would show.
  it.each<[name: string, codec: VideoCodec, wrapper: WrapperId]>([
    ['FFV1, 4:2:2', { id: 'ffv1', sampling: '4:2:2 10' }, 'mkv'],
    ['v210', { id: 'v210' }, 'mov'],
    ['DPX', { id: 'pictures', format: 'dpx' }, 'pictures'],
    ['PNG', { id: 'pictures', format: 'png' }, 'pictures'],
  ])('%s, without loss, is equal', async (called, codec, wrapper) => {
    const into = called.replace(/\W/g, '');
    const plan = await made(into, { colour: chain }, inCodec(codec, wrapper));
    const along = await measured(plan, pathIn(plan, into), 10);
    expect(along.psnr).toEqual([null, null, null, null, null]);
    expect(along.sound).toHaveLength(1);
    expect(along.sound[0]?.output).toEqual(along.sound[0]?.original);
    // By the chain itself nothing is left but the bake and the codes.
    expect(along.seen?.every(({ mean }) => mean < 1)).toBe(true);
  });

  it.each<[string, VideoCodec, WrapperId, number]>([
    ['ProRes 4444', { id: 'prores', profile: '4444' }, 'mov', 45],
    ['Motion JPEG', { id: 'mjpeg', quality: 2 }, 'avi', 38],
    ['OpenEXR', { id: 'pictures', format: 'exr' }, 'pictures', 60],
    ['VC-3 in atoms', { id: 'vc3', profile: 'hqx' }, 'opatom', 45],
  ])('%s is nearly so', async (called, codec, wrapper, least) => {
    const into = called.replace(/\W/g, '');
    const plan = await made(into, {}, inCodec(codec, wrapper));
    const along = await measured(plan, pathIn(plan, into), 10);
    expect(along.psnr).toHaveLength(5);
    for (const psnr of along.psnr) expect(psnr ?? Infinity).toBeGreaterThan(least);
  });
});

describe('an output along its length', () => {
  it("is as like its original as FFmpeg's psnr and ssim say, frame by frame", async () => {
    const same: Recipe = {
      ...proxies,
      deliverables: proxies.deliverables.map((one) => ({
        ...one,
        raster: { kind: 'fit' as const, width: 640, height: 640 },
        burn: undefined,
      })),
    };
    const plan = await made('plain', {}, same);
    const along = await measured(plan, pathIn(plan, 'plain'));
    // As large, as deep and of the same chroma: what its encoder was given is the original itself.
    const wanted = await byFfmpeg(pathIn(plan, 'plain'), join(folder, name));
    expect(along.ssim).toHaveLength(50);
    expect(wanted.psnr).toHaveLength(50);
    for (const [frame, psnr] of along.psnr.entries()) {
      expect(Math.abs((psnr as number) - (wanted.psnr[frame] as number))).toBeLessThan(0.01);
      expect(Math.abs((along.ssim[frame] as number) - (wanted.ssim[frame] as number))).toBeLessThan(2e-5);
    }
    expect(along).toMatchObject({ missing: 0, seen: null });
    expect(along.flow.output).toHaveLength(2);
    expect(along.flow.original).toHaveLength(2);
  });

  it('is held against the original through all of its plan: chain, smaller, in its own samples', async () => {
    const plan = await made('chained', { colour: chain });
    const output = first(plan);
    const along = await measured(plan, pathIn(plan, 'chained'), 5);
    const colour = await legColour([output], async () => null);
    await ffmpegMakes(
      ...['-i', join(folder, name), '-an', '-vf', pictureFilters(output, { lut: colour.luts[0] as string })],
      ...['-c:v', 'ffv1', join(folder, 'given.mkv')],
    );
    await colour.discard();
    const wanted = await byFfmpeg(pathIn(plan, 'chained'), join(folder, 'given.mkv'));
    expect(along.psnr).toHaveLength(10);
    for (const [index, psnr] of along.psnr.entries())
      expect(Math.abs((psnr as number) - (wanted.psnr[index * 5] as number))).toBeLessThan(0.01);
    // What an encoder leaves of noise is seen a little; another chain is seen at once.
    const mean = (one: Along): number =>
      (one.seen ?? []).reduce((sum, { mean: value }) => sum + value, 0) / (one.seen?.length ?? 0);
    expect(along.seen?.map(({ frame }) => frame)).toEqual([0, 5, 10, 15, 20, 25, 30, 35, 40, 45]);
    expect(mean(along)).toBeLessThan(4);
    const other = unwrap(planLeg(clip, proxies, { colour: { ...chain, rendering: null } }));
    expect(mean(await measured(other, pathIn(plan, 'chained'), 25))).toBeGreaterThan(3 * mean(along));
  });

  it('says where something is wrong with it, and what is not there', async () => {
    const plan = await made('faulty');
    const whole = pathIn(plan, 'faulty');
    const faulty = join(folder, 'faulty.mov');
    await ffmpegMakes(
      ...['-i', whole, '-vf', "boxblur=6:enable='between(n,30,33)'", '-frames:v', '46'],
      ...['-af', "volume=0.5:enable='gt(t,1)'", ...quickH264, '-crf', '10', '-c:a', 'pcm_s24le', faulty],
    );
    const [good, bad] = [await measured(plan, whole), await measured(plan, faulty)];
    expect(worstFrames(bad, 1)[0]?.frame).toBeGreaterThanOrEqual(30);
    expect(worstFrames(bad, 1)[0]?.frame).toBeLessThanOrEqual(33);
    expect(worstFrames(bad, 1)[0]?.ssim).toBeLessThan((worstFrames(good, 1)[0]?.ssim ?? 0) - 0.01);
    expect(bad.missing).toBe(4);
    const at = (one: Along, seconds: number) => {
      const [track] = one.sound;
      const index = Math.round(seconds / (track?.step ?? 1));
      return [track?.output.peak[index], track?.original.peak[index], track?.output.loudness[index]] as number[];
    };
    // A sine of FFmpeg's is an eighth of full scale: 18.06 dB below it.
    expect(at(good, 0.5)[0]).toBeCloseTo(-18.06, 1);
    expect(at(good, 0.5)[1]).toBeCloseTo(-18.06, 1);
    const [quiet, shot, loudness] = at(bad, 1.7) as [number, number, number];
    expect(quiet).toBeCloseTo(-24.08, 1);
    expect(shot).toBeCloseTo(-18.06, 1);
    expect(loudness - (at(good, 1.7)[2] as number)).toBeCloseTo(-6.02, 1);
  });

  it('is measured with what was burnt in, and its coded sound', async () => {
    const plan = await made('burnt', {}, viewingCopies);
    expect(first(plan).burn).toBeDefined();
    const along = await measured(plan, pathIn(plan, 'burnt'), 10);
    expect(along.psnr).toHaveLength(5);
    // Without the burn-in in what it is held against, a quarter of the picture would be wrong.
    for (const psnr of along.psnr) expect(psnr ?? 0).toBeGreaterThan(32);
    const [track] = along.sound;
    const middle = 10;
    expect(Math.abs((track?.output.loudness[middle] ?? 0) - (track?.original.loudness[middle] ?? 99))).toBeLessThan(
      0.5,
    );
  });

  it('is measured where frames were mixed, and of whole pictures', async () => {
    const conformed = await made('conformed', {
      time: { kind: 'resample', rate: { num: 30, den: 1 }, how: 'blend', timecode: 'as labelled' },
    });
    const along = await measured(conformed, pathIn(conformed, 'conformed'));
    expect(along.ssim).toHaveLength(first(conformed).video.frames);

    expect(meanPsnr(along.psnr)).toBeGreaterThan(30);
  });
});
