import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readNumber, sayLimits, sayNumber, stepped } from './numbers.ts';

const slope = { least: 0, most: 4 };

describe('a number that a person typed', () => {
  it('is read with point or comma, any minus, and spaces around', () => {
    expect(readNumber('0.9', slope)).toEqual({ ok: true, value: 0.9 });
    expect(readNumber(' 0,9 ', slope)).toEqual({ ok: true, value: 0.9 });
    expect(readNumber('.5', slope)).toEqual({ ok: true, value: 0.5 });
    for (const minus of ['-', '−', '–'])
      expect(readNumber(`${minus}0.05`, { least: -1, most: 1 })).toEqual({ ok: true, value: -0.05 });
  });

  it('is none halfway, when emptied, as a list or in other writings, and says what is wanted', () => {
    for (const text of ['-', '.', '1e3', '0x10', '1 2', '1,2,3', 'Infinity', 'NaN', 'ab'])
      expect(readNumber(text, slope)).toEqual({ ok: false, why: 'Not a number; 0 to 4' });
    expect(readNumber('', slope)).toEqual({ ok: false, why: 'A number is wanted: 0 to 4' });
    expect(readNumber('', { ...slope, optional: true })).toEqual({ ok: true, value: null });
  });

  it('is held to its limits and to whole numbers, which are said', () => {
    expect(readNumber('52', { least: 0, most: 51 })).toEqual({ ok: false, why: 'Takes 0 to 51' });
    expect(readNumber('20.5', { least: 0, most: 51, whole: true })).toEqual({
      ok: false,
      why: 'Takes whole numbers, 0 to 51',
    });
    expect(readNumber('20.0', { least: 0, most: 51, whole: true })).toEqual({ ok: true, value: 20 });
    expect(sayLimits({ least: 0.05, most: 2000, unit: 'Mb/s' })).toBe('0.05 to 2000 Mb/s');
    expect(sayLimits({ least: 1, most: Infinity })).toBe('1 or more');
  });

  it('comes back from how it is shown', () => {
    fc.assert(
      fc.property(fc.integer({ min: -10_000, max: 10_000 }), (tenThousandths) => {
        const value = tenThousandths / 10_000;
        expect(readNumber(sayNumber(value), { least: -1, most: 1 })).toEqual({ ok: true, value });
      }),
    );
  });
});

it('steps stay within the limits and gather no stray digits', () => {
  let value = 0;
  for (let step = 0; step < 7; step += 1) value = stepped(value, 0.1, slope);
  expect(value).toBe(0.7);
  expect(stepped(3.95, 0.1, slope)).toBe(4);
  expect(stepped(0.05, -0.1, slope)).toBe(0);
});
