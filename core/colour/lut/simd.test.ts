import { describe, expect, it } from 'vitest';
import { seeded } from '../bake/seeded.ts';
import { applyCubePlainly } from './image.ts';
import type { Lut3d } from './lut.ts';
import { applyCubeBySimd, largestBySimd } from './simd.ts';

const random = seeded(20_261_129);

/** A cube of chance, its values about 1: neighbours have nothing to do with each other, so that every corner tells. */
function cubeOf(size: number, domain: Partial<Pick<Lut3d, 'domainMin' | 'domainMax'>> = {}): Lut3d {
  return {
    size,
    values: Float32Array.from({ length: size ** 3 * 3 }, () => random() * 2 - 0.5),
    domainMin: [0, 0, 0],
    domainMax: [1, 1, 1],
    ...domain,
  };
}

function farthest(cube: Lut3d, from: Float32Array): number {
  const [plain, by] = [new Float32Array(from.length), new Float32Array(from.length)];
  applyCubePlainly(cube, from, plain);
  expect(applyCubeBySimd(cube, from, by)).toBe(true);
  return plain.reduce((most, value, i) => Math.max(most, Math.abs(value - (by[i] as number))), 0);
}

describe('a picture through a cube, by vectors', () => {
  it.each([2, 3, 17, 33, largestBySimd])('is what it is plainly, within a millionth: %i points', (size) => {
    // Beyond both ends, too.
    const picture = Float32Array.from({ length: 3 * 5_000 }, () => random() * 1.6 - 0.3);
    expect(farthest(cubeOf(size), picture)).toBeLessThan(1e-6);
    const odd = { domainMin: [-0.2, 0.1, -3], domainMax: [1.3, 0.7, 12] } as const;
    expect(farthest(cubeOf(size, odd), picture)).toBeLessThan(1e-6);
  });

  it('is so where channels are equal, on the points themselves, and for what is no number', () => {
    const cube = cubeOf(5);
    const steps = Array.from({ length: 9 }, (_, i) => i / 8);
    const all = steps.flatMap((r) => steps.flatMap((g) => steps.flatMap((b) => [r, g, b])));
    const odd = [NaN, Infinity, -Infinity, -0, 1e30, -1e30].flatMap((x) => [x, 0.5, 0.25, 0.5, x, 0.25, 0.5, 0.25, x]);
    expect(farthest(cube, Float32Array.from([...all, ...odd]))).toBeLessThan(1e-6);
  });

  it.each([1, 16_383, 16_384, 16_385, 32_768])('reaches every sample of %i, and no other', (pixels) => {
    const from = Float32Array.from({ length: pixels * 3 }, () => random());
    const room = new Float32Array(pixels * 3 + 3).fill(-7);
    const cube = cubeOf(9);
    expect(applyCubeBySimd(cube, from, room.subarray(0, pixels * 3))).toBe(true);
    expect([...room.subarray(pixels * 3)]).toEqual([-7, -7, -7]);
    const plain = applyCubePlainly(cube, from, new Float32Array(pixels * 3));
    expect(plain.findIndex((value, i) => Math.abs(value - (room[i] as number)) > 1e-6)).toBe(-1);
  });

  it('is left to others where the cube is large, and nothing is written then', () => {
    const to = new Float32Array(3).fill(-7);
    expect(applyCubeBySimd(cubeOf(largestBySimd + 1), Float32Array.of(0.1, 0.2, 0.3), to)).toBe(false);
    expect([...to]).toEqual([-7, -7, -7]);
  });
});
