import { describe, expect, it } from 'vitest';
import { conversion } from '../colour/convert.ts';
import { compile } from '../colour/ops/compile.ts';
import type { ColourOp } from '../colour/ops/op.ts';
import { colourState } from '../colour/states.ts';
import { forLutFilter, fromCodes, toHeldCodes } from '../colour/ycbcr.ts';
import { seeded } from '../colour/bake/seeded.ts';
import { unwrap } from '../result.ts';
import { colourComparison, colourDifference, type ColourSample } from './colour.ts';

const ops = unwrap(conversion(unwrap(colourState('slog3-sgamut3cine')), unwrap(colourState('bt709')), 'estuary'));
const [width, height] = [64, 32];

/** A made-up frame in slopes, and the same frame through steps, as a perfect encoder would keep it. */
function sampleThrough(
  steps: readonly ColourOp[],
  change: (code: number, plane: number) => number = (code) => code,
): ColourSample {
  const size = width * height;
  const before = new Uint16Array(size * 3);
  const after = new Uint16Array(size * 3);
  const transform = compile([fromCodes('bt709'), ...steps, ...toHeldCodes('bt709')]);
  const work = new Float64Array(3);
  for (let i = 0; i < size; i += 1) {
    const codes = [12_000 + (i % width) * 500, 32_768 + ((i >> 6) - 16) * 150, 32_768 - ((i % width) - 32) * 60];
    codes.forEach((code, p) => (before[p * size + i] = code));
    codes.forEach((code, p) => (work[p] = code / 65_535));
    transform(work);
    for (let p = 0; p < 3; p += 1) after[p * size + i] = Math.round(change((work[p] as number) * 65_535, p));
  }
  return { width, height, frame: 24, before, after };
}

describe('the colour of an output, held against the chain', () => {
  const differs = (sample: ColourSample): readonly [number, number, number] =>
    colourDifference(sample, ops, ['bt709', 'bt709'], 10).means;
  const held = (sample: ColourSample): boolean =>
    colourComparison(colourDifference(sample, ops, ['bt709', 'bt709'], 10), 10, 24).holds;

  it('is none where the output is what the chain makes', () => {
    expect(Math.max(...differs(sampleThrough(ops)))).toBeLessThan(0.02);
    expect(colourComparison(colourDifference(sampleThrough(ops), ops, ['bt709', 'bt709'], 10), 10, 24)).toMatchObject({
      holds: true,
      planned: 'mean error under 1 of 1023',
    });
  });

  it('is seen where black sits two codes high, a channel is tinted, or the rendering was left out', () => {
    expect(differs(sampleThrough(ops, (code, p) => code + (p === 0 ? 128 : 0)))[0]).toBeCloseTo(2, 1);
    expect(differs(sampleThrough(ops, (code, p) => code + (p === 2 ? 96 : 0)))[2]).toBeCloseTo(1.5, 1);
    const plain = unwrap(conversion(unwrap(colourState('slog3-sgamut3cine')), unwrap(colourState('bt709'))));
    expect(held(sampleThrough(plain))).toBe(false);
    expect(held(sampleThrough([]))).toBe(false);
  });

  it('leaves noise aside, which encoders thin out', () => {
    const random = seeded(5);
    expect(Math.max(...differs(sampleThrough(ops, (code) => code + (random() - 0.5) * 64 * 8)))).toBeLessThan(0.5);
  });
});

describe('strong grain that an encoder left other than it was', () => {
  const across = 256;
  /**
   * Four flat fields with grain of ±60 codes of 1023, thinned out in the output; `tint` is what the chain's colours are
   * off by.
   */
  function grainy(tint: number): ColourSample {
    const random = seeded(11);
    const size = across * across;
    const [before, after] = [new Uint16Array(size * 3), new Uint16Array(size * 3)];
    for (let i = 0; i < size; i += 1) {
      const field = (i % across < 128 ? 0 : 1) + (i < size / 2 ? 0 : 2);
      [20_000 + field * 6_000, 30_000 + field * 1_500, 36_000 - field * 1_000].forEach((code, p) => {
        const grain = (): number => (random() - 0.5) * 120 * 64;
        before[p * size + i] = code + grain();
        after[p * size + i] = code + grain() + (p === 1 ? tint * 64 : 0);
      });
    }
    return { width: across, height: across, frame: 0, before, after };
  }

  it('is no colour, and hides none', () => {
    expect(Math.max(...colourDifference(grainy(0), [], ['bt709', 'bt709'], 10).means)).toBeLessThan(1);
    expect(colourDifference(grainy(1.5), [], ['bt709', 'bt709'], 10).means[1]).toBeGreaterThan(1);
  });
});

it("what FFmpeg's LUT filter is handed comes back as it was through an identity, room above white and below black included", () => {
  for (const matrix of ['bt709', 'bt2020nc', 'smpte170m']) {
    const through = compile(forLutFilter([], matrix, matrix));
    for (const rgb of [
      [0, 0, 0],
      [0.3, 0.6, 0.9],
      [1, 1, 1],
    ]) {
      const work = Float64Array.from(rgb);
      through(work);
      rgb.forEach((value, c) => expect(work[c]).toBeCloseTo(value, 9));
    }
    // Codes 20 and 1000 of 1023 are beyond black and white, and are kept.
    const held = compile([fromCodes(matrix), ...toHeldCodes(matrix)]);
    for (const code of [20, 1000]) {
      const work = Float64Array.of(code / 1023, 32_768 / 65_535, 32_768 / 65_535);
      held(work);
      expect((work[0] as number) * 1023).toBeCloseTo(code, 6);
    }
  }
});
