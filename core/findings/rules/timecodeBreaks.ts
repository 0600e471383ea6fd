import { plural } from '../words.ts';
import type { Rule } from '../finding.ts';

/** Timecode jumps inside the file; outputs carry one start and count on from it. */
export const timecodeBreaks: Rule = {
  level: 'decide',
  look: ({ measured }) => {
    const first = measured?.timecodeBreaks[0];
    return first
      ? {
          text: `Timecode breaks at ${first.found}`,
          why: `At frame ${first.frame} it goes on with ${first.found} where ${first.expected} would follow${(measured?.timecodeBreaks.length ?? 0) > 1 ? `, and at ${plural((measured?.timecodeBreaks.length ?? 1) - 1, 'other place')}` : ''}`,
          remedy: 'Relink what comes after by frames, not by timecode',
        }
      : null;
  },
};
