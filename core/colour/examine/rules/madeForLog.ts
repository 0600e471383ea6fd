import { guessLog } from '../guess.ts';
import type { LutRule } from '../finding.ts';

/** Beyond this no curve makes a plausible picture, and nothing is said. */
const plausible = 0.75;

/** The camera log that it was likely made for. */
export const madeForLog: LutRule = (facts) => {
  const [first, second] = guessLog(facts);
  if (!first || first.distance > plausible) return null;
  const close = second && second.distance - first.distance < 0.08;
  return {
    rule: 'madeForLog',
    level: 'note',
    text: `It looks made for ${first.name}${close ? `, or ${second.name}` : ''}, towards a display`,
    remedy: 'A guess from its tone: ask whoever made it',
    picture: { kind: 'neutral', marks: [] },
  };
};
