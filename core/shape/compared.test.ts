import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toNumber } from '../time/rational.ts';
import { besideOriginal, besideOutput, bothOf, sharedBy } from './compared.ts';
import { planGeometry, type Geometry, type ShapeCorrection } from './geometry.ts';
import type { RasterWish } from './intoRaster.ts';
import type { Window } from './window.ts';

const square = { num: 1, den: 1 };
const steps = { widthStep: 1, heightStep: 1 };
const scan = { raster: { width: 1920, height: 1080 }, pixelAspect: square, quarterTurns: 0 };

function geometry(shape: ShapeCorrection, wish: RasterWish, picture = scan): Geometry {
  const planned = planGeometry(picture, shape, wish, steps);
  if (!planned.ok) throw new Error(planned.problem.what);
  return planned.value;
}

const placed = (one: Geometry) => ({ raster: one.raster, pixelAspect: one.pixelAspect, geometry: one });

describe('an original and its output on one plane', () => {
  it('a scan without its pillars lies where it lay in the scan', () => {
    const made = geometry({ crop: { left: 202, top: 0, right: 204, bottom: 0 } }, { kind: 'source' });
    expect(besideOriginal(placed(made), scan)).toEqual({
      first: { x: 0, y: 0, width: 1514, height: 1080 },
      second: { x: -202, y: 0, width: 1920, height: 1080 },
    });
  });

  it('a squeezed picture is shown as wide as it will be', () => {
    const film = { raster: { width: 4096, height: 2160 }, pixelAspect: square, quarterTurns: 0 };
    const made = geometry({ squeeze: { num: 4, den: 3 } }, { kind: 'source' }, film);
    const { first, second } = besideOriginal(placed(made), film);
    expect(second).toEqual(first);
    expect(first.width / first.height).toBeCloseTo((4096 * 4) / 3 / 2160, 3);
  });

  it('of an output that says nothing of its way, all of the original is taken to lie in all of it', () => {
    const output = { raster: { width: 960, height: 540 }, pixelAspect: square };
    expect(besideOriginal(output, scan).second).toEqual({ x: 0, y: 0, width: 960, height: 540 });
  });
});

/**
 * Where a sample of the stored picture comes to lie, step by step as the plan's own filters do it: cut, turned,
 * mirrored, scaled, cut again, padded.
 */
function through(one: Geometry, quarterTurns: number, stored: { x: number; y: number }): { x: number; y: number } {
  let { x, y } = { x: stored.x - one.window.x, y: stored.y - one.window.y };
  let { width, height } = one.window;
  for (let turns = 0; turns < (quarterTurns + one.turn.quarters) % 4; turns += 1) {
    [x, y] = [height - y, x];
    [width, height] = [height, width];
  }
  if (one.turn.across) x = width - x;
  if (one.turn.down) y = height - y;
  return {
    x: (x / width) * one.scaled.width - one.view.x + one.active.x,
    y: (y / height) * one.scaled.height - one.view.y + one.active.y,
  };
}

const wish: fc.Arbitrary<RasterWish> = fc.constantFrom<RasterWish>(
  { kind: 'source' },
  { kind: 'fit', width: 960, height: 540 },
  { kind: 'pad', width: 1280, height: 720, anchor: 'centre' },
  { kind: 'fill', width: 1000, height: 1000 },
  { kind: 'cut', width: 1000, height: 700, anchor: 'top left' },
);
const shape: fc.Arbitrary<ShapeCorrection> = fc.record({
  crop: fc.record({
    left: fc.integer({ min: 0, max: 400 }),
    top: fc.integer({ min: 0, max: 200 }),
    right: fc.integer({ min: 0, max: 400 }),
    bottom: fc.integer({ min: 0, max: 200 }),
  }),
  squeeze: fc.constantFrom(square, { num: 4, den: 3 }, { num: 2, den: 1 }, { num: 9, den: 10 }),
  turn: fc.record({ quarters: fc.integer({ min: 0, max: 3 }), across: fc.boolean(), down: fc.boolean() }),
});

/** Where a share of the whole original, turned and mirrored as the output is, lies in a box. */
function inBox(box: Window, share: { x: number; y: number }): { x: number; y: number } {
  return { x: box.x + share.x * box.width, y: box.y + share.y * box.height };
}

describe('every place lies where the plan brings it', () => {
  it('for any crop, squeeze, turn and raster', () => {
    fc.assert(
      fc.property(shape, wish, fc.integer({ min: 0, max: 3 }), (corrections, wanted, quarterTurns) => {
        const picture = { ...scan, quarterTurns };
        const made = geometry(corrections, wanted, picture);
        const { second } = besideOriginal(placed(made), picture);
        for (const [sx, sy] of [
          [0, 0],
          [1, 0],
          [0.3, 0.6],
        ] as const) {
          let [x, y]: [number, number] = [sx, sy];
          for (let turns = 0; turns < (quarterTurns + made.turn.quarters) % 4; turns += 1) [x, y] = [1 - y, x];
          if (made.turn.across) x = 1 - x;
          if (made.turn.down) y = 1 - y;
          const wanted = through(made, quarterTurns, { x: sx * 1920, y: sy * 1080 });
          const shown = inBox(second, { x, y });
          expect(shown.x / toNumber(made.pixelAspect)).toBeCloseTo(wanted.x, 6);
          expect(shown.y).toBeCloseTo(wanted.y, 6);
        }
      }),
    );
  });

  it('two outputs of one original are laid on each other by it', () => {
    fc.assert(
      fc.property(shape, wish, wish, (corrections, one, other) => {
        const [a, b] = [geometry(corrections, one), geometry(corrections, other)];
        const { second } = besideOutput(placed(a), placed(b), scan);
        const stored = { x: 700, y: 500 };
        const [here, there] = [through(a, 0, stored), through(b, 0, stored)];
        const shown = inBox(second, { x: there.x / b.raster.width, y: there.y / b.raster.height });
        expect(shown.x / toNumber(a.pixelAspect)).toBeCloseTo(here.x, 6);
        expect(shown.y).toBeCloseTo(here.y, 6);
      }),
    );
  });

  it('what is turned otherwise is only fitted in', () => {
    const a = geometry({}, { kind: 'source' });
    const b = geometry({ turn: { quarters: 1, across: false, down: false } }, { kind: 'source' });
    const boxes = besideOutput(placed(a), placed(b), scan);
    expect(boxes.second).toEqual({ x: (1920 - 607.5) / 2, y: 0, width: 607.5, height: 1080 });
    expect(bothOf(boxes)).toEqual(boxes.first);
  });

  it('two boxes share what lies in both, which may be nothing', () => {
    const first = { x: 0, y: 0, width: 40, height: 20 };
    expect(sharedBy({ first, second: { x: -8, y: 3, width: 40, height: 20 } })).toEqual({
      ...{ x: 0, y: 3, width: 32, height: 17 },
    });
    expect(sharedBy({ first, second: { x: 5, y: 6, width: 7, height: 8 } })).toMatchObject({
      x: 5,
      width: 7,
      height: 8,
    });
    for (const x of [40, 41, -60]) expect(sharedBy({ first, second: { ...first, x } }).width).toBe(0);
  });
});
