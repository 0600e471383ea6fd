import { describe, expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import { planLeg } from '../recipe/plan.ts';
import { finishAndCut, type Deliverable, type VideoCodec } from '../recipe/recipe.ts';
import { unwrap } from '../result.ts';
import {
  endsAtWhite,
  legalCodesOf,
  legalLuma,
  readingOf,
  readingOfOutput,
  signalsOf,
  smallOf,
  type Reading,
} from './reading.ts';
import type { Planes } from './smalls.ts';

const legal = (matrix: string, bitDepth = 8): Reading => ({ rgb: false, bitDepth, range: 'legal', matrix });
/** One sample's codes, of the depth, as decoded: shifted up to 16 bits. */
const sample = (codes: readonly number[], bitDepth: number): Planes =>
  codes.map((code) => Uint16Array.of(code * 2 ** (16 - bitDepth))) as never;
const signals = (codes: readonly number[], reading: Reading): number[] =>
  signalsOf(sample(codes, reading.bitDepth), reading).map((row) => row[0] as number);

/**
 * Codes of legal range that are printed for 75 % colour bars: ITU-R BT.601 in 8 bits (SMPTE EG 1; from memory) and
 * BT.709 in 10 bits (SMPTE RP 219; from memory); BT.2020's by its own equations at full strength, in 10 bits.
 */
const published: readonly (readonly [string, number, number, readonly (readonly [string, readonly number[]])[]])[] = [
  [
    'smpte170m',
    8,
    0.75,
    [
      ['110', [162, 44, 142]],
      ['011', [131, 156, 44]],
      ['010', [112, 72, 58]],
      ['101', [84, 184, 198]],
      ['100', [65, 100, 212]],
      ['001', [35, 212, 114]],
    ],
  ],
  [
    'bt709',
    10,
    0.75,
    [
      ['110', [674, 176, 543]],
      ['011', [581, 589, 176]],
      ['010', [534, 253, 207]],
      ['101', [251, 771, 817]],
      ['100', [204, 435, 848]],
      ['001', [111, 848, 481]],
    ],
  ],
  [
    'bt2020nc',
    10,
    1,
    [
      ['100', [294, 387, 960]],
      ['010', [658, 189, 100]],
      ['001', [116, 960, 476]],
    ],
  ],
];
const cases = published.flatMap(([matrix, bits, level, rows]) =>
  rows.map(([rgb, codes]) => ({ matrix, bits, rgb: [...rgb].map((digit) => Number(digit) * level), codes })),
);

describe('codes and signals', () => {
  it.each(cases)('$matrix: $rgb is $codes', ({ matrix, bits, rgb, codes }) => {
    const unit = 2 ** (bits - 8);
    // Printed codes are whole: half a code each way.
    signals(codes, legal(matrix, bits)).forEach((value, c) =>
      expect(Math.abs(value - (rgb[c] as number))).toBeLessThan(1.2 / (219 * unit)),
    );
    const made = legalCodesOf(rgb.map((value) => Float32Array.of(value)) as never, matrix);
    codes.forEach((code, p) =>
      expect(Math.abs((made[p] as number) / 2 ** (16 - bits) - code)).toBeLessThanOrEqual(0.51),
    );
  });

  it('of the matrices that hardly anybody uses are those of H.273, table 4: weights of red and blue', () => {
    for (const [matrix, kr, kb] of [
      ['fcc', 0.3, 0.11],
      ['smpte240m', 0.212, 0.087],
      ['bt470bg', 0.299, 0.114],
      ['bt2020c', 0.2627, 0.0593],
      ['nobody knows', 0.2126, 0.0722],
    ] as const) {
      const luma = (rgb: readonly number[]): number =>
        ((legalCodesOf(rgb.map((value) => Float32Array.of(value)) as never, matrix)[0] as number) / 256 - 16) / 219;
      expect(luma([1, 0, 0])).toBeCloseTo(kr, 4);
      expect(luma([0, 0, 1])).toBeCloseTo(kb, 4);
    }
  });

  it('of full range have white at the highest code and grey in the middle (H.273, equations 20 to 28)', () => {
    const full: Reading = { ...legal('bt709'), range: 'full' };
    expect(signals([255, 128, 128], full)).toEqual([1, 1, 1]);
    expect(signals([0, 128, 128], full)).toEqual([0, 0, 0]);
    const [r, g, b] = signals([128, 128, 255], full) as [number, number, number];
    expect(r).toBeCloseTo(128 / 255 + (2 * (1 - 0.2126) * 127) / 255, 5);
    expect(g).toBeCloseTo(128 / 255 - (((2 * (1 - 0.2126) * 0.2126) / 0.7152) * 127) / 255, 5);
    expect(b).toBeCloseTo(128 / 255, 5);
    const [, , blue] = signals([128, 255, 128], full) as [number, number, number];
    expect(blue).toBeCloseTo(128 / 255 + (2 * (1 - 0.0722) * 127) / 255, 5);
  });

  it("of R'G'B' lie as FFmpeg orders them: green, blue, red", () => {
    const rgb: Reading = { rgb: true, bitDepth: 10, range: 'full', matrix: 'bt709' };
    const [r, g, b] = signals([1023, 0, 512], rgb) as [number, number, number];
    expect([g, b]).toEqual([1, 0]);
    expect(r).toBeCloseTo(512 / 1023, 6);
  });

  it('beyond what 16 bits hold are cut off at both ends', () => {
    const made = legalCodesOf([Float32Array.of(2), Float32Array.of(2), Float32Array.of(-1)], 'bt709');
    expect(made[0]).toBe(65_535);
    expect(made[1]).toBe(0);
    expect(legalCodesOf([Float32Array.of(-1), Float32Array.of(-1), Float32Array.of(-1)], 'bt709')[0]).toBe(0);
  });
});

describe('luma to tell places by', () => {
  it('is the samples themselves where they are legal, and what they would be where they are not', () => {
    const planes = sample([512, 512, 512], 10);
    expect(legalLuma(planes, legal('bt709', 10))).toBe(planes[0]);
    const white = legalLuma(sample([255, 128, 128], 8), { ...legal('bt709'), range: 'full' });
    expect(white[0]).toBe(235 * 256);
    const rgb: Reading = { rgb: true, bitDepth: 8, range: 'full', matrix: 'bt709' };
    // Green, blue, red: each weighs as BT.709-6, item 3.2, says.
    const luma = (gbr: readonly number[]): number => legalLuma(sample(gbr, 8), rgb)[0] as number;
    expect([luma([0, 0, 0]), luma([255, 0, 0]), luma([0, 255, 0]), luma([0, 0, 255])]).toEqual([
      4096,
      Math.round(4096 + 56_064 * 0.7152),
      Math.round(4096 + 56_064 * 0.0722),
      Math.round(4096 + 56_064 * 0.2126),
    ]);
  });

  it('is kept with the planes, and with single samples where they were taken', () => {
    const planes = sample([100, 128, 128], 8);
    expect(smallOf(1, 1, planes, legal('bt709'))).toEqual({ width: 1, height: 1, luma: planes[0], planes });
    expect(smallOf(1, 1, planes, legal('bt709'), planes).points).toBe(planes);
  });
});

describe('how codes are read', () => {
  const video = sampleClip().video as NonNullable<ReturnType<typeof sampleClip>['video']>;

  it('is by tags, and where there are none by size', () => {
    expect(readingOf(video)).toEqual({ rgb: false, bitDepth: 10, range: 'legal', matrix: 'bt709', centred: false });
    const untagged = { primaries: null, transfer: null, matrix: null, range: null };
    expect(readingOf({ ...video, colour: untagged })).toMatchObject({ range: 'legal', matrix: 'bt709' });
    expect(readingOf({ ...video, colour: untagged, raster: { width: 720, height: 576 } }).matrix).not.toBe('bt709');
    expect(readingOf({ ...video, colour: { ...untagged, range: 'full' }, codecId: 'mjpeg' })).toMatchObject({
      range: 'full',
      centred: true,
    });
    expect(readingOf({ ...video, chroma: 'rgb', bitDepth: 32 })).toMatchObject({
      rgb: true,
      range: 'full',
      bitDepth: 16,
    });
  });

  it('of an output is by its plan', () => {
    const reading = (codec: VideoCodec): Reading => {
      const wrapper = codec.id === 'pictures' ? 'pictures' : 'mov';
      const deliverable = { ...(finishAndCut.deliverables[0] as Deliverable), codec, wrapper } as const;
      const plan = unwrap(planLeg(sampleClip(), { ...finishAndCut, deliverables: [deliverable] }));
      return readingOfOutput(plan.outputs[0] as never);
    };
    expect(reading({ id: 'prores', profile: 'hq' })).toEqual({
      rgb: false,
      bitDepth: 10,
      range: 'legal',
      matrix: 'bt709',
      centred: false,
    });
    expect(reading({ id: 'pictures', format: 'tiff' })).toMatchObject({ rgb: true, range: 'full' });
    expect(reading({ id: 'mjpeg', quality: 3 })).toMatchObject({ rgb: false, centred: true });
  });

  it("ends at white for R'G'B' and for full range, and for nothing else", () => {
    expect([
      endsAtWhite({ ...legal('bt709'), rgb: true }),
      endsAtWhite({ ...legal('bt709'), range: 'full' }),
      endsAtWhite(legal('bt709')),
    ]).toEqual([true, true, false]);
  });
});
