import { expect, it } from 'vitest';
import { halfToNumber, halfTowardsZero } from './half.ts';

// IEEE 754-2008, binary16: a sign, five bits of exponent (bias 15), ten of fraction.
it.each([
  [0x0000, 0],
  [0x0001, 5.960464477539063e-8],
  [0x03ff, 6.097555160522461e-5],
  [0x0400, 6.103515625e-5],
  [0x3555, 0.333251953125],
  [0x3c00, 1],
  [0x3c01, 1.0009765625],
  [0xc000, -2],
  [0x7bff, 65_504],
  [0xfbff, -65_504],
  [0x8001, -5.960464477539063e-8],
  [0x7c00, Infinity],
  [0xfc00, -Infinity],
  [0x7e00, Number.NaN],
  [0xfc01, Number.NaN],
])('%i is %f', (bits, value) => {
  expect(halfToNumber(bits)).toBe(value);
});

it('every finite half comes back to its bits, and what lies beyond it too, up to the next', () => {
  const off: number[] = [];
  for (let bits = 0; bits < 0x7c00; bits += 1) {
    const value = halfToNumber(bits);
    const next = bits === 0x7bff ? 1e9 : halfToNumber(bits + 1);
    for (const one of [value, value + (Math.min(next, 65_536) - value) * 0.999])
      if (halfTowardsZero(one) !== bits || (one > 0 && halfTowardsZero(-one) !== (bits | 0x8000))) off.push(bits);
  }
  expect(off).toEqual([]);
  expect(halfTowardsZero(1e9)).toBe(0x7bff);
});
