import { describe, expect, it } from 'vitest';
import { unwrap } from '../../result.ts';
import { conversion } from '../convert.ts';
import { readLutFile } from '../lut/file.ts';
import { compile, evaluate } from '../ops/compile.ts';
import { colourState } from '../states.ts';
import { bake, proposeSize } from './bake.ts';
import { measure, pictureColours, type BakeError } from './error.ts';
import { bakedText } from './text.ts';

const way = (from: string, to: string, rendering: 'estuary' | null = null) => {
  const [input, output] = [unwrap(colourState(from)), unwrap(colourState(to))];
  return { input, output, ops: unwrap(conversion(input, output, rendering)) };
};

type Way = ReturnType<typeof way>;
const errorOf = ({ input, output, ops }: Way, size: number, samples = 4000, seed = 1): BakeError =>
  measure(
    compile(ops),
    compile(bake(ops, size, input, output).ops),
    pictureColours(input, output, samples, seed),
    output,
  );

describe('a bake', () => {
  it('of nothing is exact, and proposes the smallest size', () => {
    const { input, output, ops } = way('bt709', 'bt709');
    expect(errorOf({ input, output, ops }, 17).codes.worst).toBeLessThan(1e-3);
    expect(proposeSize(ops, input, output, 4000)).toMatchObject({ size: 17, enough: true });
  });

  it('is exact at its own points, and closer the more it has', () => {
    const { input, output, ops } = way('slog3-sgamut3cine', 'logc3-awg3');
    const baked = bake(ops, 17, input, output);
    expect(baked.shaper.kind).toBe('none');
    for (const at of [
      [0, 0, 0],
      [0.5, 0.25, 0.75],
      [1, 0.0625, 0.4375],
    ] as [number, number, number][]) {
      evaluate(compile(baked.ops), at).forEach((value, c) =>
        expect(value).toBeCloseTo(evaluate(compile(ops), at)[c] as number, 5),
      );
    }
    const errorAt = (size: number): number => errorOf({ input, output, ops }, size).codes.mean;
    expect(errorAt(33)).toBeLessThan(errorAt(17) / 2);
    expect(errorAt(65)).toBeLessThan(errorAt(33) / 2);
  });

  it('of linear light puts a table before the cube, so that greys hold', () => {
    const { input, output, ops } = way('acescg', 'bt709', 'estuary');
    const baked = bake(ops, 33, input, output);
    expect(baked.shaper.kind).toBe('log');
    for (const light of [0.002, 0.02, 0.18, 0.9, 4])
      expect(
        Math.abs(
          evaluate(compile(baked.ops), [light, light, light])[1] - evaluate(compile(ops), [light, light, light])[1],
        ) * 1023,
      ).toBeLessThan(2);
  });

  it('proposes a size whose error is as it says, measured again with other samples', () => {
    const { input, output, ops } = way('slog3-sgamut3cine', 'logc3-awg3');
    const { size, enough, tried } = proposeSize(ops, input, output, 8000);
    expect(enough).toBe(true);
    expect(tried.slice(0, -1).every((one) => one.error.codes.p999 >= 1)).toBe(true);
    const again = errorOf({ input, output, ops }, size, 20_000, 99);
    expect(again.codes.p999).toBeLessThan(1.1);
  });

  it.each(['cube', 'clf'] as const)('written as .%s and read again it is the same', (format) => {
    for (const from of ['slog3-sgamut3cine', 'acescg']) {
      const { input, output, ops } = way(from, 'bt709', 'estuary');
      const baked = bake(ops, 17, input, output);
      const read = unwrap(readLutFile(bakedText(baked, format, 'made up', ['a note']), `a.${format}`));
      for (const value of [
        [0.1, 0.4, 0.7],
        [0.9, 0.2, 0.3],
      ] as [number, number, number][]) {
        evaluate(compile(read.ops), value).forEach((one, c) =>
          expect(one).toBeCloseTo(evaluate(compile(baked.ops), value)[c] as number, 5),
        );
      }
    }
  });
});
