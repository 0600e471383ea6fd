import type { Rule } from '../finding.ts';

/** Captions or data beside picture and sound, which no deliverable carries yet. */
export const otherStreams: Rule = {
  level: 'note',
  look: ({ clip }) =>
    clip.otherStreams.length > 0
      ? {
          text: `Also carries ${clip.otherStreams.join(', ')}`,
          why: 'Streams beside picture and sound are not taken into outputs',
          remedy: 'Keep the original where they matter',
        }
      : null,
};
