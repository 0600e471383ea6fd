import { latticeEdge } from '../facts.ts';
import type { LutRule } from '../finding.ts';

/** It gives what it takes, to half a 10-bit code. */
export const identity: LutRule = (facts) => {
  const [from, to] = facts.domain;
  const at = (i: number): number => from + ((to - from) * i) / (latticeEdge - 1);
  for (let i = 0; i < facts.lattice.length / 3; i += 1) {
    const wanted = [
      at(i % latticeEdge),
      at(Math.floor(i / latticeEdge) % latticeEdge),
      at(Math.floor(i / latticeEdge ** 2)),
    ];
    for (let c = 0; c < 3; c += 1)
      if (Math.abs((facts.lattice[i * 3 + c] as number) - (wanted[c] as number)) > 0.5 / 1023) return null;
  }
  return {
    rule: 'identity',
    level: 'note',
    text: 'It changes nothing: every colour comes out as it goes in',
    remedy: 'Leave it out, or look for the file that was meant',
    picture: { kind: 'neutral', marks: [[from, to]] },
  };
};
