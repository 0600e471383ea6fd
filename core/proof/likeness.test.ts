import { describe, expect, it } from 'vitest';
import { seeded } from '../colour/bake/seeded.ts';
import { likeness, mixed, onlyGrain, softened } from './likeness.ts';

const points = (length: number, value: (i: number) => number): Float64Array =>
  Float64Array.from({ length }, (_, i) => value(i));
const wave = points(400, (i) => 30_000 + 5_000 * Math.sin(i / 9));

describe("likeness (Pearson's correlation)", () => {
  it('is one through other light, minus one of a negative, and as reckoned by hand between', () => {
    expect(likeness(wave, wave)).toBeCloseTo(1, 12);
    expect(
      likeness(
        wave,
        wave.map((value) => 0.3 * value + 7_000),
      ),
    ).toBeCloseTo(1, 12);
    expect(
      likeness(
        wave,
        wave.map((value) => 60_000 - value),
      ),
    ).toBeCloseTo(-1, 12);
    // 100 of 0 and 1 against 0, 1, 1, 1: means 1/2 and 3/4, so (1/4 − 1/8) / √(1/4 × 3/16) = 1/√3 (reckoned by hand).
    const first = points(400, (i) => 20_000 * (i % 2));
    const second = points(400, (i) => (i % 4 === 0 ? 0 : 20_000));
    expect(likeness(first, second)).toBeCloseTo(1 / Math.sqrt(3), 12);
  });

  it('is told by the points that both have, and of fewer than a hundred not at all', () => {
    const partly = wave.map((value, i) => (i < 200 ? value : Number.NaN));
    expect(
      likeness(
        partly,
        wave.map((value, i) => (i < 200 ? value : -value)),
      ),
    ).toBeCloseTo(1, 12);
    expect(likeness(wave, partly)).toBeCloseTo(1, 12);
    const few = (count: number): Float64Array => wave.map((value, i) => (i < count ? value : Number.NaN));
    expect([likeness(few(99), wave), likeness(few(100), wave) === null]).toEqual([null, false]);
  });

  it('is not told of what is flat: spread under one code of 10 bits', () => {
    // A square wave is spread by its height.
    const square = (height: number): Float64Array => points(400, (i) => 30_000 + (i % 2 ? height : -height));
    expect(likeness(square(63), square(2_000))).toBeNull();
    expect(likeness(square(2_000), square(63))).toBeNull();
    expect(likeness(square(65), square(65))).toBeCloseTo(1, 12);
  });
});

it('only grain is what is hardly like itself a point farther', () => {
  const random = seeded(3);
  const noise = points(2_000, () => 30_000 + 4_000 * random());
  // Of a share of noise: neighbours of (wave + noise) are alike by the wave's part of all spread.
  const mixedWith = (share: number): Float64Array =>
    points(
      2_000,
      (i) => 30_000 + 4_000 * share * (random() - 0.5) * Math.sqrt(12) + 4_000 * Math.sqrt(2) * Math.sin(i / 40),
    );
  expect([onlyGrain(noise), onlyGrain(wave), onlyGrain(mixedWith(1.3)), onlyGrain(mixedWith(0.7))]).toEqual([
    true,
    false,
    true,
    false,
  ]);
  expect(onlyGrain(points(400, () => 30_000))).toBe(false);
});

it('two mixed are each by its share', () => {
  expect([...mixed(Float64Array.of(0, 100), Float64Array.of(200, 300), 0.25)]).toEqual([50, 150]);
});

it('softened is the mean of five by five, of what there is at edges', () => {
  const one = { width: 9, height: 9, luma: new Uint16Array(81) };
  one.luma[4 * 9 + 4] = 25_000;
  one.luma[0] = 9_000;
  const { width, height, luma } = softened(one);
  const at = (x: number, y: number): number => luma[y * 9 + x] as number;
  expect([width, height]).toEqual([9, 9]);
  // 25 samples around the middle hold it; the corner's sample lies among 9 at the corner, 12 beside it, 16 across.
  expect([at(4, 4), at(6, 6), at(2, 6), at(7, 4), at(4, 7)]).toEqual([1000, 1000, 1000, 0, 0]);
  expect([at(0, 0), at(1, 0), at(1, 1), at(3, 0), at(0, 3)]).toEqual([1000, 750, 562, 0, 0]);
});
