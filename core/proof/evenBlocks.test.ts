import { describe, expect, it } from 'vitest';
import { blocksOf, evenBlocks } from './evenBlocks.ts';

/** Three planes alike but for what `value` makes of them. */
const planes = (width: number, height: number, value: (x: number, y: number, p: number) => number): Uint16Array =>
  Uint16Array.from({ length: 3 * width * height }, (_, i) => {
    const at = i % (width * height);
    return value(at % width, Math.floor(at / width), Math.floor(i / (width * height)));
  });

describe('blocks', () => {
  it('have their means and spreads, plane by plane; what is over at the right and below is left out', () => {
    const made = planes(10, 9, (x, y, p) => 1_000 * p + (x < 4 ? 100 : 300) + (y < 4 ? 0 : 20) + (x % 2 ? 7 : -7));
    const { across, down, means, spreads } = blocksOf(made, 10, 9, 4);
    expect([across, down]).toEqual([2, 2]);
    expect(means.map((plane) => [...plane])).toEqual([
      [100, 300, 120, 320],
      [1_100, 1_300, 1_120, 1_320],
      [2_100, 2_300, 2_120, 2_320],
    ]);
    for (const plane of spreads) for (const spread of plane) expect(spread).toBeCloseTo(7, 9);
  });
});

describe('even blocks', () => {
  const across = 7;
  const even = (value: (x: number, y: number, p: number) => number): string[] => {
    const found = evenBlocks(blocksOf(planes(8 * across, 8 * across, value), 8 * across, 8 * across, 8));
    return Array.from({ length: across }, (_, y) => [...found.subarray(y * across, (y + 1) * across)].join(''));
  };
  const all = Array.from({ length: across }, () => '1'.repeat(across));

  it('are all of a flat picture, and of a gentle slope', () => {
    expect(even(() => 20_000)).toEqual(all);
    expect(even((x) => 20_000 + 60 * x)).toEqual(all);
  });

  it('are none beside an edge, whichever plane it is in, and whichever way it runs', () => {
    const besideTheEdge = Array.from({ length: across }, () => '1100111'.slice(0, across));
    for (const plane of [0, 1, 2])
      expect(even((x, _, p) => 30_000 + (p === plane && x >= 24 ? 3_000 : 0))).toEqual(besideTheEdge);
    expect(even((_, y) => (y >= 24 ? 33_000 : 30_000))).toEqual(
      ['1', '1', '0', '0', '1', '1', '1'].map((one) => one.repeat(across)),
    );
    // No edge is what differs by less than 2,600 of all codes.
    expect(even((x) => 30_000 + (x >= 24 ? 2_500 : 0))).toEqual(all);
    expect(even((x) => 30_000 + (x >= 24 ? 2_700 : 0))).not.toEqual(all);
  });

  it('are none around a block that is spread, also at a corner', () => {
    const spread = (by: number) => (x: number, y: number) => 30_000 + (x < 8 && y < 8 && (x + y) % 2 ? by : 0);
    // Every other sample higher by so much is a spread of half.
    expect(even(spread(2 * 1_000))).toEqual(all);
    expect(even(spread(2 * 1_100))).toEqual(['0011111', '0011111', ...all.slice(2)]);
  });

  it('are those of a picture that is all grain, until it is too much for grain', () => {
    const grain = (by: number) => (x: number, y: number) => 30_000 + ((x + y) % 2 ? by : -by);
    expect(even(grain(3_800))).toEqual(all);
    expect(even(grain(3_900))).toEqual(all.map(() => '0'.repeat(across)));
    // A block that is spread by half as much again as the picture's own grain is none of it.
    const within = (times: number) => (x: number, y: number) =>
      30_000 + ((x + y) % 2 ? 1 : -1) * (x < 8 && y < 8 ? times * 2_000 : 2_000);
    expect(even(within(1.45))).toEqual(all);
    expect(even(within(1.55))).toEqual(['0011111', '0011111', ...all.slice(2)]);
  });
});
