import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rational, toNumber } from '../time/rational.ts';
import { displayAspect, fittedWithin, squared } from './raster.ts';

const even422 = { widthStep: 2, heightStep: 1 };
const even420 = { widthStep: 2, heightStep: 2 };
const square = rational(1);
const box = { width: 960, height: 960 };

describe('square pixels', () => {
  it('widens 1440×1080 at 4:3 to 1920×1080', () => {
    expect(squared({ width: 1440, height: 1080 }, rational(4, 3), even422, false)).toEqual({
      raster: { width: 1920, height: 1080 },
      aspectError: 0,
    });
  });

  it('takes 4096×2160 with a 1.333 squeeze to an even 5460 or 5462, with the error said (common practice, no source)', () => {
    const fitted = squared({ width: 4096, height: 2160 }, rational(4, 3), even422, false);
    expect([5460, 5462]).toContain(fitted.raster.width);
    expect(Math.abs(fitted.aspectError)).toBeGreaterThan(0);
    expect(Math.abs(fitted.aspectError)).toBeLessThan(1 / 5460);
  });

  it('shows standard definition as ITU-R BT.601 with H.264 Table E-1 aspects does', () => {
    // 720×576 at 16:11 is 1047.27 wide; 720×480 at 10:11 keeps its width and gains height: 528 lines.
    expect(squared({ width: 720, height: 576 }, rational(16, 11), even422, false).raster).toEqual({
      width: 1048,
      height: 576,
    });
    expect(squared({ width: 720, height: 480 }, rational(10, 11), even422, false).raster).toEqual({
      width: 720,
      height: 528,
    });
    expect(squared({ width: 720, height: 480 }, rational(10, 11), even422, true).raster.height).toBe(480);
  });
});

describe('fitting', () => {
  it('fits common rasters in 960×960', () => {
    expect(fittedWithin({ width: 1920, height: 1080 }, square, box, even420).raster).toEqual({
      width: 960,
      height: 540,
    });
    expect(fittedWithin({ width: 3840, height: 2160 }, square, box, even420).raster).toEqual({
      width: 960,
      height: 540,
    });
    expect(fittedWithin({ width: 1440, height: 1080 }, rational(4, 3), box, even420).raster).toEqual({
      width: 960,
      height: 540,
    });
    expect(fittedWithin({ width: 1080, height: 1920 }, square, box, even420).raster).toEqual({
      width: 540,
      height: 960,
    });
  });

  it('never enlarges, keeps the aspect within one step, and is even', () => {
    const side = fc.integer({ min: 16, max: 8192 });
    const aspects = fc.constantFrom(
      rational(1),
      rational(4, 3),
      rational(10, 11),
      rational(12, 11),
      rational(2),
      rational(16, 11),
    );
    fc.assert(
      fc.property(side, side, aspects, (width, height, aspect) => {
        fc.pre(width / height < 8 && height / width < 8);
        const { raster, aspectError } = fittedWithin({ width, height }, aspect, box, even420);
        expect((raster.width % 2) + (raster.height % 2)).toBe(0);
        expect(Math.max(raster.width, raster.height)).toBeLessThanOrEqual(960);
        const shown = Math.max(width, height, width * toNumber(aspect), height / toNumber(aspect));
        expect(Math.max(raster.width, raster.height)).toBeLessThan(shown + 2);
        expect(Math.abs(aspectError)).toBeLessThan(2 / Math.min(raster.width, raster.height));
        expect(raster.width / raster.height / toNumber(displayAspect({ width, height }, aspect)) - 1).toBeCloseTo(
          aspectError,
          9,
        );
      }),
    );
  });
});
