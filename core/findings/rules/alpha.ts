import type { Rule } from '../finding.ts';

/** A matte travels with the picture. */
export const alpha: Rule = {
  level: 'note',
  look: ({ clip: { video } }) =>
    video?.alpha
      ? {
          text: 'Carries alpha',
          why: 'Its pictures have a matte',
          remedy: 'Only deliverables that can hold alpha keep it; the others show it on black',
        }
      : null,
};
