import { emptyChain, type Chain } from '@relay/core/colour/chain/chain';
import { identity3d } from '@relay/core/colour/lut/lut';
import { compile3d } from '@relay/core/colour/lut/eval3d';
import { applyCube, signalsOf } from '@relay/core/colour/lut/image';
import { writeCube } from '@relay/core/colour/lut/cubeWrite';
import type { LutLine } from '@relay/contract/colour';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changed, moved, withCdl, withLut, without } from './draft.ts';
import type { BakedAnswer, MeasuredAnswer, PictureAnswer } from './messages.ts';
import { answer } from './work.ts';

const lut = {
  hash: 'a'.repeat(64),
  name: 'Quay',
  takes: 'bt709',
  gives: 'bt709',
  rangeIn: 'full',
  rangeOut: 'full',
} as LutLine;
const names = (chain: Chain): string[] => chain.steps.map((step) => step.name);

describe('a chain on the bench', () => {
  it('takes steps in, grades before LUTs, each with an id of its own', () => {
    const chain = withCdl(withLut(withLut(emptyChain, lut), lut), 'Balance');
    expect(names(chain)).toEqual(['Balance', 'Quay', 'Quay']);
    expect(new Set(chain.steps.map((step) => step.id)).size).toBe(3);
    expect(new Set(withLut(without(chain, chain.steps[1]?.id ?? ''), lut).steps.map((step) => step.id)).size).toBe(3);
  });

  it('moves, changes and loses steps, and nothing else', () => {
    const chain = withCdl(withLut(emptyChain, lut), 'Balance');
    const id = chain.steps[0]?.id ?? '';
    expect(names(moved(chain, id, 1))).toEqual(['Quay', 'Balance']);
    expect(moved(chain, id, -1)).toBe(chain);
    expect(names(moved(chain, id, 9))).toEqual(['Quay', 'Balance']);
    expect(changed(chain, id, { muted: true }).steps.map((step) => step.muted)).toEqual([true, false]);
    expect(names(without(chain, id))).toEqual(['Quay']);
  });
});

describe("the worker's answers", () => {
  const camera: Chain = { ...emptyChain, input: 'slog3-sgamut3cine', output: 'bt709', rendering: 'estuary' };
  const frame = { width: 4, height: 2, matrix: 'bt709', planes: new Uint16Array(24).fill(4096, 0, 8).fill(32_768, 8) };
  frame.planes[7] = 235 * 256;

  it('a bake covers all codes of a file and says what the chain does', () => {
    const baked = answer({ kind: 'bake', chain: camera, luts: {}, points: 17 }) as BakedAnswer;
    expect(baked).toMatchObject({ problem: null, output: 'BT.709', steps: [{ kind: 'conversion' }] });
    expect(baked.cube?.domainMin[0]).toBeCloseTo(-64 / 876, 9);
    expect(baked.error?.codes.mean).toBeGreaterThan(0);
    expect(baked.neutral[0]).toBe(0);
    expect(answer({ kind: 'bake', chain: emptyChain, luts: {}, points: 17 })).toMatchObject({
      cube: null,
      problem: null,
    });
  });

  it('a LUT that is broken or missing is a problem in words', () => {
    const chain = withLut(camera, lut);
    expect(answer({ kind: 'bake', chain, luts: {}, points: 5 })).toMatchObject({
      cube: null,
      problem: { what: 'The LUT Quay is not in the cabinet' },
    });
    expect(
      answer({
        kind: 'bake',
        chain,
        luts: { [lut.hash]: { text: 'LUT_3D_SIZE x', fileName: 'quay.cube' } },
        points: 5,
      }),
    ).toMatchObject({ problem: { what: 'quay.cube: line 1: "x" is no number' } });
    expect(
      answer({
        kind: 'bake',
        chain,
        luts: { [lut.hash]: { text: writeCube({ cube: identity3d(2) }), fileName: 'quay.cube' } },
        points: 5,
      }),
    ).toMatchObject({ problem: null, steps: [{ kind: 'conversion' }, { kind: 'lut' }] });
  });

  it('measures and draws legal codes: 16 · 256 is black, 235 · 256 white', () => {
    const { before, after } = answer({ kind: 'measure', frame, cube: null }) as MeasuredAnswer;
    expect(before.lumaCodes).toEqual([64, 940]);
    expect(after.lumaCodes).toEqual(before.lumaCodes);
    const drawn = answer({ kind: 'picture', frame, cube: null }) as PictureAnswer;
    expect([...drawn.before.slice(0, 4), ...drawn.before.slice(28)]).toEqual([0, 0, 0, 255, 255, 255, 255, 255]);
  });
});

it('a whole picture through a cube is what one triplet after the other is', () => {
  const cube = identity3d(5);
  for (let i = 0; i < cube.values.length; i += 1) cube.values[i] = Math.sin(i * 7.3) * 0.4 + (cube.values[i] as number);
  const lut3d = { ...cube, domainMin: [-0.1, 0, 0] as const, domainMax: [1.1, 1, 2] as const };
  const one = compile3d(lut3d, 'tetrahedral');
  fc.assert(
    fc.property(fc.array(fc.double({ min: -1, max: 3 }), { minLength: 3, maxLength: 3 }), (rgb) => {
      const alone = Float64Array.from(Float32Array.from(rgb));
      one(alone);
      const together = applyCube(lut3d, Float32Array.from(rgb));
      alone.forEach((value, c) => expect(together[c]).toBeCloseTo(value, 5));
    }),
    { numRuns: 500 },
  );
});

// Full colour bars in 8-bit codes (ITU-R BT.471 in BT.709's and BT.601's coding; from memory, and they follow from the
// luma equations).
it.each([
  ['bt709', [32, 240, 118], [0, 0, 1]],
  ['bt709', [63, 102, 240], [1, 0, 0]],
  ['bt709', [173, 42, 26], [0, 1, 0]],
  ['bt709', [219, 16, 138], [1, 1, 0]],
  ['smpte170m', [41, 240, 110], [0, 0, 1]],
  ['smpte170m', [81, 90, 240], [1, 0, 0]],
  ['smpte170m', [145, 54, 34], [0, 1, 0]],
] as const)('%s codes %j are the bar %j', (matrix, codes, bar) => {
  const signals = signalsOf(
    Uint16Array.from(codes, (code) => code * 256),
    1,
    1,
    matrix,
  );
  bar.forEach((wanted, c) => expect(Math.abs((signals[c] as number) - wanted)).toBeLessThan(0.01));
});
