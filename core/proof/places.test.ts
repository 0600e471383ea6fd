import { describe, expect, it } from 'vitest';
import type { BurnPlan } from '../burn/plan.ts';
import type { Geometry } from '../shape/geometry.ts';
import { coveredIn, inActive, inOriginal } from './places.ts';
import type { Small } from './smalls.ts';

/** Reading between samples is exact on a slope: what is read is where it was read. */
const slope = (width: number, height: number): Small => ({
  width,
  height,
  luma: Uint16Array.from(
    { length: width * height },
    (_, i) => 100 * ((i % width) + 0.5) + 10_000 * (Math.floor(i / width) + 0.5),
  ),
});
/** The place, in shares of a picture so wide and high, that a value of its slope names. */
function placeOf(value: number, width: number, height: number): [number, number] {
  const y = Math.floor(value / 10_000);
  // Luma counts 100 a sample across, and 10,000 a row: across never reaches a row, read at rows' middles.
  return [(value - 10_000 * y) / 100 / width, y / height];
}
const nothing = (): boolean => false;

/** A picture of 1920×1080 in an output of the same size, all of it. */
const plain: Geometry = {
  window: { x: 0, y: 0, width: 1920, height: 1080 },
  uprightWindow: { x: 0, y: 0, width: 1920, height: 1080 },
  turn: { quarters: 0, across: false, down: false },
  scaled: { width: 1920, height: 1080 },
  view: { x: 0, y: 0, width: 1920, height: 1080 },
  raster: { width: 1920, height: 1080 },
  active: { x: 0, y: 0, width: 1920, height: 1080 },
  padColour: 'black',
  pixelAspect: { num: 1, den: 1 },
  aspectError: 0,
  stages: [],
};
const upright = { width: 1920, height: 1080 };

/** A small picture that says across where it is read: 0 at the left edge, 60,000 at the right; or down. */
const across: Small = {
  width: 60,
  height: 4,
  luma: Uint16Array.from({ length: 240 }, (_, i) => ((i % 60) + 0.5) * 1_000),
};
const downward: Small = {
  width: 4,
  height: 60,
  luma: Uint16Array.from({ length: 240 }, (_, i) => (Math.floor(i / 4) + 0.5) * 1_000),
};
/** Where in the original the middle points of a 4 × 2 lattice are read from, in shares. */
function read(geometry: Geometry, zoom = 1): [number, number][] {
  const points = { width: 4, height: 2 };
  const xs = inOriginal(across, geometry, upright, zoom, points);
  const ys = inOriginal(downward, geometry, upright, zoom, points);
  return [...xs].map((x, i) => [
    Math.round((x / 60_000) * 1e4) / 1e4,
    Math.round(((ys[i] as number) / 60_000) * 1e4) / 1e4,
  ]);
}
const lattice: readonly (readonly [number, number])[] = [0.25, 0.75].flatMap((v) =>
  [0.125, 0.375, 0.625, 0.875].map((u) => [u, v] as const),
);

describe('places of the original', () => {
  it('are those of the output where nothing was changed', () => {
    expect(read(plain)).toEqual(lattice);
  });

  it('follow what was mirrored and turned: a clockwise quarter has its left at the bottom', () => {
    const turned = (turn: Geometry['turn']): [number, number][] => read({ ...plain, turn });
    expect(turned({ quarters: 0, across: true, down: false })).toEqual(lattice.map(([u, v]) => [1 - u, v]));
    expect(turned({ quarters: 0, across: false, down: true })).toEqual(lattice.map(([u, v]) => [u, 1 - v]));
    expect(turned({ quarters: 1, across: false, down: false })).toEqual(lattice.map(([u, v]) => [v, 1 - u]));
    expect(turned({ quarters: 2, across: false, down: false })).toEqual(lattice.map(([u, v]) => [1 - u, 1 - v]));
    // Turned first, then mirrored: what is seen at (u, v) was at (1 − u, v) before it was mirrored.
    expect(turned({ quarters: 1, across: true, down: false })).toEqual(lattice.map(([u, v]) => [v, u]));
  });

  it('lie within the window that is used, and within what is kept after scaling', () => {
    const window = { x: 480, y: 270, width: 960, height: 540 };
    expect(read({ ...plain, uprightWindow: window })).toEqual(lattice.map(([u, v]) => [0.25 + u / 2, 0.25 + v / 2]));
    // The right half of what was scaled to twice the width, and its lower half.
    const kept = {
      ...plain,
      scaled: { width: 3840, height: 2160 },
      view: { x: 1920, y: 1080, width: 1920, height: 1080 },
    };
    expect(read(kept)).toEqual(lattice.map(([u, v]) => [0.5 + u / 2, 0.5 + v / 2]));
  });

  it('are nearer to the middle where a stabilised picture was enlarged', () => {
    expect(read(plain, 1.25)).toEqual(lattice.map(([u, v]) => [0.5 + (u - 0.5) / 1.25, 0.5 + (v - 0.5) / 1.25]));
  });
});

describe('places of an output', () => {
  const points = { width: 4, height: 2 };
  it('are those of its active area, in its raster', () => {
    const boxed: Geometry = { ...plain, active: { x: 480, y: 270, width: 960, height: 540 } };
    const xs = inActive(across, boxed, nothing, undefined, points);
    const ys = inActive(downward, boxed, nothing, undefined, points);
    lattice.forEach(([u, v], i) => {
      expect((xs[i] as number) / 60_000).toBeCloseTo(0.25 + u / 2, 6);
      expect((ys[i] as number) / 60_000).toBeCloseTo(0.25 + v / 2, 6);
    });
  });

  it('laid once are those of that size, shift and lattice alone', () => {
    const geometry: Geometry = { ...plain };
    const clear = coveredIn(geometry, across, null, 0);
    const shifts = [
      { dx: 0, dy: 0 },
      { dx: 0.2, dy: 0 },
      { dx: 0, dy: 0.2 },
    ];
    // Each twice, so that the second time finds what the first laid; what is asked of, nothing is kept of.
    for (const shift of [...shifts, ...shifts])
      for (const [small, grid] of [
        [across, points],
        [downward, points],
        [across, { width: 5, height: 3 }],
      ] as const)
        expect(inActive(small, geometry, clear, shift, grid)).toEqual(inActive(small, geometry, nothing, shift, grid));
  });

  it('moved beyond the area, or drawn over, are left out', () => {
    const moved = inActive(across, plain, nothing, { dx: 0.2, dy: 0 }, points);
    expect([...moved.subarray(0, 3)].map((x) => Math.round(x / 600) / 100)).toEqual([0.33, 0.58, 0.83]);
    expect(moved[3]).toBeNaN();
    expect([...inActive(across, plain, nothing, { dx: -0.2, dy: 0 }, points)].map(Number.isNaN)).toEqual([
      ...[true, false, false, false],
      ...[true, false, false, false],
    ]);
    expect([...inActive(across, plain, nothing, { dx: 0, dy: 0.3 }, points)].map(Number.isNaN)).toEqual([
      ...[false, false, false, false],
      ...[true, true, true, true],
    ]);
    expect([...inActive(across, plain, nothing, { dx: 0, dy: -0.3 }, points)].map(Number.isNaN)).toEqual([
      ...[true, true, true, true],
      ...[false, false, false, false],
    ]);
    const covered = inActive(across, plain, (u, v) => u > 0.5 && v > 0.5, undefined, points);
    expect([...covered].map(Number.isNaN)).toEqual([...[false, false, false, false], ...[false, false, true, true]]);
  });

  it('between samples are read between them, and at the edges as the last sample is', () => {
    const [width, height] = [20, 5];
    const small = slope(width, height);
    const lines = inActive(small, { ...plain, active: { ...plain.active } }, nothing, undefined, {
      width: 40,
      height: 5,
    });
    // Off the edges all is exact; rows are read at their own middles.
    for (let i = 1; i < 39; i += 1) {
      const [u] = placeOf((lines[2 * 40 + i] as number) - 5_000, width, height);
      expect(u).toBeCloseTo((i + 0.5) / 40, 6);
    }
    expect(lines[2 * 40]).toBe(small.luma[2 * width]);
    expect(lines[2 * 40 + 39]).toBe(small.luma[3 * width - 1]);
  });
});

it('what is drawn over covers as far as a small sample mixes', () => {
  const burn = {
    raster: { width: 1920, height: 1080 },
    boxes: [{ plate: { x: 960, y: 540, width: 96, height: 54 } }],
    image: null,
    across: null,
  } as unknown as BurnPlan;
  // A small sample is 20 samples of the output wide, and 20 high.
  const small: Small = { width: 96, height: 54, luma: new Uint16Array(96 * 54) };
  const covered = coveredIn(plain, small, burn, 0);
  const at = (x: number, y: number): boolean => covered(x / 1920, y / 1080);
  expect([at(1000, 560), at(945, 560), at(935, 560), at(1070, 560), at(1080, 560)]).toEqual([
    true,
    true,
    false,
    true,
    false,
  ]);
  expect([at(1000, 525), at(1000, 515), at(1000, 610), at(1000, 620)]).toEqual([true, false, true, false]);
  // Of a picture that lies lower right in its raster, places are those of the picture.
  const boxed = coveredIn({ ...plain, active: { x: 960, y: 540, width: 960, height: 540 } }, small, burn, 0);
  expect([boxed(0.01, 0.01), boxed(0.2, 0.01), boxed(0.01, 0.2)]).toEqual([true, false, false]);
  expect(coveredIn(plain, small, null, 0)(0.5, 0.5)).toBe(false);
});
