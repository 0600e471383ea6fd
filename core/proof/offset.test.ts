import { describe, expect, it } from 'vitest';
import { offsetOf } from './offset.ts';

const [width, height] = [120, 80];
/** A made-up picture with slopes both ways, read where it is asked for. */
const light = (x: number, y: number): number =>
  20_000 + 6_000 * Math.sin(x / 7) * Math.cos(y / 9) + 4_000 * Math.sin((x + 2 * y) / 11);
const picture = (
  dx: number,
  dy: number,
  change: (value: number, i: number) => number = (value) => value,
): Float64Array =>
  Float64Array.from({ length: width * height }, (_, i) =>
    change(light((i % width) - dx, Math.floor(i / width) - dy), i),
  );

describe('how far a picture lies off', () => {
  it.each([
    [0, 0],
    [0.1, 0],
    [0, -0.25],
    [0.5, 0.5],
    [-1, 0.3],
  ])('is found to a twentieth of a point: %f, %f', (dx, dy) => {
    const off = offsetOf(picture(0, 0), picture(dx, dy), width, height);
    expect(Math.abs((off?.dx ?? 9) - dx)).toBeLessThan(0.05);
    expect(Math.abs((off?.dy ?? 9) - dy)).toBeLessThan(0.05);
  });

  it('is found through other light, and past what is covered', () => {
    const off = offsetOf(
      picture(0, 0),
      picture(0.4, -0.2, (value, i) => (i % width < 30 ? Number.NaN : value * 0.8 + 900)),
      width,
      height,
    );
    expect([Math.abs((off?.dx ?? 9) - 0.4) < 0.05, Math.abs((off?.dy ?? 9) + 0.2) < 0.05]).toEqual([true, true]);
  });

  it('is not told where there is nothing to tell by: flat pictures, stripes, pictures of other things', () => {
    const flat = new Float64Array(width * height).fill(20_000);
    expect(offsetOf(flat, flat, width, height)).toBeNull();
    const stripes = Float64Array.from({ length: width * height }, (_, i) => 20_000 + 5_000 * Math.sin((i % width) / 3));
    expect(offsetOf(stripes, stripes, width, height)).toBeNull();
    expect(
      offsetOf(
        picture(0, 0),
        picture(0, 0, (value) => 60_000 - value),
        width,
        height,
      ),
    ).toBeNull();
  });
});
