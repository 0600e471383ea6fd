import { describe, expect, it } from 'vitest';
import { unwrap } from '../../result.ts';
import { conversion } from '../convert.ts';
import { pqToNits } from '../curves/pq.ts';
import { between } from '../gamut.ts';
import { gamuts } from '../gamuts.ts';
import { bt709 } from '../gamuts/bt709.ts';
import { bt2020 } from '../gamuts/bt2020.ts';
import { deltaHItp, toIctcp } from '../ictcp.ts';
import { apply, type Triplet } from '../matrix.ts';
import { compile, evaluate } from '../ops/compile.ts';
import { colourState } from '../states.ts';
import { compileEstuary } from './estuary.ts';
import { hdrTone, sceneWhite, sdrTone, toneOf } from './tone.ts';

const to = (target: string, from = 'linear-bt2020') =>
  compile(unwrap(conversion(unwrap(colourState(from)), unwrap(colourState(target)), 'estuary')));
const grey = (transform: ReturnType<typeof to>, light: number): number => evaluate(transform, [light, light, light])[1];

describe('the rendering estuary', () => {
  it("keeps mid grey where BT.709 puts it, black at 0 and the scene's white at 1", () => {
    const television = to('bt709');
    expect(grey(television, 0.18)).toBeCloseTo(1.099 * 0.18 ** 0.45 - 0.099, 6);
    expect(grey(television, 0)).toBe(0);
    expect(grey(television, sceneWhite)).toBeCloseTo(1, 9);
    expect(grey(television, 1000)).toBeCloseTo(1, 9);
  });

  it('puts grey at 26 and reference white at 203 cd/m² in PQ (BT.2408-4, table 1), in HLG at 38 and 75 % (the same table)', () => {
    expect(pqToNits(grey(to('pq'), 0.18))).toBeCloseTo(26, 3);
    expect(pqToNits(grey(to('pq'), 1))).toBeCloseTo(203, 3);
    expect(grey(to('hlg'), 0.18)).toBeCloseTo(0.38, 2);
    expect(grey(to('hlg'), 1)).toBeCloseTo(0.75, 2);
  });

  it('rises on neutrals everywhere, with a slope that never jumps', () => {
    for (const tone of [sdrTone, hdrTone]) {
      // Slope over steps of 1/500 stop: a kink would show as a jump between neighbours.
      const light = (i: number): number => sceneWhite * 2 ** ((i - 8000) / 500);
      let slope = 0;
      for (let i = 0; i < 8100; i += 1) {
        const rise = ((toneOf(tone, light(i + 1)) - toneOf(tone, light(i))) / (light(i + 1) - light(i))) * light(i);
        if (light(i + 1) < sceneWhite) expect(rise).toBeGreaterThan(0);
        if (i > 0) expect(Math.abs(rise - slope)).toBeLessThan(0.003);
        slope = rise;
      }
    }
  });

  it('keeps the hue of saturated colours, from dark to overexposed, within ΔH ITP of 0.5 at every display', () => {
    const corners: Triplet[] = [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
      [1, 1, 0],
      [0, 1, 1],
      [1, 0, 1],
      [1, 0.5, 0],
      [0.2, 0.3, 1],
    ];
    let worst = 0;
    for (const [target, display] of [
      ['bt709', sdrTone],
      ['gamma26-p3d65', sdrTone],
      ['bt2020', sdrTone],
      ['pq', hdrTone],
    ] as const) {
      const state = unwrap(colourState(target));
      const curve = target.startsWith('bt') ? unwrap(colourState(`bt1886-${state.gamut.id}`)).curve : state.curve;
      for (const camera of ['bt709', 'bt2020', 'awg3']) {
        const gamut = gamuts.find((one) => one.id === camera) ?? bt2020;
        const transform = to(target, `linear-${camera}`);
        for (const corner of corners) {
          for (let stop = -6; stop <= 7; stop += 0.25) {
            const scene = corner.map((x) => x * 0.18 * 2 ** stop) as unknown as Triplet;
            const wide = apply(between(gamut, bt2020), scene);
            const positive = wide.map((x) => Math.max(0, x));
            const strength =
              positive.reduce((sum, x) => sum + x ** 3, 0) / positive.reduce((sum, x) => sum + x ** 2, 0);
            const gain = (toneOf(display, strength) / strength) * display.peakNits;
            const own = Float64Array.from(wide, (x) => x * gain);
            const scale = display.peakNits / (target === 'pq' ? 10 : 1);
            const light = apply(
              between(state.gamut, bt2020),
              evaluate(transform, [scene[0], scene[1], scene[2]]).map(curve.toLinear) as unknown as Triplet,
            );
            const shown = Float64Array.from(light, (x) => x * scale);
            toIctcp(own);
            toIctcp(shown);
            worst = Math.max(worst, deltaHItp(own, shown));
          }
        }
      }
    }
    expect(worst).toBeLessThan(0.5);
  });

  it('draws in what the display cannot show without a kink: chroma rises ever more slowly, never at once', () => {
    const rendered = compileEstuary([1, 0, 0, 0, 1, 0, 0, 0, 1], between(bt2020, bt709), sdrTone);
    const steps = 4000;
    let worst = 0;
    for (const corner of [
      [1, 0.1, 0.1],
      [0.1, 1, 0.1],
      [0.1, 0.1, 1],
      [1, 1, 0.1],
      [0.1, 1, 1],
      [1, 0.1, 1],
    ]) {
      const chromaAt = (share: number): number => {
        const rgb = Float64Array.from(corner, (x) => 0.18 * (0.4 + share * (x - 0.4)));
        rendered(rgb);
        const light = Float64Array.from(apply(between(bt709, bt2020), [...rgb] as unknown as Triplet), (x) => x * 100);
        toIctcp(light);
        return Math.hypot(light[1] as number, light[2] as number);
      };
      const chromas = Array.from({ length: steps + 1 }, (_, i) => chromaAt(i / steps) * steps);
      const slopes = chromas.slice(1).map((chroma, i) => chroma - (chromas[i] as number));
      // Relative to how fast chroma rises where nothing is drawn in.
      for (let i = 200; i + 1 < slopes.length; i += 1)
        worst = Math.max(worst, Math.abs((slopes[i + 1] as number) - (slopes[i] as number)) / (slopes[200] as number));
    }
    expect(worst).toBeLessThan(0.05);
  });

  it('gives nothing that the display cannot show', () => {
    const transform = to('bt709', 'linear-sgamut3cine');
    for (let i = 0; i < 3000; i += 1) {
      const scene: [number, number, number] = [
        ((i * 37) % 101) / 5 - 1,
        ((i * 61) % 103) / 4 - 1,
        ((i * 17) % 107) / 6 - 1,
      ];
      for (const value of evaluate(transform, scene)) {
        expect(value).toBeGreaterThanOrEqual(0);
        expect(value).toBeLessThanOrEqual(1);
      }
    }
  });
});
