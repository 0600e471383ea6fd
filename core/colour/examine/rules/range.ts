import { code, type LutRule } from '../finding.ts';
import { guessRange } from '../guess.ts';

/**
 * It was made for legal range, on one side or both: used as full, blacks are lifted and whites dull, or both crushed.
 */
export const legalRange: LutRule = (facts) => {
  const { rangeIn, rangeOut } = guessRange(facts);
  if (rangeIn === 'full' && rangeOut === 'full') return null;
  const sides = rangeIn === rangeOut ? 'in and out' : rangeIn === 'legal' ? 'in' : 'out';
  return {
    rule: 'legalRange',
    level: 'decide',
    text: `It looks made for legal range ${sides}: black comes out at ${code(facts.black[1])}, white at ${code(facts.white[1])} of 1023`,
    remedy: `State its range as legal ${sides} where it is used`,
    picture: {
      kind: 'neutral',
      marks:
        rangeIn === 'legal'
          ? [
              [0, 64 / 1023],
              [940 / 1023, 1],
            ]
          : [],
    },
  };
};

/** It gives values that no file holds. */
export const beyondRange: LutRule = (facts) => {
  if (facts.lowest > -0.02 && facts.highest < 1.1) return null;
  return {
    rule: 'beyondRange',
    level: 'note',
    text: `It gives values from ${code(facts.lowest)} to ${code(facts.highest)} of 1023`,
    remedy: 'What lies outside 0–1023 is cut off in a file',
    picture: { kind: 'channels', marks: [] },
  };
};
