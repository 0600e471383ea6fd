import { formatRate } from '../../time/rate.ts';
import type { Rule } from '../finding.ts';

/** Pictures do not follow each other evenly. */
export const varyingRate: Rule = {
  level: 'decide',
  look: ({ clip: { video } }) => {
    if (!video || video.rateConstant) return null;
    const span = video.rateVaries
      ? ` ${formatRate(video.rateVaries.slowest)}–${formatRate(video.rateVaries.fastest)}`
      : '';
    return {
      text: `Rate varies${span}`,
      why: 'Pictures come unevenly, as phones and screen recorders make them; editing needs an even rate',
      remedy: 'Outputs get the nearest even rate, with frames dropped or repeated; go on, or record it again',
    };
  },
};
