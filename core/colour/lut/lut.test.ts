import fc from 'fast-check';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { farthest, ocio, type OcioStep } from '../../../testing/ocio.ts';
import { unwrap } from '../../result.ts';
import { compile, evaluate } from '../ops/compile.ts';
import type { Cdl, ColourOp, Interpolation } from '../ops/op.ts';
import { reversed } from '../ops/reversed.ts';
import { readCdlFile } from './cdlFile.ts';
import { writeCdlFile, writeClf } from './clfWrite.ts';
import { writeCube } from './cubeWrite.ts';
import { readLutFile } from './file.ts';
import { compileInverse1d } from './inverse1d.ts';
import { compileInverse3d } from './inverse3d.ts';
import { identity3d, unitMax, unitMin, type Lut1d, type Lut3d } from './lut.ts';

type Triplet = [number, number, number];
const folder = mkdtempSync(join(tmpdir(), 'relay-luts-'));
afterAll(() => rmSync(folder, { recursive: true }));
let files = 0;
const fileOf = (text: string, ending: string): string => {
  files += 1;
  const path = join(folder, `${files}.${ending}`);
  writeFileSync(path, text);
  return path;
};
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true }).map((x) => Number(x.toFixed(6)) + 0);
const triple = (min: number, max: number) => fc.tuple(number(min, max), number(min, max), number(min, max));
const values = fc.sample(triple(-0.3, 1.6), { numRuns: 60, seed: 7 });
const through = (ops: readonly ColourOp[], given: readonly Triplet[] = values): Triplet[] => {
  const transform = compile(ops);
  return given.map((value) => evaluate(transform, value));
};
const domain = fc.constantFrom<[Triplet, Triplet]>(
  [
    [0, 0, 0],
    [1, 1, 1],
  ],
  [
    [-0.1, 0, -0.2],
    [1.1, 1, 2],
  ],
  [
    [0, 0, 0],
    [4, 2, 1.5],
  ],
);
const table = (size: number): fc.Arbitrary<Lut1d> =>
  fc
    .tuple(fc.array(number(-0.2, 1.3), { minLength: size * 3, maxLength: size * 3 }), domain)
    .map(([all, [domainMin, domainMax]]) => ({
      size,
      values: Float32Array.from(all),
      domainMin,
      domainMax,
      halfDomain: false,
    }));
const cube = (size: number): fc.Arbitrary<Lut3d> =>
  fc
    .tuple(fc.array(number(-0.2, 1.3), { minLength: size ** 3 * 3, maxLength: size ** 3 * 3 }), domain)
    .map(([all, [domainMin, domainMax]]) => ({ size, values: Float32Array.from(all), domainMin, domainMax }));
const cdl: fc.Arbitrary<Cdl> = fc.record({
  slope: triple(0.2, 2.5),
  offset: triple(-0.3, 0.3),
  power: triple(0.4, 2.4),
  saturation: number(0, 2.5),
});
/** Fewer runs than usual: each starts a process. */
const few = { numRuns: 6, seed: 11 };

describe('.cube files against OpenColorIO', () => {
  it.each(['tetrahedral', 'trilinear'] as const)('cubes, %s', (interpolation: Interpolation) =>
    fc.assert(
      fc.asyncProperty(fc.constantFrom(2, 3, 5, 9).chain(cube), async (lut) => {
        const text = writeCube({ cube: lut, title: 'made up' });
        const read = unwrap(readLutFile(text, 'a.cube')).ops.map((op) =>
          op.op === 'lut3d' ? { ...op, interpolation } : op,
        );
        const reference = await ocio(
          [
            {
              kind: 'file',
              path: fileOf(text, 'cube'),
              interpolation: interpolation === 'trilinear' ? 'linear' : interpolation,
            },
          ],
          values,
        );
        expect(farthest(through(read), reference)).toBeLessThan(2e-5);
      }),
      few,
    ),
  );

  it('tables', () =>
    fc.assert(
      fc.asyncProperty(fc.constantFrom(2, 7, 33).chain(table), async (lut) => {
        const text = writeCube({ table: lut });
        expect(
          farthest(
            through(unwrap(readLutFile(text, 'a.cube')).ops),
            await ocio([{ kind: 'file', path: fileOf(text, 'cube') }], values),
          ),
        ).toBeLessThan(2e-5);
      }),
      few,
    ));

  it('a table before a cube', () =>
    fc.assert(
      fc.asyncProperty(table(9), cube(4), async (before, after) => {
        const text = writeCube({
          table: { ...before, domainMin: [-0.1, -0.1, -0.1], domainMax: [1.5, 1.5, 1.5] },
          cube: { ...after, domainMin: unitMin, domainMax: unitMax },
          title: 'made up',
        });
        expect(
          farthest(
            through(unwrap(readLutFile(text, 'a.cube')).ops),
            await ocio([{ kind: 'file', path: fileOf(text, 'cube'), interpolation: 'tetrahedral' }], values),
          ),
        ).toBeLessThan(2e-5);
      }),
      few,
    ));
});

describe('.clf files against OpenColorIO', () => {
  const logChannel = fc.record({
    base: fc.constantFrom(2, 10),
    linSideSlope: number(0.5, 6),
    linSideOffset: number(0.01, 0.2),
    logSideSlope: number(0.15, 0.4),
    logSideOffset: number(0.1, 0.6),
    linSideBreak: fc.constant(0.01),
    linearSlope: fc.option(number(2, 6), { nil: null }),
  });
  const op: fc.Arbitrary<ColourOp> = fc.oneof(
    fc.record({
      op: fc.constant('matrix' as const),
      matrix: fc.tuple(
        ...Array.from({ length: 9 }, (_, i) => number(i % 4 === 0 ? 0.6 : -0.2, i % 4 === 0 ? 1.2 : 0.2)),
      ) as unknown as fc.Arbitrary<never>,
      offset: triple(-0.1, 0.1),
    }),
    fc.record({
      op: fc.constant('range' as const),
      scale: number(0.4, 1.5),
      offset: number(-0.2, 0.2),
      min: fc.constant(-0.05),
      max: fc.constant(1.1),
    }),
    fc.record({
      op: fc.constant('range' as const),
      scale: number(0.4, 1.5),
      offset: number(-0.2, 0.2),
      min: fc.constant(null),
      max: fc.constant(null),
    }),
    logChannel.map((channel) => ({
      op: 'log' as const,
      to: 'log' as const,
      channels: [channel, channel, channel] as const,
    })),
    logChannel.map((channel) => ({
      op: 'log' as const,
      to: 'linear' as const,
      channels: [channel, channel, channel] as const,
    })),
    fc.record({
      op: fc.constant('exponent' as const),
      style: fc.constantFrom('basic' as const, 'basicMirror' as const, 'basicPassThru' as const),
      reverse: fc.boolean(),
      exponent: triple(0.5, 2.6),
      offset: fc.constant([0, 0, 0] as const),
    }),
    fc.record({
      op: fc.constant('exponent' as const),
      style: fc.constantFrom('monCurve' as const, 'monCurveMirror' as const),
      reverse: fc.boolean(),
      exponent: triple(1.1, 2.6),
      offset: triple(0.02, 0.2),
    }),
    fc.record({
      op: fc.constant('cdl' as const),
      cdl: cdl.map((one) => ({ ...one, saturation: Math.max(0.2, one.saturation) })),
      reverse: fc.boolean(),
      clamp: fc.boolean(),
    }),
    table(9).map((lut) => ({ op: 'lut1d' as const, reverse: false, lut })),
    cube(3).map((lut) => ({ op: 'lut3d' as const, reverse: false, interpolation: 'tetrahedral' as const, lut })),
    cube(4).map((lut) => ({ op: 'lut3d' as const, reverse: false, interpolation: 'trilinear' as const, lut })),
  );
  it('every step, one at a time and after each other', () =>
    fc.assert(
      fc.asyncProperty(fc.array(op, { minLength: 1, maxLength: 3 }), async (ops) => {
        const text = writeClf(ops, { id: 'made-up', name: 'made <up> & "odd"' });
        const read = readLutFile(text, 'a.clf');
        const found = through(unwrap(read).ops);
        const reference = await ocio([{ kind: 'file', path: fileOf(text, 'clf'), interpolation: 'default' }], values);
        // What single precision makes of the reference itself where a steep step follows; nothing of size is let
        // through.
        const steep = found.flat().some((value) => Math.abs(value) > 50);
        expect(farthest(found, reference)).toBeLessThan(steep ? 1e-3 : 2e-5);
      }),
      { numRuns: 40, seed: 5 },
    ));

  it('integer bit depths, matrices and ranges in them, blue fastest', async () => {
    const text = `<?xml version="1.0"?>
<ProcessList compCLFversion="3" id="x">
  <Matrix inBitDepth="10i" outBitDepth="16f"><Array dim="3 4">0.0008 0.0001 0.00005 0.01 0.0001 0.0007 0.0001 -0.02 0 0.0002 0.0009 0.005</Array></Matrix>
  <Range inBitDepth="16f" outBitDepth="12i"><minInValue>0.01</minInValue><maxInValue>1.02</maxInValue><minOutValue>4</minOutValue><maxOutValue>4000</maxOutValue></Range>
  <LUT1D inBitDepth="12i" outBitDepth="8i"><Array dim="3 1">0 100 255</Array></LUT1D>
  <LUT3D inBitDepth="8i" outBitDepth="10i" interpolation="tetrahedral"><Array dim="2 2 2 3">0 0 0  0 10 900  20 1000 0  0 990 1023  1023 0 0  1000 40 1000  1010 1020 30  1023 1023 1023</Array></LUT3D>
</ProcessList>`;
    expect(
      farthest(
        through(unwrap(readLutFile(text, 'a.clf')).ops),
        await ocio([{ kind: 'file', path: fileOf(text, 'clf'), interpolation: 'default' }], values),
      ),
    ).toBeLessThan(2e-5);
  });

  it('a half-domain table, as it is and as raw halves, and its way back', async () => {
    const bits = (x: number): number => {
      const [word = 0] = new Uint32Array(Float32Array.of(x).buffer);
      const exponent = ((word >> 23) & 255) - 112;
      return exponent <= 0
        ? (word >> 16) & 0x8000
        : ((word >> 16) & 0x8000) | (exponent << 10) | ((word >> 13) & 0x3ff);
    };
    const entry = (i: number): number => Math.sign(i < 32768 ? 1 : -1) * ((i & 0x7fff) / 31744) * 3;
    for (const raw of [false, true]) {
      const rows = Array.from({ length: 65_536 }, (_, i) =>
        (i & 0x7fff) > 0x7c00 ? '0' : raw ? String(bits(entry(i))) : entry(i).toFixed(6),
      );
      const text = `<ProcessList compCLFversion="3" id="x"><LUT1D inBitDepth="16f" outBitDepth="16f" halfDomain="true"${raw ? ' rawHalfs="true"' : ''}><Array dim="65536 1">\n${rows.join('\n')}\n</Array></LUT1D></ProcessList>`;
      const ops = unwrap(readLutFile(text, 'a.clf')).ops;
      expect(
        farthest(
          through(ops),
          await ocio([{ kind: 'file', path: fileOf(text, 'clf'), interpolation: 'default' }], values),
        ),
      ).toBeLessThan(2e-5);
      if (!raw) expect(farthest(through(unwrap(reversed(ops)), through(ops)), values)).toBeLessThan(1e-4);
    }
  });
});

describe('CDLs against OpenColorIO', () => {
  it('ASC CDL v1.2, there and back', () =>
    fc.assert(
      fc.asyncProperty(cdl, fc.boolean(), async (one, reverse) => {
        if (reverse && one.saturation < 0.05) return;
        const step: OcioStep = { kind: 'cdl', ...one, inverse: reverse };
        expect(
          farthest(through([{ op: 'cdl', cdl: one, reverse, clamp: true }]), await ocio([step], values)),
        ).toBeLessThan(1e-5);
      }),
      { numRuns: 12, seed: 2 },
    ));

  it.each(['cc', 'ccc', 'cdl'] as const)('.%s files come back as they were written', (kind) =>
    fc.assert(
      fc.property(cdl, (one) => {
        const [read] = unwrap(readCdlFile(writeCdlFile(kind, [{ id: 'A<1>', cdl: one }])));
        expect(read).toMatchObject({ id: 'A<1>', cdl: one });
      }),
    ),
  );
});

describe('the way back', () => {
  it('through a rising table is exact', () =>
    fc.assert(
      fc.property(fc.array(number(0.001, 1), { minLength: 6, maxLength: 30 }), (steps) => {
        let sum = 0;
        const rising = steps.map((step) => (sum += step));
        const lut: Lut1d = {
          size: rising.length,
          values: Float32Array.from(rising.flatMap((y) => [y, y * 2, -y])),
          domainMin: [-1, 0, 0],
          domainMax: [2, 1, 1],
          halfDomain: false,
        };
        const { transform, levelled } = compileInverse1d(lut);
        expect(levelled).toEqual([0, 0, 0]);
        const inside: Triplet[] = [
          [-0.5, 0.3, 0.7],
          [1.9, 0.01, 0.99],
        ];
        expect(
          farthest(
            through([{ op: 'lut1d', lut, reverse: false }], inside).map((value) => evaluate(transform, value)),
            inside,
          ),
        ).toBeLessThan(2e-3);
      }),
    ));

  it('through a cube is exact where the cube reaches, the nearest where not, and both are told', () => {
    const lut = identity3d(9);
    for (let i = 0; i < lut.values.length; i += 3) {
      const [r, g, b] = [lut.values[i] as number, lut.values[i + 1] as number, lut.values[i + 2] as number];
      lut.values.set([0.1 + 0.7 * r ** 1.5 + 0.1 * g, 0.05 + 0.8 * g + 0.1 * b * b, 0.85 * b ** 0.8 + 0.05 * r], i);
    }
    const inverse = compileInverse3d(lut);
    const inside = fc.sample(triple(0, 1), { numRuns: 300, seed: 3 });
    expect(
      farthest(
        through([{ op: 'lut3d', lut, interpolation: 'tetrahedral', reverse: false }], inside).map((value) =>
          evaluate(inverse.transform, value),
        ),
        inside,
      ),
    ).toBeLessThan(1e-5);
    expect(inverse.notReached()).toBe(0);
    const beyond = evaluate(inverse.transform, [2, 2, 2]);
    expect(inverse.notReached()).toBe(1);
    expect(beyond).toEqual([1, 1, 1]);
  });

  it('through a table that turns back is levelled, and says so', () => {
    const lut: Lut1d = {
      size: 5,
      values: Float32Array.from([0, 0.5, 0.4, 0.8, 1].flatMap((y) => [y, y, y])),
      domainMin: unitMin,
      domainMax: unitMax,
      halfDomain: false,
    };
    expect(compileInverse1d(lut).levelled).toEqual([1, 1, 1]);
  });
});

describe('bad input', () => {
  const row = '0.1 0.2 0.3\n';
  const whole = `TITLE "x"\nLUT_3D_SIZE 2\n${row.repeat(8)}`;
  const said = (text: string, name = 'a.cube'): string => {
    const read = readLutFile(text, name);
    return read.ok ? 'read' : read.problem.what;
  };
  it.each([
    ['not a number', whole.replace('0.2', 'nan'), 'line 3: nan is not a number that a picture can have'],
    ['infinity', whole.replace('0.2', '-inf'), 'line 3: -inf is not a number that a picture can have'],
    ['too large', whole.replace('0.2', '1e99'), 'line 3: 1e99 is too large'],
    ['hexadecimal', whole.replace('0.2', '0x1'), 'line 3: "0x1" is no number'],
    ['a comma', whole.replace('0.1 0.2 0.3', '0,1 0,2 0,3'), 'line 3: 0,1 is written with a comma'],
    ['commas between', whole.replace('0.1 0.2 0.3', '0.1, 0.2, 0.3'), 'line 3: "0.1," is no number'],
    ['a huge size', whole.replace('SIZE 2', 'SIZE 999'), 'line 2: LUT_3D_SIZE is 999, more than the 129 that are read'],
    ['a size of one', whole.replace('SIZE 2', 'SIZE 1'), 'line 2: LUT_3D_SIZE is 1'],
    ['a broken size', whole.replace('SIZE 2', 'SIZE 2.5'), 'line 2: LUT_3D_SIZE is 2.5'],
    ['missing rows', `LUT_3D_SIZE 2\n${row.repeat(7)}`, 'line 9: the file ends after 7 of 8 rows'],
    ['rows too many', `${whole}${row}`, 'line 11: there are more than the 8 rows that its size asks for'],
    ['a short row', whole.replace('0.1 0.2 0.3', '0.1 0.2'), 'line 3: 2 values stand where three belong'],
    ['no size', row.repeat(8), 'line 1: values begin before LUT_1D_SIZE or LUT_3D_SIZE said how many'],
    ['twice', `LUT_3D_SIZE 2\n${whole}`, 'line 3: LUT_3D_SIZE stands there twice'],
    ['a late keyword', `${whole}DOMAIN_MIN 0 0 0\n`, 'line 11: DOMAIN_MIN stands among the values'],
    ['an empty domain', `DOMAIN_MIN 1 1 1\n${whole}`, "line 1: the file's domain ends at 1, not above its beginning 1"],
    ['nothing', '', 'line 1: there are no values in it'],
    ['bytes', 'LUT_3D_SIZE 2\n\0\0\u0001\n', 'line 2: there are bytes in it that no text has'],
  ])('a cube with %s', (_name, text, message) => expect(said(text)).toBe(message));

  it('takes CR LF, CR, a byte order mark, comments, blank lines, keywords it does not know', () => {
    const told = unwrap(
      readLutFile(`\uFEFF# hello\r\nSOME_PROGRAM_KEY 3 4\r\n\r\n${whole.replaceAll('\n', '\r\n')}\r\n# end`, 'a.cube'),
    );
    expect(told).toMatchObject({
      title: 'x',
      notes: ['hello', 'end'],
      warnings: ['line 2: SOME_PROGRAM_KEY is not known and was passed over'],
    });
    expect(said(whole.replaceAll('\n', '\r'))).toBe('read');
  });

  const clf = (inside: string): string =>
    `<?xml version="1.0"?>\n<ProcessList compCLFversion="3" id="x">\n${inside}\n</ProcessList>`;
  it.each([
    ['no XML', 'hello', 'line 1: it does not begin as XML'],
    [
      'cut short',
      clf('<Matrix inBitDepth="32f" outBitDepth="32f"><Array dim="3 3">1 0 0').slice(0, 124),
      'line 3: <Array> is never closed',
    ],
    ['a step of its own', clf('<Sparkle/>'), 'line 3: <Sparkle> is no step of CLF that is read'],
    [
      'too few numbers',
      clf('<Matrix inBitDepth="32f" outBitDepth="32f"><Array dim="3 3">1 0\n0 1</Array></Matrix>'),
      'line 3: the array ends after 4 of 9 numbers',
    ],
    [
      'too many',
      clf('<Matrix inBitDepth="32f" outBitDepth="32f"><Array dim="3 3">1 0 0\n0 1 0\n0 0 1\n7</Array></Matrix>'),
      'line 6: more than 9 numbers stand in <Array>',
    ],
    [
      'nan',
      clf('<Matrix inBitDepth="32f" outBitDepth="32f"><Array dim="3 3">1 0 0\n0 NaN 0\n0 0 1</Array></Matrix>'),
      'line 4: NaN is not a number that a picture can have',
    ],
    [
      'a matrix without bit depths',
      clf('<Matrix><Array dim="3 3">1 0 0 0 1 0 0 0 1</Array></Matrix>'),
      'line 3: <Matrix> has no inBitDepth',
    ],
    [
      'an odd style',
      clf('<Log inBitDepth="32f" outBitDepth="32f" style="log3"/>'),
      'line 3: style "log3" of a Log is not known',
    ],
    ['a document type', '<!DOCTYPE x [<!ENTITY a "b">]><ProcessList/>', 'line 1: document types are not read'],
    [
      'a half range',
      clf('<Range inBitDepth="32f" outBitDepth="32f"><minInValue>0</minInValue></Range>'),
      'line 3: a Range has minInValue and minOutValue both, or neither',
    ],
    ['nothing in it', clf(''), 'there is no step in it'],
    [
      'another version',
      '<ProcessList compCLFversion="9" id="x"><Log style="log2"/></ProcessList>',
      'line 1: CLF version 9 is not known',
    ],
  ])('a CLF with %s', (_name, text, message) => expect(said(text, 'a.clf')).toBe(message));

  it.each([
    [
      '<ColorCorrection><SOPNode><Slope>1 1</Slope></SOPNode></ColorCorrection>',
      'line 1: <Slope> holds 2 numbers where three belong',
    ],
    ['<ColorCorrection>\n<SOPNode><Power>0 1 1</Power></SOPNode></ColorCorrection>', 'line 1: power must be above 0'],
    [
      '<ColorCorrection><SatNode><Saturation>-1</Saturation></SatNode></ColorCorrection>',
      'line 1: saturation may not be below 0',
    ],
    ['<ColorCorrectionCollection/>', 'there is no ColorCorrection in it'],
  ])('a CDL: %s', (text, message) => expect(said(text, 'a.cdl')).toBe(message));

  it('two hundred files with bytes changed, taken out or put in: read or refused with a sentence, never thrown', () => {
    const sound = [
      whole,
      writeCube({
        table: { size: 4, values: new Float32Array(12), domainMin: unitMin, domainMax: unitMax, halfDomain: false },
      }),
      clf('<Matrix inBitDepth="10i" outBitDepth="32f"><Array dim="3 3">1 0 0 0 1 0 0 0 1</Array></Matrix>'),
      writeCdlFile('ccc', [{ id: 'a', cdl: { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 } }]),
    ];
    let refused = 0;
    fc.assert(
      fc.property(
        fc.constantFrom(...sound),
        fc.array(
          fc.tuple(
            fc.nat(400),
            fc.constantFrom(
              '',
              '<',
              '>',
              '"',
              '\0',
              '9'.repeat(40),
              '\n',
              ' ',
              '&x;',
              '-',
              'NaN',
              '\uFFFD',
              '1e400',
              '/>',
            ),
          ),
          { minLength: 1, maxLength: 6 },
        ),
        fc.constantFrom('a.cube', 'a.clf', 'a.cdl', 'a.txt'),
        (text, edits, name) => {
          const broken = edits.reduce(
            (all, [at, put]) => all.slice(0, at % all.length) + put + all.slice((at % all.length) + 1),
            text,
          );
          const read = readLutFile(broken, name);
          if (read.ok) expect(through(read.value.ops, [[0.5, 0.5, 0.5]])[0]?.length).toBe(3);
          else {
            refused += 1;
            expect(read.problem.what.length).toBeGreaterThan(8);
            expect(read.problem.remedy.length).toBeGreaterThan(8);
          }
        },
      ),
      { numRuns: 200, seed: 9 },
    );
    expect(refused).toBeGreaterThan(100);
  });
});
