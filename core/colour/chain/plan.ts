import { fail, ok, type Result } from '../../result.ts';
import { conversion } from '../convert.ts';
import type { LutFile } from '../lut/read.ts';
import type { ColourOp } from '../ops/op.ts';
import { rangeChange } from '../range.ts';
import { displayOf } from '../rendering/display.ts';
import { colourState, type ColourState } from '../states.ts';
import type { Chain, ChainStep } from './chain.ts';

/** One stop on the picture's way, in the order it passes them. */
export interface PlannedStep {
  kind: 'conversion' | ChainStep['kind'];
  /** The chain's own step; null for a conversion that was put in between. */
  id: string | null;
  name: string;
  note: string;
  ops: ColourOp[];
  /** The state after it; null where nobody said. */
  after: string | null;
}

export interface PlannedChain {
  steps: PlannedStep[];
  ops: ColourOp[];
  /** What the picture is at the end; null where nobody said. */
  output: ColourState | null;
  /** True when a rendering for a display was used on the way. */
  rendered: boolean;
}

/** LUT files by the hash of their bytes. */
export type LutLookup = (hash: string) => LutFile | null;

function stateOrNull(name: string | null): Result<ColourState | null> {
  return name === null ? ok(null) : colourState(name);
}

/** How far a chain is planned: its steps, and what the picture is there. */
interface Way {
  chain: Chain;
  steps: PlannedStep[];
  state: ColourState | null;
  rendered: boolean;
}

/** Puts a conversion in where the picture is something else than is wanted. */
function convertTo(way: Way, to: ColourState): Result<null> {
  const { state, chain } = way;
  if (!state || state.id === to.id) return ok(null);
  const shows =
    chain.rendering !== null && displayOf(to) !== null && displayOf(state) === null && state.curve.light === 'scene';
  const converted = conversion(state, to, shows ? chain.rendering : null);
  if (!converted.ok) return converted;
  if (converted.value.length > 0) {
    way.steps.push({
      kind: 'conversion',
      id: null,
      name: `${state.name} to ${to.name}`,
      note: shows ? `shown by the rendering ${chain.rendering}` : 'colorimetric',
      ops: converted.value,
      after: to.id,
    });
    way.rendered ||= shows;
  }
  way.state = to;
  return ok(null);
}

/** A CDL where it works, which may be elsewhere than the picture is. */
function planCdl(way: Way, step: Extract<ChainStep, { kind: 'cdl' }>): Result<null> {
  const worksIn = stateOrNull(step.worksIn);
  if (!worksIn.ok) return worksIn;
  if (worksIn.value) {
    const there = convertTo(way, worksIn.value);
    if (!there.ok) return there;
    way.state = worksIn.value;
  }
  way.steps.push({
    kind: 'cdl',
    id: step.id,
    name: step.name,
    note: way.state ? `CDL, in ${way.state.name}` : 'CDL',
    ops: [{ op: 'cdl', cdl: step.cdl, reverse: false, clamp: true }],
    after: way.state?.id ?? null,
  });
  return ok(null);
}

/** A LUT of the cabinet, from what it takes to what it gives. */
function planLut(way: Way, step: Extract<ChainStep, { kind: 'lut' }>, luts: LutLookup): Result<null> {
  const [takes, gives] = [stateOrNull(step.takes), stateOrNull(step.gives)];
  if (!takes.ok) return takes;
  if (!gives.ok) return gives;
  const file = luts(step.lut);
  if (!file) return fail(`The LUT ${step.name} is not in the cabinet`, 'Bring its file in again, or take the step out');
  if (takes.value) {
    const there = convertTo(way, takes.value);
    if (!there.ok) return there;
  }
  way.state = gives.value;
  const { rangeIn, rangeOut } = step;
  const ranges = rangeIn === rangeOut ? `${rangeIn} range in and out` : `${rangeIn} range in, ${rangeOut} out`;
  way.steps.push({
    kind: 'lut',
    id: step.id,
    name: step.name,
    note: `${sayLut(file)}, ${ranges}`,
    ops: [...rangeChange('full', rangeIn), ...file.ops, ...rangeChange(rangeOut, 'full')],
    after: gives.value?.id ?? null,
  });
  return ok(null);
}

/**
 * The way of the picture through a chain. A conversion is put in only where two stated ends differ: what a step leaves
 * *as it comes* is neither converted to nor from.
 */
export function planChain(chain: Chain, luts: LutLookup): Result<PlannedChain> {
  const [input, output] = [stateOrNull(chain.input), stateOrNull(chain.output)];
  if (!input.ok) return input;
  if (!output.ok) return output;
  const way: Way = { chain, steps: [], state: input.value, rendered: false };
  const start = rangeChange('full', chain.inputRange);
  if (start.length > 0)
    way.steps.push({
      kind: 'conversion',
      id: null,
      name: 'Codes as the camera wrote them',
      note: 'legal range undone',
      ops: start,
      after: input.value?.id ?? null,
    });
  for (const step of chain.steps.filter(({ muted }) => !muted)) {
    const planned = step.kind === 'cdl' ? planCdl(way, step) : planLut(way, step, luts);
    if (!planned.ok) return planned;
  }
  // A chain ends with the picture scaled between black and white, as it began.
  const end = output.value ? convertTo(way, output.value) : ok(null);
  if (!end.ok) return end;
  const { steps, state, rendered } = way;
  return ok({ steps, ops: steps.flatMap((step) => step.ops), output: output.value ?? state, rendered });
}

/** What a LUT is, in a few words: `33-point cube`. */
export function sayLut(file: LutFile): string {
  return (
    file.ops
      .map((op) => {
        switch (op.op) {
          case 'lut3d':
            return `${op.lut.size}-point cube`;
          case 'lut1d':
            return op.lut.halfDomain ? 'half-domain table' : `table of ${op.lut.size}`;
          case 'cdl':
            return 'CDL';
          default:
            return op.op;
        }
      })
      .join(' + ') || 'empty'
  );
}
