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
