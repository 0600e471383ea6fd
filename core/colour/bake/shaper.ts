import type { Lut1d } from '../lut/lut.ts';
import type { ColourOp } from '../ops/op.ts';
import { sceneWhite } from '../rendering/tone.ts';

/** What stands before a baked cube, so that its points lie where the chain bends. */
export interface Shaper {
  kind: 'none' | 'root' | 'log';
  /** Light or signal at the shaped 0 and 1. */
  domain: readonly [number, number];
  /** Input → place in the cube, 0–1. */
  forward: (x: number) => number;
  /** Place in the cube → input. */
  back: (x: number) => number;
  ops: ColourOp[];
}

const tableSize = 65_536;

function tableOf(forward: (x: number) => number, [from, to]: readonly [number, number]): Lut1d {
  const values = new Float32Array(tableSize * 3);
  for (let i = 0; i < tableSize; i += 1)
    values.fill(forward(from + ((to - from) * i) / (tableSize - 1)), i * 3, i * 3 + 3);
  return { size: tableSize, values, domainMin: [from, from, from], domainMax: [to, to, to], halfDomain: false };
}

function shaper(
  kind: Shaper['kind'],
  domain: readonly [number, number],
  forward: (x: number) => number,
  back: (x: number) => number,
): Shaper {
  const held = (x: number): number => Math.min(1, Math.max(0, forward(Math.min(domain[1], Math.max(domain[0], x)))));
  return {
    kind,
    domain,
    forward: held,
    back,
    ops: kind === 'none' ? [] : [{ op: 'lut1d', reverse: false, lut: tableOf(held, domain) }],
  };
}

/** Signals that a camera or a display codes evenly need none. */
const none = shaper(
  'none',
  [0, 1],
  (x) => x,
  (x) => x,
);
const root = shaper(
  'root',
  [0, 1],
  (x) => Math.max(0, x) ** (1 / 2.4),
  (x) => x ** 2.4,
);

/** Light up to a rendering's white, by its logarithm with a foot of 1/512. */
const foot = 1 / 512;
const brightest = Math.ceil(sceneWhite);
const stops = Math.log2((brightest + foot) / foot);
const log = shaper(
  'log',
  [0, brightest],
  (x) => Math.log2((Math.max(0, x) + foot) / foot) / stops,
  (x) => foot * 2 ** (x * stops) - foot,
);

/** Shapers worth trying for an input; the first is taken unless another is clearly better. */
export function shapersFor(inputIsLinear: boolean): readonly Shaper[] {
  return inputIsLinear ? [log] : [none, root];
}
