import { formatRate } from '../../time/rate.ts';
import { equal } from '../../time/rational.ts';
import type { Rule } from '../finding.ts';

/** Not at the production's rate. */
export const otherRate: Rule = {
  level: 'note',
  look: ({ clip: { video }, productionRate }) =>
    video?.rateConstant && productionRate && !equal(video.rate, productionRate)
      ? {
          text: `${formatRate(video.rate)}, not ${formatRate(productionRate)}`,
          why: `The production runs at ${formatRate(productionRate)}`,
          remedy: 'Outputs keep its own rate; say how it is to be conformed where it is cut',
        }
      : null,
};
