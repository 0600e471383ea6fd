import { isInterlaced } from '../../clip/description.ts';
import type { Rule } from '../finding.ts';

/** Pictures made of two fields. */
export const interlaced: Rule = {
  level: 'note',
  look: ({ clip: { video } }) =>
    video && isInterlaced(video.scan)
      ? {
          text: video.scan === 'top-field-first' ? 'Interlaced, top field first' : 'Interlaced, bottom field first',
          why: 'Each picture holds two moments',
          remedy: 'Intermediates keep the fields, proxies are deinterlaced',
        }
      : null,
};
