import { expect, it } from 'vitest';
import { rational } from '../../time/rational.ts';
import { framesOfTicks, ticksOf, ticksPerSecond } from './ticks.ts';

const film = rational(24000, 1001);

it('a frame of every rate in use is a whole number of ticks', () => {
  const whole = [24, 25, 30, 48, 50, 60, 120].map((n) => rational(n));
  for (const rate of [...whole, film, rational(30_000, 1001), rational(60_000, 1001), rational(120_000, 1001)])
    expect((ticksPerSecond * rate.den) % rate.num, `${rate.num}/${rate.den}`).toBe(0);
  expect(ticksOf({ value: rational(1), rate: film })).toBe(29_429_400);
  expect(framesOfTicks(29_429_400 * 86_400, film)).toEqual({ frames: 86_400, whole: true });
});

it('times before nought are as whole as those behind it', () => {
  expect(ticksOf({ value: rational(-3), rate: film })).toBe(-3 * 29_429_400);
  expect(framesOfTicks(-3 * 29_429_400, film)).toEqual({ frames: -3, whole: true });
  // Half a frame goes up, on either side; less than that goes to the nearest.
  expect(framesOfTicks(-2.5 * 29_429_400, film)).toEqual({ frames: -2, whole: false });
  expect(framesOfTicks(-2.5 * 29_429_400 - 1, film)).toEqual({ frames: -3, whole: false });
  expect(framesOfTicks(2.5 * 29_429_400 - 1, film)).toEqual({ frames: 2, whole: false });
});

it('what is no whole number of ticks goes to the nearest', () => {
  expect(ticksOf({ value: rational(1, 3), rate: rational(ticksPerSecond) })).toBe(0);
  expect(ticksOf({ value: rational(2, 3), rate: rational(ticksPerSecond) })).toBe(1);
  expect(ticksOf({ value: rational(-2, 3), rate: rational(ticksPerSecond) })).toBe(-1);
});
