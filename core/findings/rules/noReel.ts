import type { Rule } from '../finding.ts';

/** Clips of a day share timecode; the reel tells them apart. */
export const noReel: Rule = {
  level: 'note',
  look: ({ clip, reel }) =>
    clip.video && clip.timecode && !reel
      ? {
          text: 'No reel',
          why: 'It has timecode but no reel, so two cameras that ran together cannot be told apart by them',
          remedy: 'Set the reel, for instance from the name of file or folder',
        }
      : null,
};
