import { describe, expect, it } from 'vitest';
import { unwrap } from '../../result.ts';
import { readLutFile } from '../lut/file.ts';
import { writeCube } from '../lut/cubeWrite.ts';
import { identity3d } from '../lut/lut.ts';
import { noCdl } from '../ops/cdl.ts';
import { compile, evaluate } from '../ops/compile.ts';
import { emptyChain, type Chain, type CdlStep, type LutStep } from './chain.ts';
import { chainEnd, unsaidLut } from './end.ts';
import { planChain } from './plan.ts';
import { sayChain } from './say.ts';

const file = unwrap(readLutFile(writeCube({ cube: identity3d(5) }), 'a.cube'));
const luts = (hash: string) => (hash === 'known' ? file : null);
const lut = (change: Partial<LutStep> = {}): LutStep => ({
  kind: 'lut',
  id: 'l',
  name: 'Estuary night',
  muted: false,
  lut: 'known',
  takes: null,
  gives: null,
  rangeIn: 'full',
  rangeOut: 'full',
  ...change,
});
const cdl = (change: Partial<CdlStep> = {}): CdlStep => ({
  kind: 'cdl',
  id: 'c',
  name: 'Evening balance',
  muted: false,
  cdl: { ...noCdl, slope: [1.1, 1, 0.9] },
  worksIn: null,
  ...change,
});
const camera: Chain = { ...emptyChain, input: 'slog3-sgamut3cine', output: 'bt709' };
const names = (chain: Chain): string[] =>
  unwrap(planChain(chain, luts)).steps.map((step) => `${step.kind}: ${step.name}`);

describe('a chain', () => {
  it('of nothing does nothing', () => {
    expect(unwrap(planChain(emptyChain, luts))).toMatchObject({ steps: [], ops: [], output: null });
  });

  it('converts only where two stated ends differ, and shows it', () => {
    expect(names(camera)).toEqual(['conversion: S-Log3, S-Gamut3.Cine to BT.709']);
    expect(names({ ...camera, steps: [lut()] })).toEqual(['lut: Estuary night']);
    expect(names({ ...camera, steps: [lut({ gives: 'acescct' })] })).toEqual([
      'lut: Estuary night',
      'conversion: ACEScct, ACES AP1 to BT.709',
    ]);
    expect(names({ ...camera, steps: [lut({ takes: 'logc3-awg3', gives: 'bt709' })] })).toEqual([
      'conversion: S-Log3, S-Gamut3.Cine to LogC3, ARRI Wide Gamut 3',
      'lut: Estuary night',
    ]);
    expect(names({ ...camera, output: 'slog3-sgamut3cine' })).toEqual([]);
  });

  it('grades in the state before, unless the grade names another', () => {
    expect(unwrap(planChain({ ...camera, steps: [cdl()] }, luts)).steps[0]).toMatchObject({
      note: 'CDL, in S-Log3, S-Gamut3.Cine',
    });
    expect(
      names({ ...camera, steps: [cdl({ worksIn: 'acescct' }), lut({ takes: 'slog3-sgamut3cine', gives: 'bt709' })] }),
    ).toEqual([
      'conversion: S-Log3, S-Gamut3.Cine to ACEScct, ACES AP1',
      'cdl: Evening balance',
      'conversion: ACEScct, ACES AP1 to S-Log3, S-Gamut3.Cine',
      'lut: Estuary night',
    ]);
  });

  it('knows what the picture is at its end where a LUT or a person says so, and names the LUT where nobody did', () => {
    const alone: Chain = { ...emptyChain, steps: [lut()] };
    expect([chainEnd(alone), unsaidLut(alone)]).toEqual([null, 'Estuary night']);
    expect([
      chainEnd({ ...alone, steps: [lut({ gives: 'bt709' })] })?.id,
      unsaidLut({ ...alone, steps: [lut({ gives: 'bt709' })] }),
    ]).toEqual(['bt709', null]);
    expect(unsaidLut({ ...alone, output: 'bt709' })).toBeNull();
    expect(unsaidLut({ ...alone, steps: [lut({ muted: true })] })).toBeNull();
    expect(unsaidLut({ ...alone, steps: [lut(), cdl({ worksIn: 'acescct' })] })).toBeNull();
    // A camera's state before it says nothing of what comes behind.
    expect(unsaidLut({ ...camera, output: null, steps: [lut()] })).toBe('Estuary night');
  });

  it('uses a rendering where it goes from a scene to a display, and only there', () => {
    expect(unwrap(planChain({ ...camera, rendering: 'estuary' }, luts))).toMatchObject({ rendered: true });
    expect(unwrap(planChain({ ...camera, rendering: 'estuary', output: 'acescct' }, luts))).toMatchObject({
      rendered: false,
    });
    expect(unwrap(planChain({ ...camera, rendering: 'estuary', input: 'bt709', output: 'srgb' }, luts))).toMatchObject({
      rendered: false,
    });
  });

  it('leaves out what is muted', () => {
    expect(names({ ...camera, output: null, steps: [cdl({ muted: true }), lut()] })).toEqual(['lut: Estuary night']);
    expect(sayChain({ ...camera, steps: [cdl({ muted: true }), lut()] })).toBe(
      'S-Log3, S-Gamut3.Cine → Estuary night → BT.709',
    );
  });

  it('gives a LUT black and white where its range says they are', () => {
    // An identity read in legal range changes nothing, on whichever side it is legal it moves black to 64 or back.
    const through = (step: LutStep, x: number): number =>
      evaluate(compile(unwrap(planChain({ ...emptyChain, steps: [step] }, luts)).ops), [x, x, x])[1];
    for (const x of [0, 0.5, 1]) expect(through(lut({ rangeIn: 'legal', rangeOut: 'legal' }), x)).toBeCloseTo(x, 6);
    expect(through(lut({ rangeIn: 'legal' }), 0) * 1023).toBeCloseTo(64, 4);
    expect(through(lut({ rangeIn: 'legal' }), 1) * 1023).toBeCloseTo(940, 4);
    expect(through(lut({ rangeOut: 'legal' }), 940 / 1023)).toBeCloseTo(1, 6);
    // A camera's own codes in a file tagged legal: 18 % grey of S-Log3 is code 420, whatever black is.
    const own = unwrap(
      planChain({ ...emptyChain, input: 'slog3-sgamut3cine', inputRange: 'legal', output: 'linear-bt709' }, luts),
    ).ops;
    expect(evaluate(compile(own), [(420 - 64) / 876, (420 - 64) / 876, (420 - 64) / 876])[1]).toBeCloseTo(0.18, 6);
  });

  it('refuses what it cannot find', () => {
    expect(planChain({ ...camera, steps: [lut({ lut: 'gone' })] }, luts)).toMatchObject({
      ok: false,
      problem: { what: 'The LUT Estuary night is not in the cabinet' },
    });
    expect(planChain({ ...camera, input: 'slog9' }, luts).ok).toBe(false);
    expect(planChain({ ...camera, steps: [cdl({ worksIn: 'nowhere' })] }, luts).ok).toBe(false);
    expect(planChain({ ...camera, steps: [lut({ takes: 'nowhere' })] }, luts).ok).toBe(false);
  });
});
