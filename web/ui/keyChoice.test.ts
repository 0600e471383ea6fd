import { describe, expect, it } from 'vitest';
import { keyList } from '../how/keyList.ts';
import { changedOf, takenBy } from './keyChoice.ts';
import { callFor } from './keys.ts';

describe('keys', () => {
  const keys = { r: 'run', G: 'group', ArrowUp: 'up', '/': 'filter' };

  it('act as printed, whether Shift is on or not, and not at all where letters are off', () => {
    expect(['r', 'R', 'g', 'ArrowUp', '/', 'x'].map((key) => callFor(keys, key, true))).toEqual([
      ...['run', 'run', 'group', 'up', 'filter'],
      undefined,
    ]);
    expect(['r', 'ArrowUp'].map((key) => callFor(keys, key, false))).toEqual([undefined, 'up']);
  });

  it('act under another that was chosen, and no more under their own', () => {
    const changed = { r: 'x', g: 'r' };
    expect(['x', 'X', 'r', 'g'].map((key) => callFor(keys, key, true, changed))).toEqual([
      ...['run', 'run', 'group'],
      undefined,
    ]);
  });

  it('are taken where they act already, in their place or everywhere', () => {
    expect(takenBy(keyList, {}, 'Clips', 'R', 'b')).toBe('Onto the bench');
    expect(takenBy(keyList, {}, 'Clips', 'R', 't')).toBe('Dark or chalk');
    expect(takenBy(keyList, {}, 'Clips', 'R', 'x')).toBeNull();
    // Free once what it did was put elsewhere; another place's keys are no matter.
    expect(takenBy(keyList, { Clips: { b: 'x' } }, 'Clips', 'R', 'b')).toBeNull();
    expect(takenBy(keyList, { Clips: { b: 'x' } }, 'Clips', 'R', 'x')).toBe('Onto the bench');
    expect(takenBy(keyList, {}, 'Run', 'F', 'b')).toBeNull();
    expect([takenBy(keyList, {}, 'Clip', 'K', '4'), takenBy(keyList, {}, 'Clip', 'K', 'j')]).not.toContain(null);
    // A key for everywhere must be free in every place.
    expect(takenBy(keyList, {}, 'Everywhere', 'T', 'v')).toBe('Verify the roll again');
  });

  it('that were kept are believed only where they say such a thing', () => {
    expect(changedOf('{"Clips": {"r": "x"}}')).toEqual({ Clips: { r: 'x' } });
    for (const text of ['', 'null', '[1]', '{"Clips": {"r": "xx"}}', '{"Clips": 3}'])
      expect(changedOf(text)).toEqual({});
  });
});
