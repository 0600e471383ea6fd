import type { Rule } from '../finding.ts';

/** Sound without a picture: kept as a sound clip. */
export const soundOnly: Rule = {
  level: 'note',
  look: ({ clip }) =>
    clip.video
      ? null
      : { text: 'Sound only', why: "A recorder's file, kept as a sound clip", remedy: 'Nothing needs to be done' },
};
