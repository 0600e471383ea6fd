import { colourState } from '../states.ts';
import type { Chain } from './chain.ts';

function stateName(name: string): string {
  const state = colourState(name);
  return state.ok ? state.value.name : name;
}

/** A chain in a few words: `S-Log3, S-Gamut3.Cine → Evening balance → BT.709`. */
export function sayChain(chain: Chain): string {
  return [
    chain.input ? stateName(chain.input) : null,
    ...chain.steps.filter((step) => !step.muted).map((step) => step.name),
    chain.output ? `${stateName(chain.output)}${chain.rendering ? ` by ${chain.rendering}` : ''}` : null,
  ]
    .filter((part) => part !== null)
    .join(' → ');
}

/** Whether a chain does anything to a picture. */
export function chainActs(chain: Chain): boolean {
  return (
    chain.steps.some((step) => !step.muted) ||
    (chain.input !== null && chain.output !== null && chain.input !== chain.output)
  );
}
