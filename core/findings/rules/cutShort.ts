import type { Rule } from '../finding.ts';

/** The file ends before its own index says it does. */
export const cutShort: Rule = {
  level: 'decide',
  look: ({ clip }) =>
    clip.cutShort
      ? {
          text: `Cut short: ${clip.cutShort}`,
          why: 'The file ends before its index says it does: its copy broke off, or the recording did',
          remedy: 'Copy it from the card again, or go on with what is there',
        }
      : null,
};
