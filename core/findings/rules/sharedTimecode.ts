import { someOf } from '../words.ts';
import type { Rule } from '../finding.ts';

/** Another clip on the same reel covers some of the same timecode. */
export const sharedTimecode: Rule = {
  level: 'decide',
  look: ({ reel, overlapping }) =>
    overlapping.length > 0
      ? {
          text: 'Timecode shared on its reel',
          why: `Reel ${reel ?? ''} has the same timecode in ${someOf(overlapping)}`,
          remedy: 'Set a reel of its own for one of them',
        }
      : null,
};
