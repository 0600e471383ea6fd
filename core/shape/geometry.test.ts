import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { unwrap } from '../result.ts';
import { rational, toNumber } from '../time/rational.ts';
import { barsOf, planGeometry, sayStages, type Geometry, type ShapeCorrection } from './geometry.ts';
import { exactShares, type RasterWish } from './intoRaster.ts';
import { turnedWindow } from './window.ts';
import { codedAspects, parsePixelAspect, parseSqueeze, standardDefinition } from './pixelAspects.ts';

const even420 = { widthStep: 2, heightStep: 2 };
const even422 = { widthStep: 2, heightStep: 1 };
const one = rational(1);
const source: RasterWish = { kind: 'source' };

function plan(
  width: number,
  height: number,
  shape: ShapeCorrection = {},
  wish: RasterWish = source,
  steps = even422,
  pixelAspect = one,
  fieldwise = false,
): Geometry {
  return unwrap(
    planGeometry({ raster: { width, height }, pixelAspect, quarterTurns: 0 }, shape, wish, steps, fieldwise),
  );
}

describe('pixel aspects', () => {
  it('are those of H.264 Table E-1, by index', () => {
    // ITU-T H.264, Table E-1, aspect_ratio_idc 1 to 16; from memory.
    const published = '1:1 12:11 10:11 16:11 40:33 24:11 20:11 32:11 80:33 18:11 15:11 64:33 160:99 4:3 3:2 2:1'.split(
      ' ',
    );
    expect(codedAspects.map(({ index, aspect }) => [index, `${aspect.num}:${aspect.den}`])).toEqual(
      published.map((aspect, at) => [at + 1, aspect]),
    );
  });

  it('of standard definition give 4:3 and 16:9 over the 704 samples of the active picture', () => {
    for (const { name, aspect } of standardDefinition) {
      const lines = name.startsWith('525') ? 480 : 576;
      expect((704 / lines) * toNumber(aspect)).toBeCloseTo(name.endsWith('16:9') ? 16 / 9 : 4 / 3, 12);
    }
  });

  it('that nothing has are refused, and 1.33 is four thirds', () => {
    for (const text of ['0:0', '1:0', '0:1', '-4:3', '9:1', '1:9', 'wide', ''])
      expect(parsePixelAspect(text).ok, text).toBe(false);
    expect(['1.33', '1.333', '1.3333', '4:3'].map((text) => unwrap(parseSqueeze(text)))).toEqual(
      Array.from({ length: 4 }, () => rational(4, 3)),
    );
    expect(unwrap(parseSqueeze('1.65'))).toEqual(rational(33, 20));
    expect(parseSqueeze('0.5').ok || parseSqueeze('7').ok).toBe(false);
  });
});

describe('the way of a picture', () => {
  it('4096×2160 squeezed 1.333 is 5461⅓ wide: the nearest that the codec holds, with its error (common practice, no source)', () => {
    const { raster, aspectError } = plan(4096, 2160, { squeeze: rational(4, 3) });
    expect(raster).toEqual({ width: 5462, height: 2160 });
    expect(aspectError).toBeCloseTo(5462 / ((4096 * 4) / 3) - 1, 12);
    expect(plan(4096, 2160, { squeeze: rational(4, 3), square: 'rows' }, source, even420).raster).toEqual({
      width: 4096,
      height: 1620,
    });
  });

  it('a scan with pillars of 202 and 204 leaves 1514×1080 (common practice, no source)', () => {
    const { window, raster } = plan(1920, 1080, { crop: { left: 202, top: 0, right: 204, bottom: 0 } });
    expect(window).toEqual({ x: 202, y: 0, width: 1514, height: 1080 });
    expect(raster).toEqual({ width: 1514, height: 1080 });
  });

  it('640×360 is exactly a third of 1920×1080', () => {
    expect(exactShares({ width: 1920, height: 1080 }, even420)).toEqual([
      { of: 2, raster: { width: 960, height: 540 } },
      { of: 3, raster: { width: 640, height: 360 } },
      { of: 4, raster: { width: 480, height: 270 } },
    ]);
    expect(plan(1920, 1080, {}, { kind: 'share', of: 3 }).raster).toEqual({ width: 640, height: 360 });
    expect(exactShares({ width: 998, height: 562 }, even420)).toEqual([]);
  });

  it('widens 1440×1080 of 4:3 to 1920×1080, lowers it to 1440×810, or keeps it', () => {
    expect(plan(1440, 1080, {}, source, even422, rational(4, 3)).raster).toEqual({ width: 1920, height: 1080 });
    expect(plan(1440, 1080, { square: 'rows' }, source, even422, rational(4, 3)).raster).toEqual({
      width: 1440,
      height: 810,
    });
    const kept = plan(1440, 1080, { square: 'keep' }, source, even422, rational(4, 3));
    expect([kept.raster, kept.pixelAspect, kept.aspectError]).toEqual([
      { width: 1440, height: 1080 },
      rational(4, 3),
      0,
    ]);
  });

  it('pads, fills and cuts to a raster, at an anchor', () => {
    const box = { width: 1920, height: 1080 };
    const padded = plan(1440, 1080, {}, { kind: 'pad', ...box }, even420);
    expect([padded.raster, padded.active, barsOf(padded)]).toEqual([
      box,
      { x: 240, y: 0, width: 1440, height: 1080 },
      { left: 240, top: 0, right: 240, bottom: 0 },
    ]);
    expect(plan(1440, 1080, {}, { kind: 'pad', ...box, anchor: 'left' }, even420).active.x).toBe(0);
    const filled = plan(1440, 1080, {}, { kind: 'fill', ...box, enlarge: true, anchor: 'top' }, even420);
    expect([filled.scaled, filled.view]).toEqual([
      { width: 1920, height: 1440 },
      { x: 0, y: 0, ...box },
    ]);
    // Asked for nothing, a smaller picture fills as much of the box's shape as it has: no sample is invented.
    const smaller = plan(1440, 1080, {}, { kind: 'fill', ...box, anchor: 'top' }, even420);
    expect([smaller.scaled, smaller.raster, smaller.view]).toEqual([
      { width: 1440, height: 1080 },
      { width: 1440, height: 810 },
      { x: 0, y: 0, width: 1440, height: 810 },
    ]);
    expect(plan(3840, 2160, {}, { kind: 'fill', ...box }, even420).raster).toEqual(box);
    const cut = plan(3840, 2160, {}, { kind: 'cut', ...box }, even420);
    expect([cut.scaled, cut.view]).toEqual([
      { width: 3840, height: 2160 },
      { x: 960, y: 540, ...box },
    ]);
    expect(sayStages(padded)).toBe('1440×1080 → 1920×1080');
  });

  it('turns with the window, and says no to what cannot be', () => {
    const turned = plan(1920, 1080, {
      crop: { left: 100, top: 20, right: 0, bottom: 0 },
      turn: { quarters: 1, across: false, down: false },
    });
    expect(turned.raster).toEqual({ width: 1060, height: 1820 });
    const no = (shape: ShapeCorrection, wish: RasterWish = source, aspect = one, fields = false): boolean =>
      planGeometry(
        { raster: { width: 720, height: 576 }, pixelAspect: aspect, quarterTurns: 0 },
        shape,
        wish,
        even420,
        fields,
      ).ok;
    expect(no({ crop: { left: 400, top: 0, right: 320, bottom: 0 } })).toBe(false);
    expect(no({ crop: { left: -1, top: 0, right: 0, bottom: 0 } })).toBe(false);
    expect(no({}, { kind: 'pad', width: 641, height: 361 })).toBe(false);
    expect(no({}, { kind: 'fit', width: 1, height: 1 })).toBe(false);
    expect(no({}, source, { num: 0, den: 1 })).toBe(false);
    expect(no({ turn: { quarters: 1, across: false, down: false } }, source, one, true)).toBe(false);
    expect(no({ square: 'rows' }, source, rational(16, 11), true)).toBe(false);
  });

  it('keeps rows in pairs where fields are kept', () => {
    expect(
      plan(1920, 1080, { crop: { left: 0, top: 131, right: 0, bottom: 131 } }, source, even422, one, true).window,
    ).toMatchObject({ y: 132, height: 816 });
  });

  it("holds for any picture: inside its raster, on the codec's steps, its shape within a sample", () => {
    const wishes = fc.oneof(
      fc.constant<RasterWish>(source),
      fc.constantFrom<RasterWish>({ kind: 'share', of: 2 }, { kind: 'share', of: 4 }),
      fc.record({
        kind: fc.constantFrom('fit' as const, 'pad' as const, 'fill' as const, 'cut' as const),
        width: fc.integer({ min: 80, max: 1000 }).map((n) => n * 2),
        height: fc.integer({ min: 80, max: 1000 }).map((n) => n * 2),
      }),
    );
    fc.assert(
      fc.property(
        fc.integer({ min: 200, max: 4096 }),
        fc.integer({ min: 200, max: 2304 }),
        fc.constantFrom(...codedAspects.filter((row) => row.aspect.num <= row.aspect.den * 2).map((row) => row.aspect)),
        wishes,
        fc.integer({ min: 0, max: 3 }),
        (width, height, aspect, wish, quarters) => {
          const made = plan(width, height, { turn: { quarters, across: false, down: false } }, wish, even420, aspect);
          const { active, raster, view, scaled } = made;
          expect(
            active.x >= 0 &&
              active.y >= 0 &&
              active.x + active.width <= raster.width &&
              active.y + active.height <= raster.height,
          ).toBe(true);
          expect(
            view.x >= 0 && view.y >= 0 && view.x + view.width <= scaled.width && view.y + view.height <= scaled.height,
          ).toBe(true);
          expect([raster.width % 2, raster.height % 2]).toEqual([0, 0]);
          // Two samples off either way is the most that whole, even samples can cost.
          expect(Math.abs(made.aspectError)).toBeLessThan(
            2.1 / Math.min(scaled.width, scaled.height) + 2.1 / Math.max(scaled.width, scaled.height),
          );
        },
      ),
      { numRuns: 400 },
    );
  });

  it('turning a window four times brings it back', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 50 }),
        fc.integer({ min: 1, max: 50 }),
        fc.integer({ min: 0, max: 40 }),
        fc.integer({ min: 0, max: 40 }),
        (width, height, x, y) => {
          const raster = { width: x + width + 7, height: y + height + 3 };
          let [window, size] = [{ x, y, width, height }, raster];
          for (let i = 0; i < 4; i += 1) {
            window = turnedWindow(window, size, 1);
            size = { width: size.height, height: size.width };
          }
          expect(window).toEqual({ x, y, width, height });
        },
      ),
    );
  });
});
