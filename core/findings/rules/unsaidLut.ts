import type { Rule } from '../finding.ts';

/** A LUT ends the clip's chain, and neither it nor anybody says what the picture is behind it. */
export const unsaidLut: Rule = {
  level: 'decide',
  look: ({ unsaidLut: name }) =>
    name === null
      ? null
      : {
          text: `What ${name} gives is not said`,
          why: `${name} ends its chain, and nobody said what the picture is behind it: outputs that it is baked into state no curve and no primaries`,
          remedy: 'Say on the bench what it gives, or what the picture is to be; or go on, and they stay unstated',
        },
};
