import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { unwrap } from '../result.ts';
import { findCadence, steadied } from './cadence.ts';
import { compare, divide, multiply, parseRational, rational, scaleToInteger } from './rational.ts';
import { formatRate, nearestStandardRate, parseRate, snapRate, standardRates } from './rate.ts';

describe('rates', () => {
  it('are read exactly and written as what they are', () => {
    expect(unwrap(parseRate('23.976'))).toEqual({ num: 24000, den: 1001 });
    expect(unwrap(parseRate('23.98'))).toEqual({ num: 24000, den: 1001 });
    expect(unwrap(parseRate('29.97'))).toEqual({ num: 30000, den: 1001 });
    expect(unwrap(parseRate('24'))).toEqual({ num: 24, den: 1 });
    for (const { rate, written } of standardRates) {
      expect(formatRate(rate)).toBe(written);
      expect(unwrap(parseRate(written))).toEqual(rate);
    }
    for (const bad of ['', '0', '-25', 'fast', '24/0', '99999']) expect(parseRate(bad).ok).toBe(false);
  });

  it('snaps what coarse clocks state, never across families', () => {
    expect(snapRate(rational(19001, 317))).toEqual({ num: 60000, den: 1001 });
    expect(snapRate(rational(24))).toEqual({ num: 24, den: 1 });
    expect(nearestStandardRate(rational(2969, 100))).toEqual({ num: 30000, den: 1001 });
  });
});

describe('cadence', () => {
  it('is constant under rounding to a coarse clock', () => {
    const rounded = Array.from({ length: 600 }, (_, n) => Math.round((n * 1001 * 600) / 30000));
    expect(findCadence(rounded, rational(1, 600))).toMatchObject({ constant: true, rate: { num: 30000, den: 1001 } });
  });

  it('is constant up to one tick of a clock coarser than a tenth of a frame, and not up to two', () => {
    // Four ticks a frame.
    const ticks = Array.from({ length: 60 }, (_, n) => n * 4);
    const off = (by: number) => findCadence(ticks.with(20, 80 + by), rational(1, 100))?.constant;
    expect([off(1), off(-1), off(2), off(-2)]).toEqual([true, true, false, false]);
  });

  it('is not constant when frames wander, and says between what', () => {
    const ticks = [0, 3000, 6100, 9000, 12400, 15000, 18050];
    const cadence = findCadence(ticks, rational(1, 90000));
    expect(cadence?.constant).toBe(false);
    expect(compare(cadence?.slowest ?? rational(99), rational(90000, 3400))).toBe(0);
    expect(compare(cadence?.fastest ?? rational(0), rational(90000, 2600))).toBe(0);
    expect(findCadence([5], rational(1, 25))).toBeNull();
  });

  it('is that of the whole part when a file is cut short: pictures between its last ones are missing', () => {
    const cut = [...Array.from({ length: 20 }, (_, n) => n * 3600), 22 * 3600, 24 * 3600];
    expect(findCadence(cut, rational(1, 90000))).toMatchObject({ constant: true, rate: rational(25) });
    // Gaps in the middle are another thing: a rate that varies.
    expect(findCadence([...cut, ...cut.map((tick) => tick + 30 * 3600)], rational(1, 90000))?.constant).toBe(false);
  });

  it('keeps the duration when steadied', () => {
    expect(steadied(rational(296, 10), rational(10))).toEqual({ rate: rational(30000, 1001), frames: 300 });
  });
});

it('rationals keep the laws of fractions', () => {
  const fraction = fc
    .tuple(fc.integer({ min: -5000, max: 5000 }), fc.integer({ min: 1, max: 5000 }))
    .map(([n, d]) => rational(n, d));
  fc.assert(
    fc.property(fraction, fraction, (a, b) => {
      expect(multiply(a, b)).toEqual(multiply(b, a));
      if (b.num !== 0) expect(multiply(divide(a, b), b)).toEqual(a);
      expect(scaleToInteger(1, a)).toBe(Math.floor(a.num / a.den + 0.5));
    }),
  );
  expect(unwrap(parseRational('1.33'))).toEqual({ num: 133, den: 100 });
});
