import { describe, expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import type { ClipDescription, VideoDescription } from '../clip/description.ts';
import type { ClipCorrections } from '../corrections/corrections.ts';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import type { OutputPlan } from './legPlan.ts';
import { planLeg } from './plan.ts';
import { finishAndCut, type Deliverable, type VideoCodec } from './recipe.ts';
import { sayPlan, sayWish } from './sentence.ts';
import { outputWarnings } from './warnings.ts';

type Case = readonly [string, Partial<ClipDescription>, Partial<VideoDescription>, ClipCorrections, readonly string[]];
const r = rational;
const at25 = { rate: r(25), frames: 100 } as const;
const [every, sound, start] = [
  '23.976 stays, every frame once',
  'All 6 sound tracks kept in order, 6 channels',
  'Starts at 10:02:11:08, reel A001',
];
const stereo = {
  codec: 'AAC',
  codecId: 'aac',
  channels: 2,
  layout: 'stereo',
  sampleRate: 44_100,
  bitDepth: 16,
  duration: null,
} as const;

/** Figures are reckoned by hand: 91 frames of 30 are 72.8 of 24, so 73, which are 8.3 ms longer. */
const cases: readonly Case[] = [
  ['nothing', {}, {}, {}, [every, sound, start]],
  ['squeeze', {}, {}, { shape: { squeeze: r(4, 3) } }, ['Widened 1.33×: 1920×1080 becomes 2560×1080']],
  ['a narrow one', {}, {}, { shape: { squeeze: r(2, 3) } }, ['Heightened 0.667×: 1920×1080 becomes 1920×1620']],
  ['by rows', {}, {}, { shape: { squeeze: r(2), square: 'rows' } }, ['Lowered 2×: 1920×1080 becomes 1920×540']],
  [
    'kept pixels',
    {},
    { pixelAspect: r(16, 15), raster: { width: 720, height: 576 } },
    { shape: { square: 'keep' } },
    ['Pixels of 16:15 kept as they are, 720×576'],
  ],
  [
    'stated pixels',
    {},
    { raster: { width: 720, height: 576 } },
    { shape: { pixelAspect: r(16, 15) } },
    ['Pixels stated as 16:15 made square: 720×576 becomes 768×576'],
  ],
  [
    'tagged pixels',
    {},
    { raster: { width: 1440, height: 1080 }, pixelAspect: r(4, 3) },
    {},
    ['Pixels of 4:3 made square: 1440×1080 becomes 1920×1080'],
  ],
  [
    'crop and turn',
    {},
    {},
    {
      shape: { crop: { left: 10, right: 20, top: 30, bottom: 40 }, turn: { quarters: 1, across: true, down: true } },
    },
    [
      'Cropped to 1890×1010: 10 and 20 columns, 30 and 40 rows off',
      'Turned by 90°, mirrored left to right, mirrored top to bottom',
    ],
  ],
  ['the file’s own turn', {}, { quarterTurns: 1 }, {}, ['Turned upright by 90°']],
  [
    'slow motion',
    {},
    { rate: r(60_000, 1001), frames: 120 },
    { time: { kind: 'relabel', rate: r(24_000, 1001), timecode: 'as labelled', sound: 'stretched' } },
    ['59.94 played at 23.976, 2.5× slower; sound stretched with it'],
  ],
  [
    'a little slower',
    {},
    { rate: r(30_000, 1001), frames: 120 },
    { time: { kind: 'relabel', rate: r(24_000, 1001), timecode: 'as labelled', sound: 'stretched' } },
    ['29.97 played at 23.976, 1.25× slower; sound stretched with it'],
  ],
  [
    'a little faster',
    {},
    { rate: r(24), frames: 120 },
    { time: { kind: 'relabel', rate: r(25), timecode: 'as labelled', sound: 'pitch kept' } },
    ['24.000 played at 25.000, 1.042× faster; sound stretched, its pitch kept'],
  ],
  [
    'twice as fast, mute',
    {},
    at25,
    { time: { kind: 'relabel', rate: r(50), timecode: 'as labelled', sound: 'dropped' } },
    ['25.000 played at 50.000, 2× faster; sound left out'],
  ],
  [
    'frames dropped',
    {},
    { rate: r(30), frames: 91 },
    { time: { kind: 'resample', rate: r(24), how: 'hold', timecode: 'as labelled' } },
    [
      '30.000 becomes 24.000, duration kept, 18 frames dropped, 8.3 ms longer at the end',
      'Starts at 10:02:11:06, reel A001',
    ],
  ],
  [
    'frames repeated',
    {},
    { rate: r(24), frames: 24 },
    { time: { kind: 'resample', rate: r(30), how: 'hold', timecode: 'as labelled' } },
    ['24.000 becomes 30.000, duration kept, 6 repeated', 'Starts at 10:02:11:10, reel A001'],
  ],
  [
    'one frame dropped',
    {},
    { rate: r(25), frames: 25 },
    { time: { kind: 'resample', rate: r(24), how: 'hold', timecode: 'as labelled' } },
    ['25.000 becomes 24.000, duration kept, 1 frame dropped'],
  ],
  [
    'frames mixed',
    {},
    { rate: r(24), frames: 24 },
    { time: { kind: 'resample', rate: r(25), how: 'blend', timecode: 'as labelled' } },
    ['24.000 becomes 25.000, duration kept, frames mixed'],
  ],
  [
    'pulldown out',
    {},
    { rate: r(30_000, 1001), frames: 100, scan: 'top-field-first' },
    { time: { kind: 'pulldown-out', phase: 0, timecode: 'as labelled' } },
    ['2:3 pulldown taken out: 29.97 becomes 23.976, whole frames'],
  ],
  [
    'pulldown in',
    {},
    { rate: r(24_000, 1001), frames: 96 },
    { time: { kind: 'pulldown-in', timecode: 'as labelled' } },
    ['2:3 pulldown put in: 23.976 becomes 29.97'],
  ],
  [
    'fields',
    {},
    { ...at25, scan: 'top-field-first' },
    {},
    ['25.000 stays, every frame once', 'Fields stay in the intermediate; the proxy is deinterlaced'],
  ],
  [
    'fields that a person saw',
    {},
    at25,
    { scan: { read: 'bottom-field-first' } },
    ['Taken as bottom field first. Fields stay in the intermediate; the proxy is deinterlaced'],
  ],
  [
    'a varying rate',
    {},
    { rateConstant: false, rateVaries: { slowest: r(24), fastest: r(30) }, rate: r(30), frames: 90 },
    {},
    ['A varying rate (24.000–30.000) becomes 30.000, duration kept'],
  ],
  ['no sound', { audio: [] }, {}, {}, ['No sound in the original']],
  [
    'one track at another rate',
    { audio: [stereo] },
    {},
    {},
    ['The one sound track kept in order, 2 channels, brought to 48 kHz'],
  ],
  [
    'what is left out',
    { otherStreams: ['data', 'data', 'subtitle'] },
    { colour: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'full' }, alpha: true },
    {},
    [
      'Full range becomes legal',
      'Alpha is left out',
      'What it carries beside picture and sound is left out: data, subtitle',
    ],
  ],
  [
    'repairs',
    {},
    {},
    { repair: { denoise: 2, stabilise: 1 } },
    [
      'Noise averaged over time, moderately',
      'The camera held a little: the middle 1829×1029 is kept and enlarged, in 8 bits',
    ],
  ],
  ['no timecode', { timecode: null, reel: null }, {}, {}, ['No timecode in the original, none written']],
  ['no reel', { reel: null }, {}, {}, ['Starts at 10:02:11:08; no reel in the original, none written']],
];

describe('what a run will do, in sentences', () => {
  it.each(cases)('%s', (name, clip, video, corrections, wanted) => {
    const said = sayPlan(unwrap(planLeg(sampleClip(clip, video), finishAndCut, corrections)));
    if (name === 'nothing') expect(said).toEqual(wanted);
    else for (const line of wanted) expect(said).toContain(line);
    // Rates and sound are always said of, and once.
    expect(
      said.filter((line) => /\b(stays|becomes|played at|pulldown)\b.*\d\d\.\d|\d\d\.\d.* stays/.test(line)).length,
    ).toBe(1);
    expect(said.filter((line) => /sound/i.test(line)).length).toBeGreaterThan(0);
  });

  it('rasters are wished for in words', () => {
    expect([
      sayWish({ kind: 'source' }),
      sayWish({ kind: 'share', of: 2 }),
      sayWish({ kind: 'share', of: 3 }),
      sayWish({ kind: 'share', of: 4 }),
      sayWish({ kind: 'fit', width: 960, height: 540, enlarge: false }),
      sayWish({ kind: 'fit', width: 960, height: 540, enlarge: true }),
      sayWish({ kind: 'pad', width: 1920, height: 1080 }),
      sayWish({ kind: 'pad', width: 1920, height: 1080, colour: 'grey' }),
      sayWish({ kind: 'fill', width: 1920, height: 1080, enlarge: false }),
      sayWish({ kind: 'cut', width: 1920, height: 800 }),
    ]).toEqual([
      "the original's, pixels square",
      'a half each way',
      'a third each way',
      'a quarter each way',
      'within 960×540, never enlarged',
      'within 960×540, enlarged if smaller',
      '1920×1080, filled up with black',
      '1920×1080, filled up with grey',
      '1920×1080 filled, the rest cut, never enlarged',
      '1920×800 cut out, not scaled',
    ]);
  });
});

describe('what is warned of before it is made', () => {
  /** A deliverable's warnings for a clip of HD at 25. */
  function warned(change: Partial<Deliverable>, video: Partial<VideoDescription> = {}, sizeBytes = 5e9): string[] {
    const clip = sampleClip({ sizeBytes }, { ...at25, ...video });
    const deliverable = { ...(finishAndCut.deliverables[0] as Deliverable), ...change };
    const [output] = unwrap(planLeg(clip, { ...finishAndCut, deliverables: [deliverable] })).outputs;
    return outputWarnings(clip, output as OutputPlan);
  }
  const h264 = { id: 'h264', quality: 21 } as const;
  const raster = (width: number, height: number): Deliverable['raster'] => ({
    kind: 'fit',
    width,
    height,
    enlarge: true,
  });

  it('is nothing of the usual ones', () => {
    expect(warned({})).toEqual([]);
    expect(warned({ role: 'proxy', codec: h264 })).toEqual([]);
  });

  it('are H.264’s levels: 4.2 for older players, 5.2 for hardware (ITU-T H.264, table A-1)', () => {
    const level = (width: number, height: number, rate = 25, codec: VideoCodec = h264): string | undefined =>
      warned({ role: 'proxy', codec, raster: raster(width, height) }, { rate: r(rate) }).find((line) =>
        line.includes('level'),
      );
    // 8,704 blocks a frame and 522,240 a second: HD at 64 is just that, and 65 of them too many; so with UHD and 5.2.
    expect([level(1920, 1080, 64), level(1920, 1080, 65)]).toEqual([
      undefined,
      '1920×1080 at 65.000 is beyond level 4.2: older players stumble',
    ]);
    expect(level(2048, 1152)).toContain('4.2');
    expect(level(2048, 1080, 25)).toBeUndefined();
    expect(level(3840, 2160, 50)).toContain('4.2');
    expect(level(3840, 2160, 64)).toContain('4.2');
    expect(level(3840, 2160, 65)).toBe('3840×2160 at 65.000 is beyond level 5.2, which most hardware decoders end at');
    expect(level(3840, 2160, 50, { id: 'hevc', quality: 24 })).toBeUndefined();
    expect(level(3840, 2160, 65, { id: 'hevc', quality: 24 })).toContain('5.2');
    expect(
      warned({ codec: { ...h264, intra: true }, raster: raster(2048, 1152) }).filter((line) => line.includes('4.2')),
    ).toEqual([]);
  });

  it('are samplings that few decoders take, and codecs that few programs do', () => {
    const of = (codec: VideoCodec, wrapper: Deliverable['wrapper'] = 'mov'): string[] =>
      warned({ role: 'proxy', codec, wrapper, sound: { codec: 'aac', sampleRate: 48_000 } });
    expect(of({ ...h264, bitDepth: 10 })[0]).toBe(
      'H.264 of 4:2:0 10 bit plays in few hardware decoders: browsers and phones take 4:2:0 8 bit',
    );
    expect(of({ ...h264, bitDepth: 10, chroma: '4:2:2' })[0]).toContain('H.264 of 4:2:2 10 bit');
    expect(of({ id: 'hevc', quality: 24, bitDepth: 10 })).not.toContain('HEVC of 4:2:2 plays in few hardware decoders');
    expect(of({ id: 'hevc', quality: 24, bitDepth: 10, chroma: '4:2:2' })[0]).toBe(
      'HEVC of 4:2:2 plays in few hardware decoders',
    );
    expect(of({ id: 'av1', quality: 30 }, 'mp4')).toEqual([
      'AV1 plays in new players only, and few cutting programs take it',
      'MP4 keeps no reel',
      'AAC sound loses a little; PCM keeps it',
    ]);
  });

  it('are what an intermediate had better be, and a proxy that is none', () => {
    expect(warned({ codec: h264 })).toEqual([
      'H.264 with groups of pictures is heavy to cut and grade; an intermediate had better be intra',
      "8 bits of the original's 10",
    ]);
    expect(warned({ codec: { ...h264, intra: true } }, { bitDepth: 8 })).toEqual([]);
    const light = (bytes: number): boolean =>
      warned({ role: 'proxy' }, {}, bytes).includes('No lighter than its original');
    expect([light(5_000_000), light(5e9)]).toEqual([true, false]);
    const review = warned({ role: 'review', codec: h264, wrapper: 'mp4', sound: { codec: 'aac', sampleRate: 48_000 } });
    expect(review).toEqual(['MP4 keeps no reel']);
  });
});
