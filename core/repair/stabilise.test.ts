import { describe, expect, it } from 'vitest';
import { rational } from '../time/rational.ts';
import { keptOf, planStabilising, type Firmness } from './stabilise.ts';

const hd = { width: 1920, height: 1080 };

describe('stabilising', () => {
  // Reckoned by hand: half of 1080 − 1080 / 1.05 is 25.71 lines hidden on each side, three fifths of it 15.43.
  it.each<[Firmness, number, number, number, number]>([
    [1, 6, 5, 15, 0.00883],
    [2, 13, 9, 26, 0.01532],
    [3, 25, 15, 42, 0.02421],
  ])('of firmness %i evens out and enlarges as it says', (firmness, smoothing, zoomPercent, maxShift, maxAngle) => {
    expect(planStabilising(firmness, hd, rational(25))).toEqual({ smoothing, zoomPercent, maxShift, maxAngle });
  });

  it('never shows an edge, shifted and turned as far as it may', () => {
    for (const raster of [
      hd,
      { width: 1080, height: 1920 },
      { width: 720, height: 576 },
      { width: 4096, height: 2160 },
    ])
      for (const firmness of [1, 2, 3] as const) {
        const plan = planStabilising(firmness, raster, rational(25));
        const kept = keptOf(plan, raster);
        const [across, down] = [kept.width / 2, kept.height / 2];
        const [sin, cos] = [Math.sin(plan.maxAngle), Math.cos(plan.maxAngle)];
        expect(across * cos + down * sin + plan.maxShift).toBeLessThanOrEqual(raster.width / 2);
        expect(across * sin + down * cos + plan.maxShift).toBeLessThanOrEqual(raster.height / 2);
      }
  });

  it('keeps to what the filter can do: one frame at least, 1000 at most, 500 samples', () => {
    expect(planStabilising(1, hd, rational(1)).smoothing).toBe(1);
    expect(planStabilising(3, hd, rational(2000)).smoothing).toBe(1000);
    expect(planStabilising(3, { width: 16_384, height: 16_384 }, rational(25)).maxShift).toBe(500);
  });

  it('keeps the middle', () => {
    expect(keptOf({ zoomPercent: 5 }, hd)).toEqual({ x: 46, y: 26, width: 1829, height: 1029 });
  });
});
