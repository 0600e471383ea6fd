import type { LutLine } from '@relay/contract/colour';
import type { CdlStep, Chain, ChainStep, LutStep } from '@relay/core/colour/chain/chain';
import { noCdl } from '@relay/core/colour/ops/cdl';
import type { Cdl } from '@relay/core/colour/ops/op';

/** Changes to a chain on the bench; each gives a new chain. */

function freshId(chain: Chain): string {
  const taken = new Set(chain.steps.map((step) => step.id));
  for (let n = chain.steps.length + 1; ; n += 1) if (!taken.has(`s${n}`)) return `s${n}`;
}

export function withLut(chain: Chain, lut: LutLine): Chain {
  const step: LutStep = {
    kind: 'lut',
    id: freshId(chain),
    name: lut.name,
    muted: false,
    lut: lut.hash,
    takes: lut.takes,
    gives: lut.gives,
    rangeIn: lut.rangeIn,
    rangeOut: lut.rangeOut,
  };
  return { ...chain, steps: [...chain.steps, step] };
}

/** A CDL goes before the LUTs, where grades are made. */
export function withCdl(chain: Chain, name: string, cdl: Cdl = noCdl): Chain {
  const step: CdlStep = { kind: 'cdl', id: freshId(chain), name, muted: false, cdl, worksIn: null };
  const at = chain.steps.findIndex((one) => one.kind === 'lut');
  const place = at < 0 ? chain.steps.length : at;
  return { ...chain, steps: [...chain.steps.slice(0, place), step, ...chain.steps.slice(place)] };
}

export function changed<Step extends ChainStep>(chain: Chain, id: string, change: Partial<Step>): Chain {
  return {
    ...chain,
    steps: chain.steps.map((step) => (step.id === id ? { ...step, ...change } : step)),
  };
}

export function without(chain: Chain, id: string): Chain {
  return { ...chain, steps: chain.steps.filter((step) => step.id !== id) };
}

/** Moves a step by places, as far as there are any. */
export function moved(chain: Chain, id: string, by: number): Chain {
  const from = chain.steps.findIndex((step) => step.id === id);
  const to = Math.max(0, Math.min(chain.steps.length - 1, from + by));
  if (from < 0 || to === from) return chain;
  const steps = [...chain.steps];
  const [step] = steps.splice(from, 1);
  if (step) steps.splice(to, 0, step);
  return { ...chain, steps };
}
