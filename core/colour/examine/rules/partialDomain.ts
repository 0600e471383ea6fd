import type { LutRule } from '../finding.ts';

/** It says something only about a part of what a picture holds, or about more. */
export const partialDomain: LutRule = (facts) => {
  const [from, to] = facts.domain;
  if (from <= 0 && to >= 1) return null;
  return {
    rule: 'partialDomain',
    level: 'decide',
    text: `It covers inputs from ${from.toFixed(3)} to ${to.toFixed(3)} only`,
    remedy: 'Everything outside is held at its edge; see that it gets what it was made for',
    picture: { kind: 'neutral', marks: [[Math.max(0, from), Math.min(1, to)]] },
  };
};
