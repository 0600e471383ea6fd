import type { Rule } from '../finding.ts';

/** Without timecode, an output can be relinked by name and length only. */
export const noTimecode: Rule = {
  level: 'decide',
  look: ({ clip }) =>
    clip.video && !clip.timecode
      ? {
          text: 'No timecode',
          why: 'The file states no start timecode, so outputs relink by name and length only',
          remedy: 'Go on if its name is its own, or set a timecode where it was written down',
        }
      : null,
};
