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
});
