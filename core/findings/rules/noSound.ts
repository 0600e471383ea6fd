import type { Rule } from '../finding.ts';

/** A picture without sound. */
export const noSound: Rule = {
  level: 'note',
  look: ({ clip }) =>
    clip.video && clip.audio.length === 0
      ? {
          text: 'No sound',
          why: 'The file has no sound track',
          remedy: "Nothing, if it was shot mute; else find the recorder's roll",
        }
      : null,
};
