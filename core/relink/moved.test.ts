import { describe, expect, test } from 'vitest';
import { findMoved, sameOriginal, type FoundOriginal, type KnownOriginal } from './moved.ts';

const known = (path: string, sizeBytes = 100, place = 'day 1'): KnownOriginal => ({ id: path, path, sizeBytes, place });
const found = (path: string, sizeBytes = 100): FoundOriginal => ({ path, sizeBytes });

describe('originals that moved', () => {
  test('are found below a folder of another name, and deeper', () => {
    const files = [known('A001/C001.mov'), known('A001/C002.mov'), known('B001/C001.mov')];
    const there = files.map(({ path }) => found(`restored/salt lantern/day 1/${path}`));
    expect(findMoved(files, there)).toEqual(files.map(({ id }) => ({ id, root: 'restored/salt lantern/day 1' })));
    expect(
      findMoved(
        files,
        files.map(({ path }) => found(path)),
      ).map(({ root }) => root),
    ).toEqual(['', '', '']);
  });

  test('a roll may lie apart from the others that it was read with', () => {
    const files = [known('A001/C001.mov'), known('A001/C002.mov'), known('B001/C001.mov', 7)];
    const there = [found('x/A001/C001.mov'), found('x/A001/C002.mov'), found('y/B001/C001.mov', 7)];
    expect(findMoved(files, there).map(({ root }) => root)).toEqual(['x', 'x', 'y']);
  });

  test('of two folders that hold it, the one wins that holds the rest', () => {
    const files = [known('C001.mov'), known('C002.mov')];
    const there = [found('a/C001.mov'), found('b/C001.mov'), found('b/C002.mov')];
    expect(findMoved(files, there).map(({ root }) => root)).toEqual(['b', 'b']);
  });

  test('what has another size, or lies in other folders, is named and not taken; a name that only ends alike is another', () => {
    const files = [known('A001/C001.mov'), known('A001/C002.mov'), known('C003.mov')];
    const there = [found('A001/C001.mov', 99), found('flat/C002.mov'), found('A001/XC003.mov')];
    expect(findMoved(files, there)).toEqual([
      { id: 'A001/C001.mov', root: null, lies: { path: 'A001/C001.mov', why: 'size' } },
      { id: 'A001/C002.mov', root: null, lies: { path: 'flat/C002.mov', why: 'folders' } },
      { id: 'C003.mov', root: null, lies: null },
    ]);
  });

  test('many of one name are found by their folders and sizes', () => {
    const files = Array.from({ length: 10_000 }, (_, index) => known(`A${index}/clip.mov`, index));
    const there = files.map(({ path, sizeBytes }) => found(`n/${path}`, sizeBytes)).reverse();
    const placed = findMoved(files.slice(0, 50), there);
    expect(placed.every(({ root }) => root === 'n')).toBe(true);
  });
});

describe('whether it is the same file', () => {
  const sides = (then: string | null, now: string, stated: [string | null, string | null] = [null, null]) => ({
    sampled: { then, now },
    stated: { then: stated[0], now: stated[1] },
  });

  test('samples say so before a manifest does, and either may say that it is not', () => {
    expect(sameOriginal(sides('a', 'a'))).toEqual({ same: 'samples' });
    expect(sameOriginal(sides('a', 'b', ['x', 'x'])).same).toBeNull();
    expect(sameOriginal(sides('a', 'a', ['x', 'y'])).same).toBeNull();
    expect(sameOriginal(sides(null, 'b', ['x', 'x']))).toEqual({ same: 'manifest' });
    expect(sameOriginal(sides(null, 'b', ['x', null]))).toEqual({ same: 'size' });
  });
});
