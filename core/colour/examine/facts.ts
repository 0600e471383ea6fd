import { compile } from '../ops/compile.ts';
import type { Transform } from '../ops/op.ts';
import type { LutFile } from '../lut/read.ts';

/** Samples along each axis of what is drawn and examined. */
export const samples = 1025;
/** Points along each edge of the lattice that is examined. */
export const latticeEdge = 17;

type Three = readonly [number, number, number];

/** What a LUT does, measured once for all rules. Values are 0–1 of full scale. */
export interface LutFacts {
  file: LutFile;
  transform: Transform;
  /** Input at each sample of the axes. */
  inputs: Float64Array;
  /** R, G, B for each neutral input. */
  neutral: Float64Array;
  /** For each channel alone, the others at 0: its own output at each sample. */
  channels: readonly [Float64Array, Float64Array, Float64Array];
  /** R, G, B at each lattice point, red fastest. */
  lattice: Float64Array;
  /** Range of inputs that it says something about. */
  domain: readonly [number, number];
  black: Three;
  white: Three;
  lowest: number;
  highest: number;
  /** Points along each edge or entries of the largest table in it; 0 for one that is formula alone. */
  points: number;
  threeDimensional: boolean;
}

/** Luma of BT.709, for one number where three would be too many. */
export function lumaOf(r: number, g: number, b: number): number {
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

function domainOf(file: LutFile): readonly [number, number] {
  const [first] = file.ops;
  if ((first?.op === 'lut1d' && !first.lut.halfDomain) || first?.op === 'lut3d')
    return [Math.min(...first.lut.domainMin), Math.max(...first.lut.domainMax)];
  return [0, 1];
}

/** Measures a LUT for its examination. */
export function lutFacts(file: LutFile): LutFacts {
  const transform = compile(file.ops);
  const domain = domainOf(file);
  const [from, to] = domain;
  const inputs = Float64Array.from({ length: samples }, (_, i) => from + ((to - from) * i) / (samples - 1));
  const neutral = new Float64Array(samples * 3);
  const channels = [new Float64Array(samples), new Float64Array(samples), new Float64Array(samples)] as const;
  const work = new Float64Array(3);
  inputs.forEach((x, i) => {
    work.fill(x);
    transform(work);
    neutral.set(work, i * 3);
    for (const c of [0, 1, 2] as const) {
      work.fill(from);
      work[c] = x;
      transform(work);
      channels[c][i] = work[c];
    }
  });
  const edge = latticeEdge;
  const lattice = new Float64Array(edge ** 3 * 3);
  const at = (i: number): number => from + ((to - from) * i) / (edge - 1);
  for (let i = 0; i < edge ** 3; i += 1) {
    work[0] = at(i % edge);
    work[1] = at(Math.floor(i / edge) % edge);
    work[2] = at(Math.floor(i / edge ** 2));
    transform(work);
    lattice.set(work, i * 3);
  }
  const triple = (x: number): Three => {
    work.fill(x);
    transform(work);
    return [work[0] as number, work[1] as number, work[2] as number];
  };
  let lowest = Infinity;
  let highest = -Infinity;
  for (const value of lattice) {
    if (value < lowest) lowest = value;
    if (value > highest) highest = value;
  }
  return {
    file,
    transform,
    inputs,
    neutral,
    channels,
    lattice,
    domain,
    black: triple(from),
    white: triple(to),
    lowest,
    highest,
    points: file.ops.reduce(
      (most, op) =>
        op.op === 'lut3d' || (op.op === 'lut1d' && !op.lut.halfDomain) ? Math.max(most, op.lut.size) : most,
      0,
    ),
    threeDimensional: file.ops.some((op) => op.op === 'lut3d'),
  };
}
