import { describe, expect, it } from 'vitest';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import { changesBetween, merged } from './changes.ts';
import type { Cut } from './cut.ts';
import { readEdl } from './edl/read.ts';

/** `reel source-in source-out record-in`, in seconds at 24. */
function cut(...events: [reel: string, from: number, to: number, at: number, track?: string][]): Cut {
  const label = (seconds: number): string => {
    const frames = Math.round(seconds * 24);
    const two = (n: number): string => String(Math.floor(n)).padStart(2, '0');
    return `${two(frames / 86_400)}:${two((frames / 1_440) % 60)}:${two((frames / 24) % 60)}:${two(frames % 24)}`;
  };
  const lines = events.map(
    ([reel, from, to, at, track = 'V'], index) =>
      `${index + 1} ${reel} ${track} C ${label(from)} ${label(to)} ${label(at)} ${label(at + to - from)}`,
  );
  return unwrap(readEdl(lines.join('\n'), { given: rational(24) })).cut;
}
const said = (older: Cut, newer: Cut): string[] =>
  changesBetween(older, newer).changes.map(({ kind, what }) => `${kind}: ${what}`);

describe('two versions of a cut', () => {
  const first = cut(['A', 10, 12, 0], ['B', 20, 25, 2], ['C', 30, 31, 7]);

  it('differ in nothing where nothing changed, also where all begins elsewhere', () => {
    expect(said(first, first)).toEqual(['same: ', 'same: ', 'same: ']);
    const later = cut(['A', 10, 12, 3600], ['B', 20, 25, 3602], ['C', 30, 31, 3607]);
    expect(changesBetween(first, later).changes.every(({ kind }) => kind === 'same')).toBe(true);
  });

  it('are told in what is new, gone, moved, trimmed, extended and slipped', () => {
    expect(said(first, cut(['A', 10.5, 12, 0], ['B', 20, 26, 1.5], ['D', 0, 1, 7.5]))).toEqual([
      'gone: C is no longer in the cut',
      'trimmed: A: 12 frames fewer at its beginning',
      'extended: B: 24 frames more at its end',
      'new: D is new',
    ]);
    expect(said(first, cut(['B', 20, 25, 0], ['A', 10, 12, 5], ['C', 30.5, 31.5, 7]))).toEqual([
      'moved: B lies 48 frames earlier',
      'moved: A lies 120 frames later',
      'slipped: C: 12 frames fewer at its beginning, 12 frames more at its end',
    ]);
  });

  it('need what is new of originals alone, however often it is used', () => {
    expect(changesBetween(first, cut(['A', 10, 12, 0], ['A', 11, 13, 2], ['A', 11, 13, 4])).newSeconds).toBe(1);
    expect(changesBetween(first, cut(['A', 10, 12, 0])).newSeconds).toBe(0);
    expect(changesBetween(first, cut(['D', 0, 1, 0], ['D', 0, 1, 0, 'A'])).newSeconds).toBe(1);
  });

  it('tell twice the same apart by where it lies', () => {
    const older = cut(['A', 0, 1, 0], ['A', 0, 1, 5]);
    expect(said(older, cut(['A', 0, 1, 5]))).toEqual(['gone: A is no longer in the cut', 'same: ']);
  });
});

it('spans are merged where they touch, or lie closer than a gap', () => {
  const spans = [
    { from: 10, to: 20 },
    { from: 0, to: 5 },
    { from: 20, to: 25 },
    { from: 28, to: 30 },
  ];
  expect(merged(spans)).toEqual([
    { from: 0, to: 5 },
    { from: 10, to: 25 },
    { from: 28, to: 30 },
  ]);
  expect(merged(spans, 4)).toHaveLength(2);
});
