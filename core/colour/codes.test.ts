import { describe, expect, it } from 'vitest';
import { deltaEItp, deltaHItp, fromIctcp, toIctcp } from './ictcp.ts';
import { compile } from './ops/compile.ts';
import { forFloatLutFilter, forLutFilter, fromCodes, toHeldCodes } from './ycbcr.ts';
import { stateOfTags, tagsOf } from './tags.ts';
import { colourState } from './states.ts';
import { unwrap } from '../result.ts';

const through = (ops: Parameters<typeof compile>[0], values: readonly number[]): number[] => {
  const work = Float64Array.from(values);
  compile(ops)(work);
  return [...work];
};
/** Legal codes of 10 bits as shares of all 16. */
const shares = (codes: readonly number[]): number[] => codes.map((code) => (code * 64) / 65_535);

describe("Y'CbCr codes", () => {
  /** Published for 75 % bars: BT.709 (SMPTE RP 219), and BT.601's of 8 bits times four (SMPTE EG 1); from memory. */
  it.each([
    ['bt709', [674, 176, 543], [0.75, 0.75, 0]],
    ['bt709', [204, 435, 848], [0.75, 0, 0]],
    ['bt709', [111, 848, 481], [0, 0, 0.75]],
    ['smpte170m', [448, 288, 232], [0, 0.75, 0]],
    ['bt470bg', [260, 400, 848], [0.75, 0, 0]],
    ['bt2020nc', [294, 387, 960], [1, 0, 0]],
    ['bt2020c', [116, 960, 476], [0, 0, 1]],
    ['unheard of', [204, 435, 848], [0.75, 0, 0]],
  ] as const)('%s: %o are %o', (matrix, codes, rgb) => {
    through([fromCodes(matrix)], shares(codes)).forEach((value, c) =>
      expect(Math.abs(value - (rgb[c] as number))).toBeLessThan(0.006),
    );
  });

  it('white is 940, black 64, whatever the matrix (BT.709-6, item 3.6; SMPTE 240M and FCC by H.273, table 4)', () => {
    for (const matrix of ['bt709', 'smpte170m', 'fcc', 'smpte240m', 'bt2020nc'])
      for (const [code, level] of [
        [940, 1],
        [64, 0],
      ] as const)
        through([fromCodes(matrix)], shares([code, 512, 512])).forEach((value) => expect(value).toBeCloseTo(level, 9));
    // Luma of pure red and blue alone are the weights.
    const luma = (matrix: string, rgb: number[]): number =>
      (((through(toHeldCodes(matrix), rgb)[0] as number) * 65_535) / 64 - 64) / 876;
    expect(luma('fcc', [1, 0, 0])).toBeCloseTo(0.3, 6);
    expect(luma('fcc', [0, 0, 1])).toBeCloseTo(0.11, 6);
    expect(luma('smpte240m', [1, 0, 0])).toBeCloseTo(0.212, 6);
    expect(luma('smpte240m', [0, 0, 1])).toBeCloseTo(0.087, 6);
  });

  it('hold beyond black and white as much as their samples have room for', () => {
    const codes = (rgb: number[], room?: 'legal' | 'full' | 'rgb'): number[] =>
      through(toHeldCodes('bt709', room), rgb).map((value) => Math.round((value * 65_535) / 64));
    expect(codes([1.05, 1.05, 1.05])).toEqual([984, 512, 512]);
    expect(codes([-0.05, -0.05, -0.05])).toEqual([20, 512, 512]);
    expect(codes([1.05, 1.05, 1.05], 'full')).toEqual([940, 512, 512]);
    expect(codes([-0.05, -0.05, -0.05], 'full')).toEqual([64, 512, 512]);
    expect(codes([1.05, 1.05, 1.05], 'rgb')).toEqual([940, 512, 512]);
    // A colour within luma's range, but with a channel below black, is another in R'G'B'.
    expect(codes([0.5, -0.05, 0.5], 'rgb')).toEqual(codes([0.5, 0, 0.5]));
    expect(codes([0.5, -0.05, 0.5], 'full')).toEqual(codes([0.5, -0.05, 0.5]));
  });

  it('what a LUT filter sees is undone before the chain and after it', () => {
    const gain = { op: 'range', scale: 0.5, offset: 0.1, min: null, max: null } as unknown as Parameters<
      typeof compile
    >[0][number];
    const seen = through(forLutFilter([], 'bt709', 'bt2020nc'), [0.2, 0.5, 0.8]);
    // The filter's numbers are another matrix's for the same codes: signals are told from them, and back.
    const signals = through(forFloatLutFilter([], 'bt709'), [0.2, 0.5, 0.8]);
    expect(through(forFloatLutFilter([], 'bt2020nc'), seen)).toEqual(
      signals.map((value) => expect.closeTo(value, 9) as number),
    );
    expect(through(forFloatLutFilter([gain], 'bt709'), [0.2, 0.5, 0.8])).toEqual(
      signals.map((value) => expect.closeTo(0.5 * value + 0.1, 9) as number),
    );
  });
});

describe('ICtCp (BT.2100-2, table 7) and ΔE ITP (BT.2124)', () => {
  /** The PQ curve as BT.2100-2, table 4, prints it, written here once more. */
  const pq = (nits: number): number => {
    const [m1, m2, c1, c2, c3] = [
      2610 / 16_384,
      (2523 / 4096) * 128,
      3424 / 4096,
      (2413 / 4096) * 32,
      (2392 / 4096) * 32,
    ];
    const y = (nits / 10_000) ** m1;
    return ((c1 + c2 * y) / (1 + c3 * y)) ** m2;
  };
  const ictcp = (rgb: readonly number[]): number[] => {
    const work = Float64Array.from(rgb);
    toIctcp(work);
    return [...work];
  };

  it('greys have no colour, and an intensity that is PQ of their light', () => {
    for (const nits of [0, 0.1, 1, 100, 1000, 10_000]) {
      const [i, t, p] = ictcp([nits, nits, nits]) as [number, number, number];
      expect(i).toBeCloseTo(pq(nits), 9);
      expect(Math.abs(t) + Math.abs(p)).toBeLessThan(1e-9);
    }
  });

  it.each([
    [1000, 0, 0],
    [0, 1000, 0],
    [0, 0, 1000],
    [203, 50, 4],
  ])('of %f, %f, %f cd/m² are as the table says, and lead back', (r, g, b) => {
    const l = pq((1688 * r + 2146 * g + 262 * b) / 4096);
    const m = pq((683 * r + 2951 * g + 462 * b) / 4096);
    const s = pq((99 * r + 309 * g + 3688 * b) / 4096);
    const found = ictcp([r, g, b]);
    expect(found[0]).toBeCloseTo((l + m) / 2, 9);
    expect(found[1]).toBeCloseTo((6610 * l - 13_613 * m + 7003 * s) / 4096, 9);
    expect(found[2]).toBeCloseTo((17_933 * l - 17_390 * m - 543 * s) / 4096, 9);
    const back = Float64Array.from(found);
    fromIctcp(back);
    [r, g, b].forEach((value, c) => expect(Math.abs((back[c] as number) - value)).toBeLessThan(1e-6));
  });

  it('light below nothing is coded as a mirror image, and leads back', () => {
    const back = Float64Array.from(ictcp([-20, 300, -5]));
    fromIctcp(back);
    [-20, 300, -5].forEach((value, c) => expect(back[c]).toBeCloseTo(value, 6));
  });

  it('differences are 720 times the way, CT at half; hue is what turns', () => {
    expect(deltaEItp([0.5, 0.1, 0.2], [0.5, 0.1, 0.2])).toBe(0);
    expect(deltaEItp([0.51, 0, 0], [0.5, 0, 0])).toBeCloseTo(7.2, 9);
    expect(deltaEItp([0, 0.02, 0], [0, 0, 0])).toBeCloseTo(7.2, 9);
    expect(deltaEItp([0, 0, 0.01], [0, 0, 0])).toBeCloseTo(7.2, 9);
    expect(deltaEItp([0.503, 0.008, 0], [0.5, 0, 0])).toBeCloseTo(720 * 0.005, 9);
    // A quarter turn at a chroma of 0.1: the chord, √2 of it. Chroma alone is no hue.
    expect(deltaHItp([0.5, 0.2, 0], [0.5, 0, 0.1])).toBeCloseTo(720 * 0.1 * Math.SQRT2, 9);
    expect(deltaHItp([0.5, 0.2, 0.1], [0.9, 0.4, 0.2])).toBeCloseTo(0, 9);
  });
});

describe('tags of H.273', () => {
  it('say what a state is, and are silent where it has no name there', () => {
    const tags = (id: string): (string | null)[] => {
      const { primaries, transfer, matrix, range } = tagsOf(unwrap(colourState(id)));
      return [primaries, transfer, matrix, range];
    };
    expect(tags('bt709')).toEqual(['bt709', 'bt709', 'bt709', 'legal']);
    expect(tags('hlg')).toEqual(['bt2020', 'arib-std-b67', 'bt2020nc', 'legal']);
    expect(tags('pq')).toEqual(['bt2020', 'smpte2084', 'bt2020nc', 'legal']);
    expect(tags('slog3-sgamut3cine')).toEqual([null, null, 'bt709', 'legal']);
  });

  it('speak of a state where curve and gamut do together', () => {
    const state = (transfer: string | null, primaries: string | null): string | null =>
      stateOfTags({ transfer, primaries, matrix: null, range: null });
    expect([
      state('bt709', 'bt709'),
      state('bt2020-10', 'bt2020'),
      state('bt2020-12', 'bt2020'),
      state('arib-std-b67', 'bt2020'),
      state('smpte2084', 'bt2020'),
    ]).toEqual(['bt709', 'bt2020', 'bt2020', 'hlg', 'pq']);
    for (const [transfer, primaries] of [
      ['bt709', 'bt2020'],
      ['bt709', null],
      ['bt2020-10', 'bt709'],
      ['arib-std-b67', 'bt709'],
      ['smpte2084', 'smpte432'],
      [null, 'bt709'],
    ] as const)
      expect([transfer, primaries, state(transfer, primaries)]).toEqual([transfer, primaries, null]);
  });
});
