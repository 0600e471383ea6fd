import type { Rule } from '../finding.ts';

/** The roll that it came on is not proved to be what was on the card. */
export const copyNotProved: Rule = {
  level: 'stop',
  look: ({ custody }) =>
    custody === 'unproved'
      ? {
          text: 'Copy not proved',
          why: 'Its roll is not yet verified against the card, or differs from it',
          remedy: 'Finish or repeat the arrival; the roll says what is missing',
        }
      : null,
};
