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

/**
 * The way of the picture through a chain. A conversion is put in only where two stated ends differ: what a step leaves
 * *as it comes* is neither converted to nor from.
 */
export function planChain(chain: Chain, luts: LutLookup): Result<PlannedChain> {
  const input = stateOrNull(chain.input);
  if (!input.ok) return input;
  const output = stateOrNull(chain.output);
  if (!output.ok) return output;
  const steps: PlannedStep[] = [];
  let state = input.value;
  let rendered = false;
  const convertTo = (to: ColourState): Result<null> => {
    if (!state || state.id === to.id) return ok(null);
    const shows =
      chain.rendering !== null && displayOf(to) !== null && displayOf(state) === null && state.curve.light === 'scene';
    const way = conversion(state, to, shows ? chain.rendering : null);
    if (!way.ok) return way;
    if (way.value.length > 0) {
      steps.push({
        kind: 'conversion',
        id: null,
        name: `${state.name} to ${to.name}`,
        note: shows ? `shown by the rendering ${chain.rendering}` : 'colorimetric',
        ops: way.value,
        after: to.id,
      });
      rendered ||= shows;
    }
    state = to;
    return ok(null);
  };
  const start = rangeChange('full', chain.inputRange);
  if (start.length > 0)
    steps.push({
      kind: 'conversion',
      id: null,
      name: 'Codes as the camera wrote them',
      note: 'legal range undone',
      ops: start,
      after: state?.id ?? null,
    });
  for (const step of chain.steps) {
    if (step.muted) continue;
    if (step.kind === 'cdl') {
      const worksIn = stateOrNull(step.worksIn);
      if (!worksIn.ok) return worksIn;
      if (worksIn.value) {
        const way = convertTo(worksIn.value);
        if (!way.ok) return way;
        state = worksIn.value;
      }
      steps.push({
        kind: 'cdl',
        id: step.id,
        name: step.name,
        note: state ? `CDL, in ${state.name}` : 'CDL',
        ops: [{ op: 'cdl', cdl: step.cdl, reverse: false, clamp: true }],
        after: state?.id ?? null,
      });
      continue;
    }
    const [takes, gives] = [stateOrNull(step.takes), stateOrNull(step.gives)];
    if (!takes.ok) return takes;
    if (!gives.ok) return gives;
    const file = luts(step.lut);
    if (!file)
      return fail(`The LUT ${step.name} is not in the cabinet`, 'Bring its file in again, or take the step out');
    if (takes.value) {
      const way = convertTo(takes.value);
      if (!way.ok) return way;
    }
    state = gives.value;
    const ranges =
      step.rangeIn === step.rangeOut
        ? `${step.rangeIn} range in and out`
        : `${step.rangeIn} range in, ${step.rangeOut} out`;
    steps.push({
      kind: 'lut',
      id: step.id,
      name: step.name,
      note: `${sayLut(file)}, ${ranges}`,
      ops: [...rangeChange('full', step.rangeIn), ...file.ops, ...rangeChange(step.rangeOut, 'full')],
      after: state?.id ?? null,
    });
  }
  // A chain ends with the picture scaled between black and white, as it began.
  if (output.value) {
    const way = convertTo(output.value);
    if (!way.ok) return way;
  }
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
