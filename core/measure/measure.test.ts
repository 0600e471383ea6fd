import { describe, expect, it } from 'vitest';
import { rational } from '../time/rational.ts';
import { findBars, type Edges } from './bars.ts';
import { looksLog, measureLevels, type SampledPicture } from './levels.ts';
import { measureFlow, measureJitter, type Packet } from './measured.ts';
import { silentBelow, SoundMeter } from './sound.ts';

/** A picture whose luma runs evenly between two 10-bit codes, with colour so far from grey. */
function picture(from: number, to: number, colour = 60): SampledPicture {
  const count = 4000;
  const y = Uint16Array.from({ length: count }, (_, i) => Math.round(from + ((to - from) * i) / (count - 1)) << 6);
  return { y, u: new Uint16Array(count).fill((512 + colour) << 6), v: new Uint16Array(count).fill(512 << 6) };
}

describe('levels', () => {
  it('are 10-bit code values, with the shares outside 64 to 940 (ITU-R BT.709-6)', () => {
    const measured = measureLevels([picture(0, 1023)]);
    expect(measured?.low).toBeGreaterThanOrEqual(4);
    expect(measured?.low).toBeLessThanOrEqual(6);
    expect(measured?.belowLegal).toBeCloseTo(64 / 1024, 2);
    expect(measured?.aboveLegal).toBeCloseTo(83 / 1024, 2);
    expect(measured?.saturation).toBeCloseTo(60, 0);
    expect(measureLevels([])).toBeNull();
  });

  it('look like log only when black is lifted, white is low and colours are faint, all at once', () => {
    const log = (from: number, to: number, colour: number): boolean =>
      looksLog({
        ...(measureLevels([picture(from, to, colour)]) as NonNullable<ReturnType<typeof measureLevels>>),
        bars: null,
        scans: [],
      });
    // S-Log3 puts black at 95 and 90 % white at 598 of 1023 in full-range codes (its published paper), a little higher
    // in legal ones.
    expect(log(140, 580, 15)).toBe(true);
    expect(log(64, 940, 60)).toBe(false);
    expect(log(140, 930, 15)).toBe(false);
    expect(log(64, 580, 15)).toBe(false);
    expect(log(140, 580, 80)).toBe(false);
  });
});

describe('bars', () => {
  const raster = { width: 96, height: 54 };
  const across = 8;
  /** Edges of a picture with light inside a window, black with a little noise outside. */
  function edges(
    window: { left: number; right: number; top: number; bottom: number },
    light: number,
    grain = 4,
  ): Edges {
    const value = (x: number, y: number): number => {
      const inside =
        x >= window.left && x < raster.width - window.right && y >= window.top && y < raster.height - window.bottom;
      return (16 << 8) + ((inside ? light : 0) << 6) + (((x * 7 + y * 13) % grain) << 6);
    };
    return {
      columns: Uint16Array.from({ length: raster.width * across }, (_, i) =>
        value(i % raster.width, Math.floor(((Math.floor(i / raster.width) + 0.5) * raster.height) / across)),
      ),
      rows: Uint16Array.from({ length: raster.height * across }, (_, i) =>
        value(Math.floor(((i % across) + 0.5) * raster.width) / across, Math.floor(i / across)),
      ),
    };
  }
  const find = (...all: Edges[]) => findBars(all, raster, 16 << 8);
  const pillars = { left: 12, right: 14, top: 0, bottom: 0 };

  it('are measured to the column, through noise, dark pictures left out of the vote', () => {
    expect(find(edges(pillars, 500), edges(pillars, 300), edges(pillars, 700), edges(pillars, 20))).toEqual({
      ...pillars,
      crop: { x: 12, y: 0, width: 70, height: 54 },
      confidence: 0.75,
    });
  });
  it('above and below', () => {
    const boxed = { left: 0, right: 0, top: 7, bottom: 7 };
    expect(find(edges(boxed, 500), edges(boxed, 500), edges(boxed, 500))?.crop).toEqual({
      x: 0,
      y: 7,
      width: 96,
      height: 40,
    });
  });
  it('are what no picture reaches into: one bright one at the edge says there are none', () => {
    const none = { left: 0, right: 0, top: 0, bottom: 0 };
    expect(find(edges(pillars, 500), edges(pillars, 500), edges(none, 500))).toBeNull();
    expect(find(edges(none, 500), edges(none, 500), edges(none, 500))).toBeNull();
  });
  it('with a logo standing in them are still bars, less sure; a lamp that is there in every picture of a scene that moves is not a logo in a bar', () => {
    const withMark = (light: number, mark: { from: number; to: number }): Edges => {
      const one = edges(pillars, light);
      // A mark in the right pillar, over a quarter of its height.
      for (let i = 0; i < one.columns.length; i += 1)
        if (
          i % raster.width >= 86 &&
          i % raster.width < 94 &&
          Math.floor(i / raster.width) >= mark.from &&
          Math.floor(i / raster.width) < mark.to
        )
          one.columns[i] = (16 << 8) + (600 << 6);
      return one;
    };
    const lights = [500, 300, 700, 400, 600];
    expect(find(...lights.map((light) => withMark(light, { from: 0, to: 2 })))).toMatchObject({
      ...pillars,
      confidence: 0.8,
      marked: true,
    });
    // The same place is dark in one picture: what comes and goes is picture.
    expect(
      find(...lights.map((light, n) => withMark(light, n === 3 ? { from: 5, to: 7 } : { from: 0, to: 2 })))?.right,
    ).not.toBe(14);
    // More than a mark covers.
    expect(find(...lights.map((light) => withMark(light, { from: 0, to: 5 })))?.right).not.toBe(14);
  });
  it('are not made of a night scene, a fade, or two pictures', () => {
    expect(find(edges(pillars, 20), edges(pillars, 30), edges(pillars, 10), edges(pillars, 25))).toBeNull();
    expect(find(edges(pillars, 500), edges(pillars, 500))).toBeNull();
    expect(find()).toBeNull();
  });
});

describe('sound', () => {
  it('has peak, rms and outline of each channel, however the samples arrive', () => {
    const meter = new SoundMeter(2, 1000, 10);
    const samples = Int16Array.from({ length: 2000 }, (_, i) =>
      i % 2 === 0 ? 0 : Math.round(16_384 * Math.sin((2 * Math.PI * Math.floor(i / 2)) / 50)),
    );
    for (let at = 0; at < samples.length; at += 334) meter.take(samples.slice(at, at + 334));
    const [left, right] = meter.measures((channel) => ({ track: 0, channel }));
    expect([left?.peak, left?.rms]).toEqual([0, 0]);
    expect(left?.peak).toBeLessThan(silentBelow);
    expect(right?.peak).toBeCloseTo(0.5, 2);
    expect(right?.rms).toBeCloseTo(0.5 / Math.SQRT2, 2);
    expect(meter.samples).toBe(1000);
    expect(meter.outlines()[1]?.high.every((value) => value > 0.49)).toBe(true);
  });
});

describe('flow', () => {
  const packets = (count: number, group: number, bytes = 1000): Packet[] =>
    Array.from({ length: count }, (_, i) => ({
      seconds: i / 25,
      bytes: i % group === 0 ? bytes * 5 : bytes,
      whole: i % group === 0,
    }));
  it('is the busiest second, and the length of groups of pictures', () => {
    expect(measureFlow(packets(100, 12), rational(25))).toEqual({
      peakBitsPerSecond: (25 + 3 * 4) * 8000,
      groupTypical: 12,
      groupLongest: 12,
    });
    expect(measureFlow(packets(50, 1), rational(25))).toMatchObject({ groupTypical: 1, groupLongest: 1 });
    expect(measureFlow([], rational(25))).toBeNull();
  });
});

describe('jitter', () => {
  it('is how far times stand off the even steps that fit best', () => {
    const even = Array.from({ length: 100 }, (_, n) => 3 + n / 25);
    expect(measureJitter(even, rational(25)).worstMs).toBeLessThan(1e-9);
    const shaken = even.map((second, n) => second + (n % 2 === 0 ? 0.004 : -0.004));
    expect(measureJitter(shaken, rational(25)).typicalMs).toBeCloseTo(4, 6);
    expect(measureJitter(shaken, rational(25)).worstMs).toBeCloseTo(4, 6);
  });
});

describe('the edges of what is measured', () => {
  const raster = { width: 96, height: 54 };
  const across = 8;
  const black = 16 << 8;
  /** Columns of luma, in 10-bit codes above black, alike along their length; and rows the same. */
  const columns = (light: (x: number) => number): Edges => ({
    columns: Uint16Array.from({ length: raster.width * across }, (_, i) => black + (light(i % raster.width) << 6)),
    rows: Uint16Array.from({ length: raster.height * across }, () => black + (500 << 6)),
  });
  const three = (light: (x: number) => number) =>
    findBars(
      [1, 2, 3].map(() => columns(light)),
      raster,
      black,
    );

  it('bars are black within 24 codes, and at least six samples wide', () => {
    const left = (wide: number, code: number) => three((x) => (x < wide ? code : 500))?.left;
    expect([left(12, 24), left(12, 25), left(6, 0), left(5, 0)]).toEqual([12, undefined, 6, undefined]);
    expect(three((x) => (x >= 90 ? 0 : 500))).toMatchObject({ right: 6, left: 0, crop: { x: 0, width: 90 } });
  });

  it('bars are told by pictures with light in them, which are not almost all bar', () => {
    const lit = (code: number) => {
      const one = columns((x) => (x < 12 ? 0 : code));
      one.rows.fill(black + (code << 6));
      return one;
    };
    expect([
      findBars([lit(110), lit(110), lit(110)], raster, black)?.left,
      findBars([lit(109), lit(109), lit(109)], raster, black),
    ]).toEqual([12, null]);
    expect([three((x) => (x < 86 ? 0 : 500))?.left, three((x) => (x < 87 ? 0 : 500))]).toEqual([86, null]);
  });

  it('bars are as wide as the narrowest, and those agree that are hardly wider', () => {
    const wide = (...of: number[]) =>
      findBars(
        of.map((w) => columns((x) => (x < w ? 0 : 500))),
        raster,
        black,
      );
    expect(wide(10, 14, 14, 14)).toMatchObject({ left: 10, confidence: 1 });
    expect(wide(10, 15, 14, 14)).toMatchObject({ left: 10, confidence: 0.75 });
  });

  it('one hot sample in a column hides no bar; two do', () => {
    const hot = (count: number) => {
      const one = columns((x) => (x < 12 ? 0 : 500));
      for (let i = 0; i < count; i += 1) one.columns[i * raster.width + 3] = black + (400 << 6);
      return one;
    };
    expect([
      findBars([hot(1), hot(1), hot(1)], raster, black)?.left,
      findBars([hot(2), hot(2), hot(2)], raster, black),
    ]).toEqual([12, null]);
  });

  it('levels leave half a percent out at each end, and count what is beyond 64 and 940', () => {
    /** So many samples of each code. */
    const of = (counts: readonly (readonly [number, number])[]): SampledPicture => {
      const y = Uint16Array.from(counts.flatMap(([code, count]) => new Array<number>(count).fill(code << 6)));
      return { y, u: new Uint16Array(y.length).fill(512 << 6), v: new Uint16Array(y.length).fill(515 << 6) };
    };
    expect(
      measureLevels([
        of([
          [10, 4],
          [100, 992],
          [1000, 4],
        ]),
      ]),
    ).toMatchObject({ pictures: 1, low: 100, high: 100, saturation: 3 });
    expect(
      measureLevels([
        of([
          [10, 5],
          [100, 989],
          [1000, 6],
        ]),
      ]),
    ).toMatchObject({ low: 10, high: 1000 });
    expect(
      measureLevels([
        of([
          [63, 10],
          [64, 40],
          [940, 30],
          [941, 20],
        ]),
      ]),
    ).toMatchObject({ belowLegal: 0.1, aboveLegal: 0.2 });
    expect(measureLevels([of([[100, 1]]), of([[200, 1]])])?.pictures).toBe(2);
  });

  it('log is what has black above 86, white below 730 and little colour', () => {
    const log = (low: number, high: number, saturation: number): boolean =>
      looksLog({ pictures: 1, low, high, belowLegal: 0, aboveLegal: 0, saturation, bars: null, scans: [] });
    expect([log(86, 729, 29), log(85, 729, 29), log(86, 730, 29), log(86, 729, 30)]).toEqual([
      true,
      false,
      false,
      false,
    ]);
  });

  it('sound has its smallest and largest sample in each part, and what comes too much in the last', () => {
    const meter = new SoundMeter(2, 4, 2);
    meter.take(Int16Array.of(8192, -16384, -8192, 0, 3277, 1, 0, 2, -32768, 3, 16384, 4));
    expect(meter.outlines()).toEqual([
      { low: [-0.25, -1], high: [0.25, 0.5] },
      { low: [-0.5, 0], high: [0, 0] },
    ]);
    const [left, right] = meter.measures((channel) => ({ track: 7, channel }));
    expect(left).toMatchObject({ track: 7, channel: 0, peak: 1, loudness: null });
    expect(left?.rms).toBeCloseTo(Math.sqrt((2 * 0.25 ** 2 + 0.1 ** 2 + 1 + 0.5 ** 2) / 6), 3);
    expect(right).toMatchObject({ channel: 1, peak: 0.5 });
    expect(silentBelow).toBeCloseTo(0.000316, 6);
  });

  it('flow brings a last part of a second to a whole one, and leaves a splinter out', () => {
    const even = (count: number): Packet[] =>
      Array.from({ length: count }, (_, i) => ({ seconds: i / 10, bytes: 100, whole: false }));
    const peak = (packets: Packet[]): number | undefined => measureFlow(packets, rational(10))?.peakBitsPerSecond;
    expect([peak(even(5)), peak(even(10)), peak(even(13))]).toEqual([8_000, 8_000, 8_000]);
    // Three tenths of twice as much are the busiest second; two tenths say nothing.
    const busy = (from: number, count: number): Packet[] =>
      even(count).map((packet, i) => (i >= from ? { ...packet, bytes: 200 } : packet));
    expect(peak(busy(10, 13))).toBeCloseTo(16_000, 6);
    expect(peak(busy(10, 12))).toBe(8_000);
    expect(measureFlow(even(5), rational(10))).toMatchObject({ groupTypical: 5, groupLongest: 5 });
    const groups = [2, 3, 3, 2, 4].flatMap((n) => Array.from({ length: n }, (_, i) => i === 0));
    const grouped = groups.map((whole, i): Packet => ({ seconds: i / 10, bytes: 1, whole }));
    expect(measureFlow(grouped, rational(10))).toMatchObject({ groupTypical: 3, groupLongest: 4 });
  });
});
