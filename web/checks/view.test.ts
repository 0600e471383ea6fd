import type { Comparison, ComparedSide } from '@relay/contract/checks';
import { expect, it } from 'vitest';
import { centreOf, dragged, scaleOf, wantedWidth } from './view.ts';

const side = (raster: { width: number; height: number }, box: ComparedSide['box']): ComparedSide => ({
  title: '',
  codec: '',
  raster,
  bitDepth: 10,
  box,
  played: box,
  channels: 2,
  replaced: null,
});

/** A scan of 1920 × 1080 whose pillars were taken off, made half as large. */
const both: Comparison = {
  output: side({ width: 757, height: 540 }, { x: 0, y: 0, width: 757, height: 540 }),
  against: side({ width: 1920, height: 1080 }, { x: -101, y: 0, width: 960, height: 540 }),
  frames: 10,
  rate: { num: 25, den: 1 },
  played: { width: 960, height: 1080 },
  others: [],
};
const place = { width: 1000, height: 600 };

it('at 100 % a sample of the finer picture is one dot, and both stand at one scale', () => {
  // The original has two samples to the plane's unit.
  expect(scaleOf(both, 'wipe', 100, place)).toBe(2);
  expect(scaleOf(both, 'wipe', 400, place)).toBe(8);
});

it('fitted, all of both is in sight: in half of the width beside each other', () => {
  expect(scaleOf(both, 'wipe', 'fit', place)).toBeCloseTo((1000 / 960) * 0.985, 9);
  expect(scaleOf(both, 'side by side', 'fit', place)).toBeCloseTo((500 / 960) * 0.985, 9);
  expect(centreOf(both, 'wipe', 'fit', { x: 0, y: 0 })).toEqual({ x: 379, y: 270 });
  expect(centreOf(both, 'difference', 'fit', { x: 0, y: 0 })).toEqual({ x: 378.5, y: 270 });
});

it('dragged, the middle moves against the hand and stays on the picture', () => {
  expect(dragged(both, 'wipe', { x: 0.5, y: 0.5 }, { x: -192, y: 54 }, 2)).toEqual({ x: 0.6, y: 0.45 });
  expect(dragged(both, 'wipe', { x: 0.5, y: 0.5 }, { x: -9999, y: 9999 }, 2)).toEqual({ x: 1, y: 0 });
});

it('frames are asked for as they will be seen, or whole where they are enlarged', () => {
  expect(wantedWidth(both, 'against', 'fit', 0.5)).toBe(512);
  expect(wantedWidth(both, 'output', 'fit', 9)).toBe(757);
  expect(wantedWidth(both, 'against', 200, 4)).toBe(1920);
});
