import { expect, it } from 'vitest';
import { compileInverse1d } from './inverse1d.ts';
import type { Lut1d } from './lut.ts';

const table = (...values: number[]): Lut1d => ({
  size: values.length,
  values: Float32Array.from(values.flatMap((value) => [value, value, value])),
  domainMin: [0, 0, 0],
  domainMax: [1, 1, 1],
  halfDomain: false,
});
const back = (lut: Lut1d, value: number): number => {
  const rgb = Float64Array.of(value, value, value);
  compileInverse1d(lut).transform(rgb);
  return Number((rgb[1] as number).toFixed(9));
};

it('the way back begins and ends where a table with flat ends does, to either side', () => {
  const rising = table(0, 0, 0, 0.5, 1, 1);
  expect([-1, 0, 0.25, 0.5, 0.75, 1, 2].map((value) => back(rising, value))).toEqual([
    ...[0.4, 0.4],
    ...[0.5, 0.6, 0.7],
    ...[0.8, 0.8],
  ]);
  // Of two flat points, too, the one beside the slope is taken.
  const short = table(0, 0, 0.5, 1, 1);
  expect([0, 0.5, 1].map((value) => back(short, value))).toEqual([0.25, 0.5, 0.75]);
  const falling = table(1, 1, 0.5, 0, 0, 0);
  expect([-1, 0, 0.25, 0.5, 0.75, 1, 2].map((value) => back(falling, value))).toEqual([
    ...[0.6, 0.6],
    ...[0.5, 0.4, 0.3],
    ...[0.2, 0.2],
  ]);
});

it('what turns back is levelled, what is flat is counted, each channel by itself', () => {
  const lut = table(0, 0.5, 0.25, 0.5, 1);
  lut.values[2 * 3] = 0.75;
  lut.values[3 * 3] = 0.8;
  const { levelled, flat } = compileInverse1d(lut);
  expect([levelled, flat]).toEqual([
    [0, 1, 1],
    [0, 1, 1],
  ]);
});
