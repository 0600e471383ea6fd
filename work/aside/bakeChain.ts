import { burnt } from '@relay/core/burn/area';
import type { BurnPlan } from '@relay/core/burn/plan';
import { bakeCube } from '@relay/core/colour/bake/bake';
import { squeezed } from '@relay/core/colour/bake/light';
import { shapersFor, type Shaper } from '@relay/core/colour/bake/shaper';
import type { Chain } from '@relay/core/colour/chain/chain';
import { planChain } from '@relay/core/colour/chain/plan';
import { sayChain } from '@relay/core/colour/chain/say';
import { writeCube } from '@relay/core/colour/lut/cubeWrite';
import { readLutFile } from '@relay/core/colour/lut/file';
import type { LutFile } from '@relay/core/colour/lut/read';
import { compile } from '@relay/core/colour/ops/compile';
import type { ColourOp } from '@relay/core/colour/ops/op';
import { colourState } from '@relay/core/colour/states';
import { forFloatLutFilter, forLutFilter } from '@relay/core/colour/ycbcr';
import { seenApart, type SeenApart } from '@relay/core/measure/deltaE';
import { colourComparison, colourDifference } from '@relay/core/proof/colour';
import { lightComparison } from '@relay/core/proof/light';
import type { Comparison } from '@relay/core/proof/proof';
import { ok, type Result } from '@relay/core/result';
import type { Window } from '@relay/core/shape/window';
import type { FrameSample } from '@relay/media/proof/colour';

/** LUT files by the keys that chains name them by. */
export type LutTexts = Readonly<Record<string, { text: string; fileName: string }>>;

/** The matrices of an output's samples, before its chain and after; null where they stay floats of R'G'B'. */
export type Matrices = readonly [before: string, after: string | null];

/** A chain to be baked: for a picture on its way through FFmpeg, or to lie beside pictures. */
export interface BakeOrder {
  chain: Chain;
  luts: LutTexts;
  /** Null for a LUT that is delivered. */
  matrices: Matrices | null;
  /** What comes out is light itself, and is squeezed in the cube: `lightTable` is the way back. */
  light?: boolean;
}

/** Points of the cube that a picture goes through: the most that is usual, since here nothing but the error counts. */
const runPoints = 65;
/** Points of a LUT that is delivered beside pictures: what every cutting program takes (common practice, no source). */
const besidePoints = 33;

const [plain] = shapersFor(false) as [Shaper, ...Shaper[]];

/** A chain's steps, its LUTs read. */
function opsOf(chain: Chain, luts: LutTexts): Result<readonly ColourOp[]> {
  const files = new Map<string, LutFile>();
  for (const step of chain.steps) {
    if (step.kind !== 'lut' || step.muted || files.has(step.lut)) continue;
    const found = luts[step.lut];
    if (!found) continue; // Said by the chain's plan, which knows the step's name.
    const read = readLutFile(found.text, found.fileName);
    if (!read.ok) return { ok: false, problem: { ...read.problem, what: `${step.name}: ${read.problem.what}` } };
    files.set(step.lut, read.value);
  }
  const planned = planChain(chain, (key) => files.get(key) ?? null);
  return planned.ok ? ok(planned.value.ops) : planned;
}

/** Bakes a chain to the text of a .cube file. */
export function bakeChain({ chain, luts, matrices, light = false }: BakeOrder): Result<string> {
  const ops = opsOf(chain, luts);
  if (!ops.ok) return ops;
  if (matrices === null) {
    const said = sayChain(chain);
    return ok(
      writeCube({
        cube: bakeCube(compile(ops.value), besidePoints, plain),
        title: said,
        notes: ['full range in and out', said],
      }),
    );
  }
  const [before, after] = matrices;
  if (after !== null)
    return ok(writeCube({ cube: bakeCube(compile(forLutFilter(ops.value, before, after)), runPoints, plain) }));
  const floats = compile(forFloatLutFilter(ops.value, before));
  const squeeze = (rgb: Float64Array): void => {
    floats(rgb);
    for (let c = 0; c < 3; c += 1) rgb[c] = squeezed(rgb[c] as number);
  };
  return ok(writeCube({ cube: bakeCube(light ? squeeze : floats, runPoints, plain) }));
}

/** A frame of an original and what became of it, to be held against the chain itself. */
export interface ColourProofOrder {
  chain: Chain;
  luts: LutTexts;
  matrices: readonly [before: string, after: string];
  sample: FrameSample;
  bitDepth: number;
}

/** Holds an output's decoded frame against its chain; the light above white too, where it has floats for it. */
export function proveColour({ chain, luts, matrices, sample, bitDepth }: ColourProofOrder): Result<Comparison[]> {
  const ops = opsOf(chain, luts);
  const { x, y, burn, frame } = sample;
  const covered = (left: number, top: number, width: number, height: number): boolean =>
    burnt(burn, { x: x + left, y: y + top, width, height }, frame);
  if (!ops.ok) return ops;
  const byChain = colourComparison(
    colourDifference({ ...sample, covered }, ops.value, matrices, bitDepth),
    bitDepth,
    frame,
  );
  const light = sample.light ? lightComparison(sample, sample.light, ops.value, matrices[0]) : null;
  return ok(light ? [byChain, light] : [byChain]);
}

/** A frame of an original as it comes to its chain, and what became of it: legal codes of 16 bits. */
export interface SeenOrder {
  chain: Chain;
  luts: LutTexts;
  matrices: readonly [before: string, after: string];
  /** Where the picture lies in its raster. */
  window: Window;
  before: Uint16Array;
  after: Uint16Array;
  /** The state whose display it is shown on; BT.709's where null. */
  state: string | null;
  burn: BurnPlan | null;
  frame: number;
}

/** How far an output's frame is seen from what the chain itself makes of its original's. */
export function seenByChain({
  chain,
  luts,
  matrices,
  window,
  state,
  burn,
  frame,
  ...planes
}: SeenOrder): Result<SeenApart> {
  const ops = opsOf(chain, luts);
  if (!ops.ok) return ops;
  const { x, y, width, height } = window;
  const named = state === null ? null : colourState(state);
  return ok(
    seenApart(
      { width, height, planes: planes.before, matrix: matrices[0], ops: ops.value },
      { width, height, planes: planes.after, matrix: matrices[1] },
      named?.ok ? named.value : null,
      (left, top) => burnt(burn, { x: x + left, y: y + top, width: 1, height: 1 }, frame),
    ),
  );
}
