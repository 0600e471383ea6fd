import { expect, it } from 'vitest';
import { plural, sayBytes, saySpan, splitBytes } from './format.ts';

it('says sizes in decimal units, as disks are sold', () => {
  expect([0, 999, 1000, 497_000, 999_499, 999_999, 1_500_000, 83.8e9, 2.1e12].map(sayBytes)).toEqual([
    '0 B',
    '999 B',
    '1 kB',
    '497 kB',
    '999 kB',
    '1.0 MB',
    '1.5 MB',
    '83.8 GB',
    '2.10 TB',
  ]);
  expect(splitBytes(44e6)).toEqual(['44.0', 'MB']);
});

it('says spans so that they fit a line, and never below nothing', () => {
  expect([-5, 0, 59.4, 59.6, 185, 3599, 4800].map(saySpan)).toEqual([
    '0 s',
    '0 s',
    '59 s',
    '1 min 00 s',
    '3 min 05 s',
    '59 min 59 s',
    '1 h 20 min',
  ]);
  expect([plural(0, 'clip'), plural(1, 'clip'), plural(2, 'leg')]).toEqual(['0 clips', '1 clip', '2 legs']);
});
