import { expect, it } from 'vitest';
import { rational } from '../time/rational.ts';
import { proResTargetBitsPerSecond } from './prores.ts';
import { quantiserFor } from './quantiser.ts';

it('scales ProRes targets by samples and rate (RDD 36 table; ×0.8 at 23.976)', () => {
  const hd = { width: 1920, height: 1080 };
  expect(proResTargetBitsPerSecond('hq', hd, rational(30000, 1001)) / 1e6).toBeCloseTo(220, 6);
  expect(proResTargetBitsPerSecond('hq', hd, rational(24000, 1001)) / 1e6).toBeCloseTo(176, 6);
  // UHD has four times the samples; 2160 and 1080 lines round up to 135 and 68 rows of blocks.
  expect(proResTargetBitsPerSecond('hq', { width: 3840, height: 2160 }, rational(30000, 1001)) / 1e6).toBeCloseTo(
    220 * 4 * (135 / 136),
    6,
  );
});

it("gives small rasters what the published table gives them (rows from memory; FFmpeg's budgets agree)", () => {
  const megabits = (width: number, height: number, num: number): number =>
    proResTargetBitsPerSecond('hq', { width, height }, rational(num, 1001)) / 1e6;
  expect(megabits(720, 486, 30000)).toBeGreaterThan(63 * 0.98);
  expect(megabits(720, 486, 30000)).toBeLessThan(63 * 1.02);
  expect(megabits(1280, 720, 60000)).toBeGreaterThan(220 * 0.98);
  expect(megabits(1280, 720, 60000)).toBeLessThan(220 * 1.02);
});

it('finds the finest quantiser that fits, on a curve of known shape', () => {
  const bytes = (q: number): number => Math.exp(14 - 0.8 * Math.log(q) - 0.05 * Math.log(q) ** 2);
  const samples = [2, 4, 8].map((quantiser) => ({ quantiser, bytes: bytes(quantiser) }));
  for (const wanted of [1, 2, 3, 5, 7, 12]) expect(quantiserFor(samples, bytes(wanted) * 1.0001, 64)).toBe(wanted);
  expect(quantiserFor(samples, 10, 64)).toBe(64);
  expect(() => quantiserFor([], 10, 64)).toThrow(RangeError);
});
