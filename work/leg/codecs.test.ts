import type { Vc3HdGrade } from '@relay/core/size/vc3';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import {
  finishAndCut,
  wrapperIds,
  type Deliverable,
  type SoundCodec,
  type VideoCodec,
  type WrapperId,
} from '@relay/core/recipe/recipe';
import { wrapperProblem, wrappers } from '@relay/core/recipe/wrappers';
import { unwrap } from '@relay/core/result';
import { estimateOutput } from '@relay/core/size/estimate';
import { exactFrameBytes, outputBytesAtMost } from '@relay/core/size/forecast';
import { describeFile } from '@relay/media/describe/describe';
import { ffmpeg } from '@relay/media/process/ffmpeg';
import { runOwn as run } from '@relay/media/process/run';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { runLeg } from './leg.ts';
import type { LegResult } from './outcome.ts';

let folder: string;
const pcm: SoundCodec = { codec: 'pcm', sampleRate: 48_000 };
const aac: SoundCodec = { codec: 'aac', sampleRate: 48_000 };

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-codecs-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const sizes = { small: '320x192', hd: '1920x1080', uhd: '3840x2160' } as const;
/** An original of twenty frames that moves, with two tracks of sound, four channels in the second. */
async function original(rate: string, size: keyof typeof sizes, alpha = false): Promise<ClipDescription> {
  const name = `${size}-${rate.replace('/', '_')}${alpha ? '-alpha' : ''}.mov`;
  const timecode = rate === '30000/1001' || rate === '60000/1001' ? '10:00:00;00' : '10:00:00:00';
  const [num = 25, den = 1] = rate.split('/').map(Number);
  const ended = await run(ffmpeg, [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    `testsrc2=s=${sizes[size]}:r=${rate}:d=${(20 * den) / num}${alpha ? ",format=yuva444p10le,geq=lum='lum(X,Y)':cb='cb(X,Y)':cr='cr(X,Y)':a='X*4'" : ''}`,
    '-f',
    'lavfi',
    '-i',
    'aevalsrc=0.5*sin(2*PI*(200+300*t)*t):s=48000:d=0.9',
    '-f',
    'lavfi',
    '-i',
    'aevalsrc=0.4*sin(2*PI*(500+100*t)*t)|0.3*sin(2*PI*(900+50*t)*t)|0.2*sin(2*PI*(300+700*t)*t)|0.4*sin(2*PI*(1200-100*t)*t):c=quad:s=48000:d=0.9',
    '-map',
    '0',
    '-map',
    '1',
    '-map',
    '2',
    '-c:v',
    'prores_ks',
    '-profile:v',
    alpha ? '4' : '3',
    ...(alpha ? ['-alpha_bits', '16'] : ['-pix_fmt', 'yuv422p10le']),
    '-q:v',
    '4',
    '-color_primaries',
    'bt709',
    '-color_trc',
    'bt709',
    '-colorspace',
    'bt709',
    '-color_range',
    'tv',
    '-movflags',
    '+write_colr',
    '-c:a',
    'pcm_s24le',
    '-timecode',
    timecode,
    '-metadata:s:v:0',
    'reel_name=A001',
    join(folder, name),
  ]);
  if (ended.code !== 0) throw new Error(ended.stderr);
  return (await describeFile(join(folder, name), name)) as ClipDescription;
}

async function made(
  clip: ClipDescription,
  deliverables: readonly Partial<Deliverable>[],
  into: string,
): Promise<{ plan: LegPlan; result: LegResult }> {
  const recipe = {
    ...finishAndCut,
    deliverables: deliverables.map((one, index): Deliverable => ({
      name: `D${index}`,
      role: 'intermediate',
      folder: `d${index}`,
      wrapper: 'mov',
      codec: { id: 'prores', profile: 'hq' },
      raster: { kind: 'source' },
      interlaced: 'deinterlace',
      sound: pcm,
      ...one,
    })),
  };
  const plan = unwrap(planLeg(clip, recipe));
  return {
    plan,
    result: await runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: into },
      owner: `test.${into}`,
      whole: 'X',
      recorded: async () => null,
      record: async () => undefined,
    }),
  };
}
const troubles = (result: LegResult): unknown[] =>
  result.outputs
    .filter(({ state }) => state !== 'proved')
    .map(({ path, proof, problem }) => [path, proof?.reasons ?? problem?.what]);

const codecs: readonly VideoCodec[] = [
  ...(['proxy', 'lt', '422', 'hq', '4444', '4444xq'] as const).map((profile): VideoCodec => ({
    id: 'prores',
    profile,
  })),
  ...(['lb', 'sq', 'hq', 'hqx', '444'] as const).map((profile): VideoCodec => ({ id: 'vc3', profile })),
  { id: 'vc5', quality: 'film' },
  { id: 'h264', quality: 21 },
  { id: 'h264', quality: 18, bitDepth: 10, intra: true },
  { id: 'h264', quality: 18, bitDepth: 10, chroma: '4:2:2' },
  { id: 'h264', quality: 21, grain: 'kept', effort: 'balanced' },
  { id: 'hevc', quality: 24 },
  { id: 'hevc', quality: 24, bitDepth: 10 },
  { id: 'hevc', quality: 24, bitDepth: 10, chroma: '4:2:2' },
  { id: 'hevc', quality: 24, intra: true },
  { id: 'av1', quality: 30 },
  { id: 'mjpeg', quality: 3 },
  { id: 'ffv1', sampling: '4:2:0 8' },
  { id: 'ffv1', sampling: '4:2:2 8' },
  { id: 'ffv1', sampling: '4:2:2 10' },
  { id: 'ffv1', sampling: '4:4:4 10' },
  { id: 'v210' },
  ...(['dpx', 'tiff', 'png', 'exr'] as const).map((format): VideoCodec => ({ id: 'pictures', format })),
  { id: 'none' },
];
const combinations = codecs.flatMap((codec) =>
  wrapperIds.flatMap((wrapper) => {
    const sound = wrappers[wrapper].sound.includes('pcm') ? pcm : aac;
    return wrapperProblem(wrapper, codec.id, sound.codec) ? [] : [{ codec, wrapper, sound }];
  }),
);

describe('every codec in every wrapper that can hold it', () => {
  // Rates whose frames are no whole number of samples or milliseconds are tried where the wrapper counts in those.
  it.each([
    ['25', combinations],
    ['60000/1001', combinations.filter(({ wrapper }) => wrapper !== 'mov')],
    ['30000/1001', combinations.filter(({ wrapper }) => wrapper === 'mxf' || wrapper === 'avi')],
  ] as const)('at %s is made, proved, and takes no more than was reckoned', async (rate, wanted) => {
    const clip = await original(rate, 'small');
    const { plan, result } = await made(clip, wanted, `all-${rate.replace('/', '_')}`);
    expect(troubles(result)).toEqual([]);
    expect(result.outputs).toHaveLength(wanted.length);
    for (const [index, output] of plan.outputs.entries()) {
      const size = result.outputs[index]?.sizeBytes as number;
      expect(size, output.path).toBeLessThanOrEqual(outputBytesAtMost(output));
      // What is called exact is so to the byte; where every frame's bytes are known, the range holds the rest.
      const { bytes, known } = estimateOutput(output);
      if (known === 'exact') expect(size, output.path).toBe(bytes.likely);
      else if (exactFrameBytes(output) !== null)
        expect([output.path, bytes.least <= size && size <= bytes.most]).toEqual([output.path, true]);
    }
  });

  it('VC-3 at HD, at its own rasters and rates, and refused elsewhere', async () => {
    for (const rate of ['25', '30000/1001'] as const) {
      const clip = await original(rate, 'hd');
      const grades: readonly Vc3HdGrade[] =
        rate === '30000/1001' ? ['low', 'standard', 'high'] : ['low', 'standard', 'high', 'high-10'];
      const { result } = await made(
        clip,
        grades.flatMap((grade) =>
          (['mov', 'mxf'] as const).map((wrapper): Partial<Deliverable> => ({
            codec: { id: 'vc3hd', grade },
            wrapper,
          })),
        ),
        `hd-${rate.replace('/', '_')}`,
      );
      expect(troubles(result)).toEqual([]);
    }
    const small = await original('25', 'small');
    const refused = planLeg(small, {
      ...finishAndCut,
      deliverables: [{ ...(finishAndCut.deliverables[0] as Deliverable), codec: { id: 'vc3hd', grade: 'low' } }],
    });
    expect(refused).toMatchObject({ ok: false, problem: { what: expect.stringContaining('not 320×192') as string } });
  });
});

it('an original without timecode: MXF states midnight, as planned, and the others none', async () => {
  const clip = { ...(await original('25', 'small')), timecode: null, reel: null };
  const { plan, result } = await made(
    clip,
    (['mxf', 'opatom', 'mov'] as const).map((wrapper): Partial<Deliverable> => ({
      codec: { id: 'vc3', profile: 'sq' },
      wrapper,
    })),
    'midnight',
  );
  expect(troubles(result)).toEqual([]);
  expect(plan.outputs.map(({ timecode }) => timecode?.start ?? null)).toEqual(['00:00:00:00', '00:00:00:00', null]);
});

describe('what can be asked of H.264 and HEVC', () => {
  it('sizes and rates are kept to, in one pass and two, and a size that cannot be is refused beforehand with the least', async () => {
    const clip = await original('25', 'hd');
    const asked = (codec: VideoCodec, wrapper: WrapperId = 'mp4'): Partial<Deliverable> => ({
      codec,
      wrapper,
      sound: aac,
    });
    const { plan, result } = await made(
      clip,
      [
        asked({ id: 'h264', quality: 30 }),
        asked({ id: 'h264', quality: 21, rate: { kind: 'size', bytes: 700_000 } }),
        asked({ id: 'hevc', quality: 24, rate: { kind: 'share', percent: 3 } }, 'mov'),
        asked({ id: 'h264', quality: 21, rate: { kind: 'average', bitsPerSecond: 4_000_000, passes: 1 } }),
      ],
      'sizes',
    );
    expect(troubles(result)).toEqual([]);
    const sizeOf = (index: number): number => result.outputs[index]?.sizeBytes ?? 0;
    // Behind another output: the second pass must find what the first wrote down wherever it stands in its command.
    expect(sizeOf(1)).toBeLessThanOrEqual(700_000);
    expect(sizeOf(1)).toBeGreaterThan(700_000 * 0.85);
    expect(sizeOf(2)).toBeLessThanOrEqual(clip.sizeBytes * 0.03);
    expect(plan.outputs[2]?.rate?.passes).toBe(2);
    const tooLittle = planLeg(clip, {
      ...finishAndCut,
      deliverables: [
        {
          ...(finishAndCut.deliverables[1] as Deliverable),
          sound: aac,
          wrapper: 'mp4',
          raster: { kind: 'source' },
          codec: { id: 'h264', quality: 21, rate: { kind: 'size', bytes: 60_000 } },
        },
      ],
    });
    expect(tooLittle).toMatchObject({
      ok: false,
      problem: {
        what: expect.stringMatching(/60 kB cannot be reached/) as string,
        remedy: expect.stringMatching(/Ask for \d+ kB at least/) as string,
      },
    });
  });

  it('4:2:2 at UHD is refused in MOV, where nothing would decode it, and made in MP4', async () => {
    const codec: VideoCodec = { id: 'h264', quality: 30, bitDepth: 10, chroma: '4:2:2' };
    const clip = await original('25', 'uhd');
    const refused = planLeg(clip, {
      ...finishAndCut,
      deliverables: [{ ...(finishAndCut.deliverables[0] as Deliverable), codec }],
    });
    expect(refused).toMatchObject({
      ok: false,
      problem: { what: expect.stringContaining('in MOV at 3840×2160') as string },
    });
    const { result } = await made(clip, [{ codec, wrapper: 'mp4', sound: aac }], 'uhd');
    expect(troubles(result)).toEqual([]);
  });

  it('alpha is kept by ProRes 4444 where it was asked for, and said to be left out elsewhere', async () => {
    const clip = await original('25', 'small', true);
    const { plan, result } = await made(
      clip,
      [{ codec: { id: 'prores', profile: '4444', alpha: 'kept' } }, { codec: { id: 'prores', profile: '4444' } }],
      'alpha',
    );
    expect(troubles(result)).toEqual([]);
    expect(plan.outputs.map(({ video }) => video.alpha)).toEqual([true, undefined]);
    expect(result.outputs[0]?.proof?.comparisons.find(({ name }) => name === 'alpha')).toMatchObject({
      found: 'kept',
      holds: true,
    });
  });
});
