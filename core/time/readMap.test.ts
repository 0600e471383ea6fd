import { expect, it } from 'vitest';
import { readMap, writeMap, type FrameMap } from './frameMap.ts';

it('reads every map that is written', () => {
  const maps: FrameMap[] = [
    { kind: 'every' },
    { kind: 'fields' },
    { kind: 'pulldown-in' },
    { kind: 'pulldown-out', phase: 3 },
    { kind: 'hold', ratio: { num: 4, den: 5 } },
    { kind: 'blend', ratio: { num: 1001, den: 960 } },
    { kind: 'times', places: [0, 1, 2, 4, 4, 5] },
    { kind: 'times', places: [0] },
  ];
  for (const map of maps) expect(readMap(writeMap(map))).toEqual({ ok: true, value: map });
});

it('what is none is said, however long or large', () => {
  for (const text of [
    '',
    'every 2',
    'hold',
    'hold 0/1',
    'hold x',
    'pulldown-out 5',
    'places 1',
    'places +1*999999999',
    'x'.repeat(99),
  ])
    expect(readMap(text).ok, text).toBe(false);
});
