import { lumaOf } from '../facts.ts';
import { stretches, type LutRule } from '../finding.ts';

/** Brighter greys come out darker: pictures solarise there. */
export const neutralFalls: LutRule = (facts) => {
  const luma = (i: number): number =>
    lumaOf(facts.neutral[i * 3] as number, facts.neutral[i * 3 + 1] as number, facts.neutral[i * 3 + 2] as number);
  const marks = stretches(facts, (i) => i > 0 && luma(i) < luma(i - 1) - 1e-6);
  let fall = 0;
  let highest = -Infinity;
  for (let i = 0; i < facts.inputs.length; i += 1) {
    highest = Math.max(highest, luma(i));
    fall = Math.max(fall, highest - luma(i));
  }
  if (marks.length === 0 || fall * 1023 < 0.25) return null;
  const whole = luma(facts.inputs.length - 1) < luma(0);
  return {
    rule: 'neutralFalls',
    level: fall * 1023 >= 2 ? 'stop' : 'decide',
    text: whole
      ? 'It turns light into dark: a negative'
      : `Brighter greys come out darker, by up to ${(fall * 1023).toFixed(1)} of 1023`,
    remedy: whole ? 'Use it only where a negative is meant' : 'Ask for the LUT to be made again',
    picture: { kind: 'neutral', marks },
  };
};
