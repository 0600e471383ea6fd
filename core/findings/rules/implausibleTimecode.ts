import { formatRate } from '../../time/rate.ts';
import { timecodeToFrames } from '../../time/timecode.ts';
import type { Rule } from '../finding.ts';

/** A start that cannot exist at the clip's rate, or that nobody set. */
export const implausibleTimecode: Rule = {
  level: 'note',
  look: ({ clip }) => {
    const { timecode, video } = clip;
    if (!timecode || !video) return null;
    const remedy = 'Compare with the slate or the camera report before relinking by it';
    if (video.rateConstant && !timecodeToFrames(timecode.start, video.rate).ok) {
      return {
        text: `Timecode ${timecode.start} cannot be`,
        why: `${timecode.start} does not exist at ${formatRate(video.rate)}`,
        remedy,
      };
    }
    return /^00:00:00[:;]00$/.test(timecode.start)
      ? {
          text: 'Timecode starts at zero',
          why: 'It starts at 00:00:00:00, as cameras do whose clock nobody set; other clips may too',
          remedy,
        }
      : null;
  },
};
