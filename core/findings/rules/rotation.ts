import type { Rule } from '../finding.ts';

/** The file asks players to turn its pictures. */
export const rotation: Rule = {
  level: 'note',
  look: ({ clip: { video } }) =>
    video && video.quarterTurns !== 0
      ? {
          text: `To be turned ${video.quarterTurns * 90}°`,
          why: 'The camera was held on its side and noted it',
          remedy: 'Outputs are made upright',
        }
      : null,
};
