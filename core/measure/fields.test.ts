import { describe, expect, it } from 'vitest';
import { measureScan, type Stretch } from './fields.ts';

const [width, height] = [64, 96];

/** A textured pattern that moves to the right and down, at moment `t`. */
function scene(t: number): (x: number, y: number) => number {
  return (x, y) =>
    20_000 +
    9_000 * Math.sin((x - t * 2.1) / 3) +
    6_000 * Math.sin((y + t * 1.7) / 4.3) +
    3_000 * Math.sin((x * 0.7 + y * 1.3 - t * 3) / 5);
}

/** A picture whose top and bottom fields are of two moments. */
function woven(top: number, bottom: number): Uint16Array {
  const [a, b] = [scene(top), scene(bottom)];
  return Uint16Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return (y % 2 === 0 ? a : b)(x, y);
  });
}

const stretch = (first: number, moments: readonly (readonly [number, number])[]): Stretch => ({
  first,
  width,
  height,
  pictures: moments.map(([top, bottom]) => woven(top, bottom)),
});
const twelve = Array.from({ length: 12 }, (_, n) => n);
const film = [
  [0, 0],
  [1, 1],
  [1, 2],
  [2, 3],
  [3, 3],
] as const;
/** 2:3 pulldown, beginning at a place in the pattern: AA BB BC CD DD. */
const pulled = (phase: number): [number, number][] =>
  twelve.map((n) => {
    const [top, bottom] = film[(n + phase) % 5] as readonly [number, number];
    const group = Math.floor((n + phase) / 5) * 4;
    return [group + top, group + bottom];
  });

describe('how pictures are scanned, seen from consecutive ones', () => {
  it('whole pictures, fields of either order, and nothing where nothing moves', () => {
    expect(
      measureScan([
        stretch(
          0,
          twelve.map((n) => [n, n]),
        ),
      ]),
    ).toMatchObject({ seen: 'progressive' });
    expect(
      measureScan([
        stretch(
          0,
          twelve.map((n) => [n, n + 0.5]),
        ),
      ]),
    ).toMatchObject({ seen: 'top-field-first' });
    expect(
      measureScan([
        stretch(
          0,
          twelve.map((n) => [n + 0.5, n]),
        ),
      ]),
    ).toMatchObject({ seen: 'bottom-field-first' });
    expect(
      measureScan([
        stretch(
          0,
          twelve.map(() => [3, 3]),
        ),
      ]),
    ).toMatchObject({ seen: 'still', confidence: 0, judged: 0 });
  });

  it('2:3 pulldown, and where the pattern begins, also from the middle of a clip', () => {
    for (const phase of [0, 1, 2, 3, 4]) {
      expect(measureScan([stretch(0, pulled(phase))]), `phase ${phase}`).toMatchObject({ seen: 'pulldown', phase });
      expect(measureScan([stretch(37, pulled((phase + 37) % 5))]), `phase ${phase} from 37`).toMatchObject({
        seen: 'pulldown',
        phase,
      });
    }
  });

  it('says how many pairs it judged, and how many of them say so', () => {
    const fields = (count: number, bottom: number) =>
      measureScan([
        stretch(
          0,
          twelve.slice(0, count).map((n) => [n, n + bottom]),
        ),
      ]);
    expect(fields(12, 0.5)).toEqual({ seen: 'top-field-first', confidence: 1, judged: 11, phase: null });
    expect(fields(12, 0)).toEqual({ seen: 'progressive', confidence: 1, judged: 11, phase: null });
    // Three pairs must say so.
    expect([fields(4, 0.5).seen, fields(3, 0.5).seen]).toEqual(['top-field-first', 'still']);
  });

  it('is what most pairs say, with what is left as doubt', () => {
    const both = measureScan([
      stretch(
        0,
        twelve.map((n) => [n, n + 0.5]),
      ),
      stretch(
        100,
        twelve.slice(0, 5).map((n) => [n, n]),
      ),
    ]);
    expect(both).toEqual({ seen: 'top-field-first', confidence: 11 / 15, judged: 15, phase: null });
  });

  it('of 2:3 pulldown says which field comes first, and is sure of a whole pattern', () => {
    const swapped = pulled(0).map(([top, bottom]): [number, number] => [bottom, top]);
    expect(measureScan([stretch(0, pulled(0))])).toEqual({
      seen: 'pulldown',
      // Four of eleven pairs repeat a field, where two of five do all along.
      confidence: 4 / 11 / 0.4,
      judged: 11,
      phase: 0,
      topFieldFirst: true,
    });
    expect(measureScan([stretch(0, swapped)])).toMatchObject({ seen: 'pulldown', phase: 0, topFieldFirst: false });
    // Seven pairs are too few to tell a pattern of five by.
    expect(measureScan([stretch(0, pulled(0).slice(0, 8))]).seen).not.toBe('pulldown');
    expect(measureScan([stretch(0, pulled(0).slice(0, 9))]).seen).toBe('pulldown');
  });

  it('is nothing where a clip holds nothing but grain, or less than two pictures', () => {
    let state = 5;
    const grain = (): Uint16Array =>
      Uint16Array.from({ length: width * height }, () => {
        state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
        return 30_000 + (state >>> 18);
      });
    expect(measureScan([{ first: 0, width, height, pictures: twelve.map(grain) }]).seen).toBe('still');
    expect(measureScan([stretch(0, [[0, 0]])])).toEqual({ seen: 'still', confidence: 0, judged: 0, phase: null });
    expect(measureScan([])).toEqual({ seen: 'still', confidence: 0, judged: 0, phase: null });
  });
});
