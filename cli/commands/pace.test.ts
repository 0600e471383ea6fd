import { expect, it } from 'vitest';
import { sayPace } from './pace.ts';

it('says rate and time left, and neither before there is one', () => {
  expect(sayPace(12, 40, 4_000)).toBe(', 3.0 a second, 0:09 left');
  expect(sayPace(50, 50_050, 1_000)).toBe(', 50 a second, 16:40 left');
  expect(sayPace(1, 7_201, 1_000)).toBe(', 1.0 a second, 2:00:00 left');
  expect(sayPace(150e6, 300e6, 1_000, { unit: 'MB/s', per: 1e6 })).toBe(', 150 MB/s, 0:01 left');
  expect([sayPace(0, 40, 4_000), sayPace(3, 40, 100)]).toEqual(['', '']);
});
