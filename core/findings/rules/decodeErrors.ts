import type { Rule } from '../finding.ts';

/** Decoders complained of damage in what was looked at. */
export const decodeErrors: Rule = {
  level: 'decide',
  look: ({ clip, measured }) =>
    measured?.picture && measured.errors.length > 0 && !clip.cutShort
      ? {
          text: 'Decodes with errors',
          why: `Decoders complain: ${measured.errors.slice(0, 2).join('; ')}`,
          remedy: 'Watch it through; copy it from the card again if pictures are damaged',
        }
      : null,
};
