import { lumaOf } from '../facts.ts';
import { code, stretches, type LutRule } from '../finding.ts';

const flat = 1e-5;

/** A stretch of greys that all come out the same, at the dark or the bright end. */
function clipped(end: 'dark' | 'bright'): LutRule {
  return (facts) => {
    const luma = (i: number): number =>
      lumaOf(facts.neutral[i * 3] as number, facts.neutral[i * 3 + 1] as number, facts.neutral[i * 3 + 2] as number);
    const last = facts.inputs.length - 1;
    const edge = luma(end === 'dark' ? 0 : last);
    let i = end === 'dark' ? 0 : last;
    const step = end === 'dark' ? 1 : -1;
    while (i + step >= 0 && i + step <= last && Math.abs(luma(i + step) - edge) < flat) i += step;
    const share = Math.abs(i - (end === 'dark' ? 0 : last)) / last;
    if (share < 0.01 || share > 0.99) return null;
    const at = facts.inputs[i] as number;
    const marks = stretches(facts, (n) => (end === 'dark' ? n <= i : n >= i));
    return {
      rule: end === 'dark' ? 'clipsBlack' : 'clipsWhite',
      level: share > 0.2 ? 'decide' : 'note',
      text:
        end === 'dark'
          ? `Everything below ${code(at)} comes out as ${code(edge)}`
          : `Everything above ${code(at)} comes out as ${code(edge)}`,
      remedy:
        share > 0.2
          ? 'See that it gets the range it was made for: a legal picture read as full looks like this'
          : 'Detail beyond that is gone in what it is baked into',
      picture: { kind: 'neutral', marks },
    };
  };
}

export const clipsBlack = clipped('dark');
export const clipsWhite = clipped('bright');
