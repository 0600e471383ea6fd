import { describe, expect, it } from 'vitest';
import type { OutputPlan } from '../recipe/legPlan.ts';
import type { VideoCodec } from '../recipe/recipe.ts';
import { rational } from '../time/rational.ts';
import { addEstimates, estimateOutput, type Estimate } from './estimate.ts';
import { besideBytes, besideRange, exactBytes, exactFrameBytes, outputBytesAtMost } from './forecast.ts';
import { floorBitsPerSecond, planRate, wrapperBytes } from './target.ts';
import { vc3FrameBytes, vc3Hd } from './vc3.ts';
import { legSeconds } from './time.ts';

/** Ten seconds of HD at 25, without sound unless told. */
const output = (codec: VideoCodec, rest: object = {}, raster = { width: 1920, height: 1080 }): OutputPlan =>
  ({
    codec,
    wrapper: 'mov',
    video: { frames: 250, rate: rational(25), raster, scan: 'progressive' },
    sound: { samples: 480_000, tracks: [] },
    ...rest,
  }) as unknown as OutputPlan;
const pixels = 1920 * 1080 * 250;
const stereo = { sound: { samples: 480_000, tracks: [{ channels: 2, bitDepth: 24 }] } };
const stereoBytes = 2 * 3 * 480_000;
/** What a MOV of ten seconds is reckoned to take for itself, without sound: 6,000 and 24 a picture, of which four fifths. */
const around = Math.round((6_000 + 250 * 24) * 0.8);

describe('what an output is reckoned to take where nothing is known of its pictures', () => {
  it.each<[VideoCodec, number]>([
    [{ id: 'h264', quality: 21 }, 0.12],
    [{ id: 'h264', quality: 15 }, 0.24],
    [{ id: 'h264', quality: 27 }, 0.06],
    [{ id: 'h264', quality: 21, intra: true }, 0.48],
    [{ id: 'h264', quality: 21, chroma: '4:2:2', bitDepth: 10 }, 0.144],
    [{ id: 'hevc', quality: 21 }, 0.08],
    [{ id: 'av1', quality: 30 }, 0.06],
    [{ id: 'av1', quality: 40 }, 0.03],
    [{ id: 'mjpeg', quality: 3 }, 2],
    [{ id: 'mjpeg', quality: 1 }, 3],
    [{ id: 'vc5', quality: 'low' }, 1.5],
    [{ id: 'vc5', quality: 'medium' }, 2],
    [{ id: 'vc5', quality: 'high' }, 3],
    [{ id: 'vc5', quality: 'film' }, 4],
    [{ id: 'ffv1', sampling: '4:2:2 10' }, 11],
    [{ id: 'pictures', format: 'exr' }, 24],
  ])('%o: %f bits of a pixel, a quarter to three times as much', (codec, bits) => {
    const likely = (pixels * bits) / 8;
    const { bytes, known } = estimateOutput(output(codec, codec.id === 'pictures' ? { wrapper: 'pictures' } : {}));
    const beside = codec.id === 'pictures' ? Math.round(4_096 * 0.8) : around;
    expect(known).toBe('roughly');
    // To the byte, but for the last digit of a float.
    [bytes.least - likely * 0.25, bytes.likely - likely, bytes.most - likely * 3].forEach((off) =>
      expect(Math.abs(off - beside)).toBeLessThanOrEqual(1),
    );
  });

  it('is what this site found its own to take, where it has made some', () => {
    const codec: VideoCodec = { id: 'h264', quality: 21 };
    expect(estimateOutput(output(codec), null, 0.5).bytes.likely - around).toBe((pixels * 0.06) / 8);
  });

  it('of ProRes is its target, 5 % under it most likely (RDD 36: 220 Mb/s at 29.97 is 183.5 at 25)', () => {
    const { bytes, known } = estimateOutput(output({ id: 'prores', profile: 'hq' }, stereo));
    const pictures = ((220e6 * 1001 * 25) / 30_000 / 8) * 10 * 0.95;
    const beside = stereoBytes + Math.round((6_000 + 250 * 24 + 2_000 + 4_800) * 0.8);
    expect(known).toBe('by published rates');
    expect(bytes.likely).toBe(Math.round(pictures) + beside);
    expect(bytes.least).toBe(Math.floor(pictures * 0.55) + beside);
    expect(bytes.most).toBe(Math.ceil(pictures * 1.13) + beside);
  });

  it('is the rate or the size that was asked for', () => {
    const asked = (rate: object): Estimate => estimateOutput(output({ id: 'h264', quality: 21 }, { rate }));
    expect(asked({ bitsPerSecond: 8e6, passes: 1, wholeBytes: null })).toEqual({
      bytes: { least: 8.5e6 + around, likely: 1e7 + around, most: 1.1e7 + around },
      known: 'by published rates',
    });
    expect(asked({ bitsPerSecond: 8e6, passes: 2, wholeBytes: 1e7 })).toEqual({
      bytes: { least: 8.8e6, likely: 9.6e6, most: 1e7 },
      known: 'by published rates',
    });
  });
});

describe('what an output is reckoned to take by sampled pictures', () => {
  const proxy = output({ id: 'h264', quality: 21 });
  const beside = besideRange(proxy);
  const sampled = (bytesPerFrame: number[], whole = false): Estimate =>
    estimateOutput(proxy, { bytesPerFrame, ...(whole ? { whole } : {}) });

  it('is their mean, within Student’s t nine times in ten', () => {
    // Three places, 9, 10 and 11 kB: a standard deviation of 1, so 2.92 / √3 = 1.686 kB, 16.9 %.
    const { bytes, known } = sampled([9_000, 10_000, 11_000]);
    const half = 2.92 / Math.sqrt(3) / 10;
    expect(known).toBe('by sampled pictures');
    expect(bytes).toEqual({
      least: Math.floor(Math.floor(2.5e6 * (1 - half)) + beside.least),
      likely: 2.5e6 + beside.likely,
      most: Math.ceil(Math.ceil(2.5e6 * (1 + half)) + beside.most),
    });
  });

  it('is never surer than 8 %, nor less sure than 20, but where all was encoded', () => {
    const half = (of: Estimate): number => Math.round(((of.bytes.most - beside.most) / 2.5e6 - 1) * 1000) / 1000;
    expect(half(sampled([10_000, 10_000, 10_000]))).toBe(0.08);
    expect(half(sampled([1_000, 10_000, 19_000]))).toBe(0.2);
    expect(half(sampled([10_000]))).toBe(0.2);
    expect(half(sampled([1_000, 10_000, 19_000], true))).toBe(0.03);
    expect(estimateOutput(proxy, { bytesPerFrame: [] }).known).toBe('roughly');
  });

  it('leaves open what coded sound takes', () => {
    const coded = output(
      { id: 'h264', quality: 21 },
      { sound: { ...stereo.sound, coding: { bitsPerSecond: 96_000 } } },
    );
    const range = besideRange(coded);
    const { bytes } = estimateOutput(coded, { bytesPerFrame: [10_000], whole: true });
    // Two channels of 96 kb/s for ten seconds.
    expect(bytes).toEqual({
      least: Math.floor(2.5e6 * 0.97 + 240_000 * 0.5 + range.least),
      likely: 2.5e6 + 240_000 + range.likely,
      most: Math.ceil(2.5e6 * 1.03 + 240_000 * 1.06 + range.most),
    });
  });
});

describe('what is known to the byte', () => {
  it('are frames of one size: v210 lines of 48 pixels in 128 bytes, DPX and TIFF without packing, nothing', () => {
    const frame = (codec: VideoCodec, width = 1920, height = 1080) =>
      exactFrameBytes(output(codec, {}, { width, height }));
    expect(frame({ id: 'v210' })).toBe(5_529_600);
    expect(frame({ id: 'v210' }, 1280, 720)).toBe(27 * 128 * 720);
    expect(frame({ id: 'pictures', format: 'dpx' })).toBe(1920 * 1080 * 4 + 1_664);
    expect(frame({ id: 'pictures', format: 'tiff' })).toBe(1920 * 1080 * 6 + 218 + 8 * 1080);
    // Narrow lines share a strip of 8,192 bytes: thirteen of a hundred pixels.
    expect(frame({ id: 'pictures', format: 'tiff' }, 100, 40)).toBe(100 * 40 * 6 + 218 + 8 * 4);
    expect([
      frame({ id: 'none' }),
      frame({ id: 'pictures', format: 'png' }),
      frame({ id: 'prores', profile: 'lt' }),
    ]).toEqual([0, null, null]);
    expect(frame({ id: 'vc3hd', grade: 'low' })).toBe(188_416);
  });

  it('are whole outputs of images and of sound alone, and no others', () => {
    const images = output({ id: 'pictures', format: 'dpx' }, { wrapper: 'pictures', ...stereo });
    expect(exactBytes(images)).toBe(250 * (1920 * 1080 * 4 + 1_664) + stereoBytes + 748);
    expect(exactBytes(output({ id: 'pictures', format: 'dpx' }, { wrapper: 'pictures' }))).toBe(
      250 * (1920 * 1080 * 4 + 1_664),
    );
    expect(exactBytes(output({ id: 'none' }, { wrapper: 'wav', ...stereo }))).toBe(stereoBytes + 748);
    expect([
      exactBytes(output({ id: 'v210' })),
      exactBytes(output({ id: 'pictures', format: 'png' }, { wrapper: 'pictures' })),
    ]).toEqual([null, null]);
    expect(estimateOutput(images)).toMatchObject({ known: 'exact', bytes: { likely: exactBytes(images) } });
    const v210 = estimateOutput(output({ id: 'v210' }, stereo));
    const range = besideRange(output({ id: 'v210' }, stereo));
    const known = 250 * 5_529_600 + stereoBytes;
    expect(v210).toEqual({
      known: 'by frame sizes',
      bytes: { least: known + range.least, likely: known + range.likely, most: known + range.most },
    });
  });

  it('VC-3 is as large as made files are: 188,416 bytes of LB at 1920×1080; never less than 8,192', () => {
    expect(vc3FrameBytes('lb', { width: 1920, height: 1080 })).toBe(188_416);
    expect(vc3FrameBytes('sq', { width: 1920, height: 1080 })).toBe(606_208);
    expect(vc3FrameBytes('hq', { width: 1920, height: 1080 })).toBe(917_504);
    expect(vc3FrameBytes('444', { width: 1920, height: 1080 })).toBe(1_835_008);
    expect(vc3FrameBytes('lb', { width: 64, height: 48 })).toBe(8_192);
  });

  it('VC-3 at HD goes by rates that its frames come to, within a twentieth; other rasters and rates are refused', () => {
    let rows = 0;
    for (const grade of ['low', 'standard', 'high', 'high-10'] as const)
      for (const [width, height] of [
        [1920, 1080],
        [1280, 720],
      ] as const)
        for (const interlaced of [false, true])
          for (const rate of [
            rational(24_000, 1001),
            rational(24),
            rational(25),
            rational(30_000, 1001),
            rational(50),
            rational(60_000, 1001),
          ]) {
            const row = vc3Hd(grade, { width, height }, rate, interlaced);
            if (!row.ok) continue;
            rows += 1;
            const { megabits, frameBytes } = row.value;
            const real = (frameBytes * 8 * rate.num) / rate.den / 1e6;
            expect([
              grade,
              width,
              rate,
              Math.abs(megabits / real - 1) < 0.05 || Math.abs(megabits - real) < 2.5,
            ]).toEqual([grade, width, rate, true]);
          }
    expect(rows).toBe(46);
    expect(vc3Hd('standard', { width: 1920, height: 1080 }, rational(25), true)).toMatchObject({
      ok: true,
      value: { megabits: 120 },
    });
    expect(vc3Hd('low', { width: 1920, height: 1080 }, rational(25), true)).toMatchObject({
      ok: false,
      problem: { what: 'VC-3 at HD has no such grade at 25.000 interlaced' },
    });
    expect(vc3Hd('standard', { width: 720, height: 576 }, rational(25), false)).toMatchObject({
      ok: false,
      problem: { what: 'VC-3 at HD is 1920×1080 or 1280×720 in this grade, not 720×576' },
    });
  });
});

describe('the most that an output takes', () => {
  const most = (codec: VideoCodec, rest: object = {}): number => outputBytesAtMost(output(codec, rest)) - 64_000;
  it.each<[VideoCodec, number]>([
    [{ id: 'h264', quality: 21 }, 0.5],
    [{ id: 'h264', quality: 18 }, 0.5],
    [{ id: 'h264', quality: 12 }, 1],
    [{ id: 'hevc', quality: 24, intra: true }, 2],
    [{ id: 'hevc', quality: 24, chroma: '4:2:2', bitDepth: 10 }, 0.75],
    [{ id: 'av1', quality: 30 }, 0.5],
    [{ id: 'mjpeg', quality: 3 }, 8],
    [{ id: 'vc5', quality: 'low' }, 4],
    [{ id: 'vc5', quality: 'medium' }, 5],
    [{ id: 'vc5', quality: 'high' }, 7],
    [{ id: 'vc5', quality: 'film' }, 10],
    [{ id: 'ffv1', sampling: '4:2:0 8' }, 13.2],
    [{ id: 'ffv1', sampling: '4:2:2 10' }, 22],
    [{ id: 'ffv1', sampling: '4:4:4 10' }, 33],
  ])('%o: %f bits of a pixel', (codec, bits) => {
    expect(Math.abs(most(codec) - (pixels * bits) / 8 - 6_000 - 250 * 24)).toBeLessThanOrEqual(1);
  });

  it('is by what is known: frames, an asked rate and a fifth more, ProRes and a tenth more', () => {
    const wrapper = 6_000 + 250 * 24;
    expect(most({ id: 'v210' })).toBe(250 * 5_529_600 + wrapper);
    expect(most({ id: 'h264', quality: 21 }, { rate: { bitsPerSecond: 8e6 } })).toBe(1.2e7 + wrapper);
    expect(most({ id: 'prores', profile: 'hq' })).toBe(Math.ceil(((220e6 * 1001 * 25) / 30_000 / 8) * 11) + wrapper);
    expect(most({ id: 'pictures', format: 'png' }, { wrapper: 'pictures' })).toBe((pixels * 50) / 8 + 4_096);
    expect(most({ id: 'none' }, { wrapper: 'wav', ...stereo })).toBe(stereoBytes + 4_096);
  });

  it('of wrappers: MXF fills each frame up, OP-Atom has a file for each track', () => {
    const beside = (wrapper: string, rest: object = {}): number =>
      besideBytes(output({ id: 'vc3', profile: 'sq' }, { wrapper, ...rest }), 10);
    expect([beside('mxf'), beside('mxf', stereo)]).toEqual([256_000, 512_000]);
    expect([beside('opatom'), beside('opatom', stereo)]).toEqual([(250 + 8_192) * 64, (250 + 8_192) * 128]);
    expect([beside('mov'), beside('mov', stereo)]).toEqual([12_000, 18_800]);
    expect(wrapperBytes({ seconds: 10, frames: 250, soundTracks: 2 })).toBe(25_600);
    const range = (wrapper: string): unknown =>
      besideRange(output({ id: 'vc3', profile: 'sq' }, { wrapper, ...stereo }));
    expect(range('mxf')).toEqual({ least: 125_000, likely: 295_500, most: 445_000 });
    expect(range('opatom')).toEqual({ least: 11_000, likely: 14_400, most: 30_000 });
    expect(range('avi')).toEqual({ least: 5_000, likely: 24_700, most: 70_000 });
    expect(range('mov')).toEqual({ least: 800, likely: 5_700, most: 32_000 });
  });
});

describe('several together', () => {
  const one = (least: number, likely: number, most: number, known: Estimate['known'] = 'exact'): Estimate => ({
    bytes: { least, likely, most },
    known,
  });

  it('err half together and half apart, and are known as the least sure is', () => {
    // Together 6 and 8 below and above; apart 5 and √(16 + 16).
    expect(addEstimates([one(97, 100, 104), one(196, 200, 204, 'roughly')])).toEqual({
      bytes: { least: Math.floor(300 - (7 + 5) / 2), likely: 300, most: Math.ceil(300 + (8 + Math.sqrt(32)) / 2) },
      known: 'roughly',
    });
    expect(addEstimates([])).toEqual({ bytes: { least: 0, likely: 0, most: 0 }, known: 'exact' });
    expect(addEstimates([one(1, 1, 1, 'by frame sizes'), one(1, 1, 1)]).known).toBe('by frame sizes');
  });
});

describe('a rate that is asked for', () => {
  const beside = { seconds: 10, frames: 250, samplesPerFrame: 960 * 540, soundBytes: 240_000, soundTracks: 1 };
  const floor = 0.006 * 960 * 540 * 25;

  it('has a floor: 0.006 bits of each sample', () => {
    expect(floorBitsPerSecond(beside)).toBeCloseTo(floor, 6);
    const average = (bitsPerSecond: number) => planRate({ kind: 'average', bitsPerSecond, passes: 1 }, beside, 0);
    expect(average(floor + 0.6)).toEqual({
      ok: true,
      value: { bitsPerSecond: Math.round(floor + 0.6), passes: 1, wholeBytes: null },
    });
    expect(average(floor - 1)).toMatchObject({
      ok: false,
      problem: {
        what: '78 kb/s is less than its pictures can be made with',
        remedy: 'Ask for 78 kb/s at least, or take a smaller raster',
      },
    });
  });

  it('of a size or a share leaves out sound, wrapper and a little for the encoder, in two passes', () => {
    const besides = 240_000 + 6_000 + 250 * 24 + 2_000 + 4_800;
    const rate = Math.floor(((2_000_000 * 0.985 - besides) * 8) / 10);
    expect(planRate({ kind: 'size', bytes: 2_000_000 }, beside, 0)).toEqual({
      ok: true,
      value: { bitsPerSecond: rate, passes: 2, wholeBytes: 2_000_000 },
    });
    expect(planRate({ kind: 'share', percent: 2.5 }, beside, 80_000_000)).toMatchObject({
      value: { bitsPerSecond: rate },
    });
    const least = Math.ceil(((floor * 10) / 8 + besides) / 0.985);
    expect(planRate({ kind: 'size', bytes: least }, beside, 0).ok).toBe(true);
    const refused = planRate({ kind: 'size', bytes: least - 10 }, beside, 0);
    expect(refused).toMatchObject({
      ok: false,
      problem: {
        what: '362 kB cannot be reached: sound and wrapper take 259 kB, and pictures at least 98 kB',
        remedy: 'Ask for 362 kB at least, take a smaller raster, or fewer or lighter sound tracks',
      },
    });
    const large = { ...beside, soundBytes: 3_400_000_000 };
    expect(planRate({ kind: 'size', bytes: 1_500_000 }, large, 0)).toMatchObject({
      problem: { what: expect.stringMatching(/^1\.5 MB cannot be reached: sound and wrapper take 3\.40 GB/) as string },
    });
  });
});

it('a leg takes what making takes and a third more, and a little for itself and each output', () => {
  expect(legSeconds(0.1, 250, 2)).toBeCloseTo(0.1 * 250 * 1.35 + 0.5 + 2 * 0.3, 9);
  expect(legSeconds(0, 0, 0)).toBe(0.5);
});
