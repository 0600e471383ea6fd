import { describe, expect, it } from 'vitest';
import { unwrap } from '../../result.ts';
import { bakeCube } from '../bake/bake.ts';
import { conversion } from '../convert.ts';
import { identity3d, unitMax, unitMin, type Lut1d } from '../lut/lut.ts';
import type { LutFile } from '../lut/read.ts';
import { shapersFor } from '../bake/shaper.ts';
import { compile } from '../ops/compile.ts';
import type { ColourOp, Transform } from '../ops/op.ts';
import { rangeChange } from '../range.ts';
import { colourState } from '../states.ts';
import { examine, lutRules } from './examine.ts';

const [none] = shapersFor(false);
const fileOf = (ops: ColourOp[]): LutFile => ({ format: 'cube', title: null, notes: [], warnings: [], ops });
const cubeOf = (transform: Transform, size = 33): LutFile =>
  fileOf([
    {
      op: 'lut3d',
      interpolation: 'tetrahedral',
      reverse: false,
      lut: bakeCube(transform, size, none as NonNullable<typeof none>),
    },
  ]);
const each = (f: (x: number) => number): LutFile => cubeOf((rgb) => rgb.forEach((x, c) => (rgb[c] = f(x))));
const table = (f: (x: number) => number, size = 64, change: Partial<Lut1d> = {}): LutFile =>
  fileOf([
    {
      op: 'lut1d',
      reverse: false,
      lut: {
        size,
        values: Float32Array.from({ length: size * 3 }, (_, i) => f(Math.floor(i / 3) / (size - 1))),
        domainMin: unitMin,
        domainMax: unitMax,
        halfDomain: false,
        ...change,
      },
    },
  ]);
const toDisplay = (from: string): ColourOp[] =>
  unwrap(conversion(unwrap(colourState(from)), unwrap(colourState('bt709')), 'estuary'));
const rules = (file: LutFile): string[] => examine(file).findings.map((finding) => finding.rule);
const smooth = (x: number): number => x * x * (3 - 2 * x) * 0.96 + 0.02;
/** A tone made for legal range on both sides, holding what lies outside. */
const legal = (ops: ColourOp[]): Transform =>
  compile([
    ...rangeChange('legal', 'full'),
    { op: 'range', scale: 1, offset: 0, min: 0, max: 1 },
    ...ops,
    ...rangeChange('full', 'legal'),
  ]);

describe('a LUT, examined', () => {
  const cases: [string, LutFile][] = [
    ['identity', cubeOf(() => undefined)],
    ['neutralFalls', each((x) => x + 0.12 * Math.sin(x * 12))],
    ['neutralTinted', cubeOf((rgb) => (rgb[0] = (rgb[0] as number) * 0.95))],
    ['clipsBlack', each((x) => Math.max(0.02, x - 0.15))],
    ['clipsWhite', each((x) => Math.min(0.9, x * 1.4))],
    ['breaks', table((x) => (x < 0.5 ? x * 0.8 : 0.12 + x * 0.8))],
    ['kinks', table((x) => (x < 0.4 ? x * 0.5 : 0.2 + (x - 0.4) * 1.2), 33)],
    ['folds', cubeOf((rgb) => ([rgb[0], rgb[2]] = [rgb[2] as number, rgb[0] as number]))],
    ['legalRange', cubeOf(legal(toDisplay('slog3-sgamut3cine')))],
    ['partialDomain', table(smooth, 33, { domainMin: [0.1, 0.1, 0.1], domainMax: [0.8, 0.8, 0.8] })],
    ['beyondRange', each((x) => x * 2.4 - 0.2)],
    ['madeForLog', cubeOf(compile(toDisplay('slog3-sgamut3cine')))],
  ];
  it.each(cases)('%s is found, with what shows it', (rule, file) => {
    const finding = examine(file).findings.find((one) => one.rule === rule);
    expect(finding).toBeDefined();
    expect(finding?.text.length).toBeGreaterThan(10);
    expect(finding?.picture.kind).toMatch(/neutral|channels|lattice/);
  });

  it('every rule has a case, and none of them speaks of a plain smooth tone', () => {
    expect(new Set(cases.map(([rule]) => rule)).size).toBe(lutRules.length);
    expect(rules(each(smooth)).filter((rule) => rule !== 'madeForLog')).toEqual([]);
  });

  it('says that colours fold where a matrix turns them inside out, by the sign of its determinant', () => {
    const mixed = ([a, b, c]: readonly number[][]): LutFile =>
      cubeOf((rgb) => {
        const by = (row: number[] = []): number => row.reduce((sum, one, at) => sum + one * (rgb[at] as number), 0);
        const out = [by(a), by(b), by(c)];
        out.forEach((value, at) => (rgb[at] = value));
      }, 9);
    // Determinants 0.26, 0.22 and 0.27; with two rows changed about, the same below nothing.
    const matrices = [
      [
        [0.6, 0.3, 0.1],
        [0.1, 0.7, 0.2],
        [0.2, 0.1, 0.7],
      ],
      [
        [0.7, 0.2, 0.1],
        [0.3, 0.6, 0.1],
        [0.1, 0.25, 0.65],
      ],
      [
        [0.5, 0.1, 0.4],
        [0.2, 0.7, 0.1],
        [0, 0.2, 0.8],
      ],
    ];
    for (const [a = [], b = [], c = []] of matrices) {
      expect(rules(mixed([a, b, c]))).not.toContain('folds');
      expect(rules(mixed([b, a, c]))).toContain('folds');
      expect(rules(mixed([a, c, b]))).toContain('folds');
    }
  });

  it('says that it goes beyond a file only where more is cut off than rounding', () => {
    // From 22 codes below black, and from a tenth above white; chosen.
    const beyond = [-0.03, -0.01].map((low) => rules(each((x) => low + x * (1 - low))).includes('beyondRange'));
    expect(beyond).toEqual([true, false]);
    expect([1.11, 1.09].map((high) => rules(each((x) => x * high)).includes('beyondRange'))).toEqual([true, false]);
  });

  it.each(['slog3-sgamut3cine', 'logc3-awg3', 'vlog-vgamut', 'clog2-cgamut', 'log3g10-rwg', 'acescct-ap1'])(
    'tells that one was made for %s',
    (name) => {
      const found = examine(cubeOf(compile(toDisplay(name)))).likelyLogs.map((one) => one.curve);
      // Some makers' curves are nearly the same: the right one is among the first.
      expect(found.slice(0, 3)).toContain(name.split('-')[0]);
    },
  );

  it('measures black, white and range', () => {
    const examined = examine(
      cubeOf(legal([{ op: 'exponent', style: 'basic', reverse: false, exponent: [1.3, 1.3, 1.3], offset: [0, 0, 0] }])),
    );
    expect(examined.range).toEqual({ in: 'legal', out: 'legal' });
    expect(examined.black[1] * 1023).toBeCloseTo(64, 0);
    expect(
      examine(fileOf([{ op: 'lut3d', lut: identity3d(3), interpolation: 'tetrahedral', reverse: false }])),
    ).toMatchObject({ sound: true, range: { in: 'full', out: 'full' } });
  });
});
