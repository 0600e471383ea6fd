import type { Level } from '../../findings/finding.ts';
import type { LutFacts } from './facts.ts';

/** What shows a finding: where along the neutral axis or a channel, or which lattice points. */
export type FindingPicture =
  | { kind: 'neutral'; /** Stretches of the input, 0–1. */ marks: readonly (readonly [number, number])[] }
  | { kind: 'channels'; marks: readonly (readonly [number, number])[] }
  | {
      kind: 'lattice';
      /** Inputs of the points in question, at most 400. */ points: readonly (readonly [number, number, number])[];
    };

/** Something about a LUT that is to be known or decided before it is used. */
export interface LutFinding {
  rule: string;
  level: Level;
  text: string;
  remedy: string;
  picture: FindingPicture;
}

/** One thing a LUT is examined for. A new one is a file in `rules/` and a line in `examine.ts`. */
export type LutRule = (facts: LutFacts) => LutFinding | null;

/** A share of full scale as a 10-bit code. */
export function code(value: number): string {
  return (value * 1023).toFixed(value * 1023 < 10 && value > 0 ? 1 : 0);
}

/** Stretches of samples for which a test holds, as stretches of the input. */
export function stretches(facts: LutFacts, holds: (i: number) => boolean): [number, number][] {
  const found: [number, number][] = [];
  let start = -1;
  for (let i = 0; i <= facts.inputs.length; i += 1) {
    const here = i < facts.inputs.length && holds(i);
    if (here && start < 0) start = i;
    if (!here && start >= 0) {
      found.push([facts.inputs[start] as number, facts.inputs[i - 1] as number]);
      start = -1;
    }
  }
  return found;
}
