import { expect, it } from 'vitest';
import { rational } from '../../time/rational.ts';
import { framesOfTicks, ticksOf, ticksPerSecond } from './ticks.ts';

const film = rational(24000, 1001);

it('a frame of every rate in use is a whole number of ticks', () => {
  for (const rate of [rational(24), rational(25), rational(30), rational(50), rational(60), rational(120), film])
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
