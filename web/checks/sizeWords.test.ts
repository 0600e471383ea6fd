import { expect, it } from 'vitest';
import { sayMegabits, sayShare } from './sizeWords.ts';

it('shares keep two digits that count, and what grew is so many times as large', () => {
  const of = (outputBytes: number): string => sayShare({ originalBytes: 2_270_000_000, outputBytes });
  expect([of(22_000_000), of(113_500_000), of(454_000_000), of(2_270_000_000), of(9_080_000_000)]).toEqual([
    '0.97 %',
    '5.0 %',
    '20 %',
    '100 %',
    '4.0 times',
  ]);
  expect(sayShare({ originalBytes: 0, outputBytes: 5 })).toBe('');
});

it('rates are of the original’s time', () => {
  // 641 MB for 29 s (common practice, no source).
  expect([sayMegabits(641e6, 29), sayMegabits(12.5e6, 1), sayMegabits(1e6, 8), sayMegabits(5, null)]).toEqual([
    '177',
    '100',
    '1.00',
    '–',
  ]);
});
