import { between } from '../gamut.ts';
import { bt2020 } from '../gamuts/bt2020.ts';
import { deltaEItp, toIctcp } from '../ictcp.ts';
import { apply } from '../matrix.ts';
import type { Transform } from '../ops/op.ts';
import { displayOf } from '../rendering/display.ts';
import { colourState, type ColourState } from '../states.ts';
import { unwrap } from '../../result.ts';
import { seeded } from './seeded.ts';

export interface Spread {
  mean: number;
  /** 99.9th percentile. */
  p999: number;
  worst: number;
}

/** How far a baked chain lies from the chain itself. */
export interface BakeError {
  samples: number;
  /** Of the channel that differs most, in 10-bit code values of the output, held within 0–1023 as a file holds them. */
  codes: Spread;
  /** ΔE ITP (ITU-R BT.2124) of what the output's display shows. */
  itp: Spread;
}

function spreadOf(values: Float64Array): Spread {
  values.sort();
  const sum = values.reduce((a, b) => a + b, 0);
  return {
    mean: sum / values.length,
    p999: values[Math.min(values.length - 1, Math.floor(values.length * 0.999))] as number,
    worst: values[values.length - 1] as number,
  };
}

/** Output signal → I, CT, CP as its display shows it; scene states are shown with white at 100 cd/m². */
export function shownAs(output: ColourState | null): (signal: Float64Array) => void {
  const state = output ?? unwrap(colourState('bt709'));
  const display = displayOf(state);
  const curve = display?.curve ?? state.curve;
  const nits = display ? display.tone.peakNits / display.white : 100;
  const m = between(state.gamut, bt2020);
  return (rgb) => {
    const light = apply(m, [
      curve.toLinear(rgb[0] as number),
      curve.toLinear(rgb[1] as number),
      curve.toLinear(rgb[2] as number),
    ]);
    for (const c of [0, 1, 2] as const) rgb[c] = light[c] * nits;
    toIctcp(rgb);
  };
}

/** Stops about mid grey over which a scene's light is drawn; surfaces end at white, what is brighter are lights. */
const darkest = -8;
const brightest = 5.5;
const whiteStop = Math.log2(1 / 0.18);

/**
 * Colours that pictures hold, as signals of the input: light of the gamut that is aimed at, over fourteen stops.
 * Surfaces have chromas up to nine tenths of that gamut's edge; lights brighter than white less and less, as real ones
 * do. A quarter lies near neutrals, where eyes are sharp. Where the input is unknown: signals all over the cube.
 */
export function pictureColours(
  input: ColourState | null,
  output: ColourState | null,
  count: number,
  seed: number,
): Float64Array {
  const random = seeded(seed);
  const colours = new Float64Array(count * 3);
  const aimed = output?.gamut ?? unwrap(colourState('bt709')).gamut;
  const into = input ? between(aimed, input.gamut) : null;
  for (let i = 0, tries = 0; i < count; tries += 1) {
    const near = tries % 4 === 0;
    const level = random();
    const draw = (chroma: number): [number, number, number] => [
      1 - chroma * random(),
      1 - chroma * random(),
      1 - chroma * random(),
    ];
    let signal: readonly number[];
    if (input && into) {
      const stop = darkest + (brightest - darkest) * level;
      const chroma = near ? 0.1 : 0.9 * Math.min(1, 2 ** (whiteStop - stop));
      const strength = input.curve.light === 'display' ? level ** 2.4 : 0.18 * 2 ** stop;
      const rgb = draw(input.curve.light === 'display' && !near ? 0.9 : chroma);
      signal = apply(into, [rgb[0] * strength, rgb[1] * strength, rgb[2] * strength]).map(input.curve.fromLinear);
    } else signal = near ? draw(0.1).map((x) => x * level) : [random(), random(), random()];
    const linear = input?.curve.id === 'linear';
    if (tries < count * 20 && !linear && !signal.every((x) => x >= 0 && x <= 1)) continue;
    colours.set(
      signal.map((x) => (linear ? x : Math.min(1, Math.max(0, x)))),
      i * 3,
    );
    i += 1;
  }
  return colours;
}

/** Holds a baked chain against the chain, over a seeded set of colours. */
export function measure(
  exact: Transform,
  baked: Transform,
  colours: Float64Array,
  output: ColourState | null,
): BakeError {
  const count = colours.length / 3;
  const codes = new Float64Array(count);
  const itp = new Float64Array(count);
  const a = new Float64Array(3);
  const b = new Float64Array(3);
  const show = shownAs(output);
  for (let i = 0; i < count; i += 1) {
    a.set(colours.subarray(i * 3, i * 3 + 3));
    b.set(a);
    exact(a);
    baked(b);
    let most = 0;
    for (let c = 0; c < 3; c += 1) {
      a[c] = Math.min(1, Math.max(0, a[c] as number));
      b[c] = Math.min(1, Math.max(0, b[c] as number));
      most = Math.max(most, Math.abs((a[c] as number) - (b[c] as number)));
    }
    codes[i] = most * 1023;
    show(a);
    show(b);
    itp[i] = deltaEItp(a, b);
  }
  return { samples: count, codes: spreadOf(codes), itp: spreadOf(itp) };
}
