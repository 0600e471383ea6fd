import type { Problem } from '../../result.ts';
import { colourState, type ColourState } from '../states.ts';
import { cdlProblem } from '../ops/cdl.ts';
import type { Chain } from './chain.ts';

function known(name: string | null): ColourState | null {
  const state = name === null ? null : colourState(name);
  return state?.ok ? state.value : null;
}

/** What a picture is at the end of a chain; null where nobody said. Needs no LUT's content: each states what it gives. */
export function chainEnd(chain: Chain): ColourState | null {
  let name = chain.input;
  for (const step of chain.steps) {
    if (step.muted) continue;
    name = step.kind === 'lut' ? step.gives : (step.worksIn ?? name);
  }
  return known(chain.output ?? name);
}

/** The LUT behind which nobody said what the picture is; null where that is known, or where none acts. */
export function unsaidLut(chain: Chain): string | null {
  const last = chain.steps.findLast((step) => step.kind === 'lut' && !step.muted);
  return last && chainEnd(chain) === null ? last.name : null;
}

/** Why a chain cannot be, as far as can be told without its LUTs; null when it can. */
export function chainProblem(chain: Chain): Problem | null {
  const names = [
    chain.input,
    chain.output,
    ...chain.steps.flatMap((step) => (step.kind === 'lut' ? [step.takes, step.gives] : [step.worksIn])),
  ];
  for (const name of names) {
    const state = name === null ? null : colourState(name);
    if (state && !state.ok) return state.problem;
  }
  for (const step of chain.steps) {
    const problem = step.kind === 'cdl' ? cdlProblem(step.cdl) : null;
    if (problem) return { what: `${step.name}: ${problem}`, remedy: 'Correct the CDL, or mute it' };
  }
  return null;
}
