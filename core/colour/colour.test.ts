import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { farthest, ocio, type OcioStep } from '../../testing/ocio.ts';
import { unwrap } from '../result.ts';
import { conversion, type Rendering } from './convert.ts';
import { curves } from './curves.ts';
import { logc3Parameters } from './curves/logc3.ts';
import { between, toXyz } from './gamut.ts';
import { gamuts } from './gamuts.ts';
import { bt709 } from './gamuts/bt709.ts';
import { apply } from './matrix.ts';
import { compile, evaluate } from './ops/compile.ts';
import { colourState, usualStates } from './states.ts';

type Triplet = [number, number, number];
const state = (name: string) => unwrap(colourState(name));
const convert = (
  from: string,
  to: string,
  values: readonly Triplet[],
  rendering: Rendering | null = null,
): Triplet[] => {
  const transform = compile(unwrap(conversion(state(from), state(to), rendering)));
  return values.map((value) => evaluate(transform, value));
};
/** The same triplets on every run. */
const triplets = (count: number, min: number, max: number): Triplet[] =>
  fc.sample(
    fc.tuple(
      ...([0, 1, 2].map(() => fc.double({ min, max, noNaN: true })) as [
        fc.Arbitrary<number>,
        fc.Arbitrary<number>,
        fc.Arbitrary<number>,
      ]),
    ),
    { numRuns: count, seed: 4 },
  );

describe('curves', () => {
  // Published codes of 18 % grey and of black, of 1023. (m): from memory, and without another source here.
  const published = [
    ['slog3', 420, 95],
    ['slog2', 347, 90],
    ['logc3', 400, 95],
    ['logc3ei160', 400, null],
    ['logc3ei1600', 400, null],
    ['vlog', 433, 128],
    ['log3g10', 341, null],
    ['acescct', 423, 75],
    ['logc4', 285, 95],
    ['nlog', 372, 127],
    ['flog', 470, 95],
    ['flog2', 400, 95],
    ['dlog', 408, 95],
    ['clog2', 407, 95],
    ['clog3', 351, 128],
    ['cineon', null, 95],
  ] as const;

  it.each(published)('%s puts mid grey and black on their published codes', (id, grey, black) => {
    const curve = curves.find((one) => one.id === id);
    if (grey !== null) expect(Math.abs((curve?.fromLinear(0.18) ?? 0) * 1023 - grey)).toBeLessThan(0.6);
    if (black !== null) expect(Math.abs((curve?.fromLinear(0) ?? 0) * 1023 - black)).toBeLessThan(0.6);
  });

  it('are held against published codes, every one of a camera or a film', () => {
    // Others are formulas of standards, or scaled from one that is held.
    const byFormula = ['linear', 'bt709', 'bt2020', 'hlg', 'acescc'];
    const held = (id: string): boolean =>
      published.some(([one]) => one === id) || byFormula.includes(id) || id.startsWith('logc3ei');
    expect(curves.filter(({ id, light }) => light === 'scene' && !held(id)).map(({ id }) => id)).toEqual([]);
  });

  it('have LogC4 below black as it is specified: the slope s from the light t on', () => {
    // ARRI, LogC4 specification 2022: s and t in figures, from memory.
    const [s, t] = [0.113597208610589, -0.0180569961199113];
    const logc4 = curves.find((one) => one.id === 'logc4');
    expect(logc4?.toLinear(0)).toBeCloseTo(t, 12);
    expect(logc4?.toLinear(-1)).toBeCloseTo(t - s, 12);
    expect(logc4?.fromLinear(t - s / 2)).toBeCloseTo(-0.5, 12);
  });

  it('have S-Log3 and S-Log2 at 598 and 582 for 90 % (published tables)', () => {
    expect(Math.round((curves.find((one) => one.id === 'slog3')?.fromLinear(0.9) ?? 0) * 1023)).toBe(598);
    expect(Math.round((curves.find((one) => one.id === 'slog2')?.fromLinear(0.9) ?? 0) * 1023)).toBe(582);
  });

  it.each(curves.map((curve) => [curve.id, curve] as const))('%s is its own inverse, and rises', (id, curve) => {
    // ACEScc has no signal for light below nothing.
    const lowest = id === 'acescc' ? 1e-6 : -0.004;
    fc.assert(
      fc.property(fc.double({ min: lowest, max: curve.light === 'display' ? 1 : 8, noNaN: true }), (light) => {
        const back = curve.toLinear(curve.fromLinear(light));
        // Where constants are printed with three to six digits the two pieces of a curve meet only that closely.
        expect(Math.abs(back - light)).toBeLessThan(2e-4 * Math.max(1, light));
        expect(curve.fromLinear(light + 2e-3)).toBeGreaterThan(curve.fromLinear(light));
      }),
    );
  });

  it("LogC3's parameters are the printed table at every index (ALEXA Log C Curve, 2017; m)", () => {
    const printed: Record<number, number[]> = {
      160: [0.005561, 5.555556, 0.080216, 0.269036, 0.381991, 5.842037, 0.092778],
      400: [0.008318, 5.555556, 0.064901, 0.256598, 0.383999, 5.57196, 0.092795],
      800: [0.010591, 5.555556, 0.052272, 0.24719, 0.385537, 5.367655, 0.092809],
      1600: [0.013047, 5.555556, 0.038625, 0.237781, 0.387093, 5.16335, 0.092824],
    };
    for (const [index, row] of Object.entries(printed)) {
      const { cut, a, b, c, d, e, f } = logc3Parameters(Number(index));
      [cut, a, b, c, d, e, f].forEach((value, i) => expect(Math.abs(value - (row[i] as number))).toBeLessThan(1.5e-6));
    }
  });
});

describe('gamuts', () => {
  it('give BT.709 the luminance weights of its own luma equation (BT.709-6, item 3.2), BT.2020 of its (BT.2020-2, table 4)', () => {
    const luminance = (id: string): number[] =>
      toXyz(gamuts.find((gamut) => gamut.id === id) ?? bt709)
        .slice(3, 6)
        .map((value) => Number(value.toFixed(4)));
    expect(luminance('bt709')).toEqual([0.2126, 0.7152, 0.0722]);
    expect(luminance('bt2020')).toEqual([0.2627, 0.678, 0.0593]);
  });

  it('keep white white, whatever the whites are', () => {
    for (const from of gamuts)
      for (const to of gamuts) for (const value of apply(between(from, to), [1, 1, 1])) expect(value).toBeCloseTo(1, 9);
  });
});

describe('conversion', () => {
  // OpenColorIO 2.1.2's built-in transforms. C-Log is a table there, which holds back what lies outside 0–1.
  const cameras: [string, string][] = [
    ['slog3-sgamut3cine', 'SONY_SLOG3-SGAMUT3.CINE_to_ACES2065-1'],
    ['slog3-sgamut3', 'SONY_SLOG3-SGAMUT3_to_ACES2065-1'],
    ['logc3-awg3', 'ARRI_ALEXA-LOGC-EI800-AWG_to_ACES2065-1'],
    ['clog2-cgamut', 'CANON_CLOG2-CGAMUT_to_ACES2065-1'],
    ['clog3-cgamut', 'CANON_CLOG3-CGAMUT_to_ACES2065-1'],
    ['vlog-vgamut', 'PANASONIC_VLOG-VGAMUT_to_ACES2065-1'],
    ['log3g10-rwg', 'RED_LOG3G10-RWG_to_ACES2065-1'],
    ['acescct-ap1', 'ACEScct_to_ACES2065-1'],
    ['acescg', 'ACEScg_to_ACES2065-1'],
  ];
  it.each(cameras)('%s to ACES is what OpenColorIO makes of it', async (name, builtin) => {
    const values = triplets(200, 0, 1);
    expect(
      farthest(convert(name, 'aces2065-1', values), await ocio([{ kind: 'builtin', name: builtin }], values)),
    ).toBeLessThan(1e-5);
  });
  it.each(cameras.filter(([name]) => !name.startsWith('clog')))('and from ACES to %s', async (name, builtin) => {
    const values = triplets(200, 0, 1).map((value) => value.map((x) => x * x * 12) as Triplet);
    expect(
      farthest(
        convert('aces2065-1', name, values),
        await ocio([{ kind: 'builtin', name: builtin, inverse: true }], values),
      ),
    ).toBeLessThan(1e-5);
  });
  it.each([
    ['bt1886-bt709', 'DISPLAY - CIE-XYZ-D65_to_REC.1886-REC.709'],
    ['bt1886-bt2020', 'DISPLAY - CIE-XYZ-D65_to_REC.1886-REC.2020'],
    ['gamma22-bt709', 'DISPLAY - CIE-XYZ-D65_to_G2.2-REC.709'],
    ['srgb', 'DISPLAY - CIE-XYZ-D65_to_sRGB'],
    ['gamma26-p3d65', 'DISPLAY - CIE-XYZ-D65_to_G2.6-P3-D65'],
    ['gamma26-p3dci', 'DISPLAY - CIE-XYZ-D65_to_G2.6-P3-DCI-BFD'],
    ['pq', 'DISPLAY - CIE-XYZ-D65_to_REC.2100-PQ'],
  ])('and for the display %s', async (name, builtin) => {
    // Colours that every display holds: what lies outside is cut off there, and is mirrored here.
    const values = convert('linear-bt709', 'aces2065-1', triplets(200, 0.001, 1));
    const chain: OcioStep[] = [
      { kind: 'builtin', name: 'UTILITY - ACES-AP0_to_CIE-XYZ-D65_BFD' },
      { kind: 'builtin', name: builtin },
    ];
    expect(farthest(convert('aces2065-1', name, values), await ocio(chain, values))).toBeLessThan(1e-5);
  });

  it('comes back to where it was, between any two states', () => {
    const values = triplets(20, 0.12, 0.6);
    for (const to of usualStates) {
      // Two that have no signal for light far below nothing, which saturated colours have in a smaller gamut.
      if (to.id === 'acescc' || to.curve.id === 'cineon') continue;
      expect([
        to.id,
        farthest(convert(to.id, 'slog3-sgamut3cine', convert('slog3-sgamut3cine', to.id, values)), values) < 1e-3,
      ]).toEqual([to.id, true]);
    }
  });

  it('names what is no state, and what may be named', () => {
    for (const name of ['', 'slog9-sgamut3', 'slog3-nowhere', 'slog3', 'slog3-bt709-bt709', '__proto__-bt709']) {
      const answer = colourState(name);
      expect(answer.ok).toBe(false);
      if (!answer.ok) expect(answer.problem.remedy).toContain('slog3-sgamut3cine');
    }
    expect(conversion(state('slog3-sgamut3cine'), state('acescct'), 'estuary').ok).toBe(false);
    expect(conversion(state('srgb'), state('bt709'), 'estuary').ok).toBe(false);
  });
});
