import { formatRaster } from '../../shape/raster.ts';
import type { Rule } from '../finding.ts';

/** Black bars inside the picture. Proposed as a crop, never cut by itself. */
export const bars: Rule = {
  level: 'note',
  look: ({ measured }) => {
    const found = measured?.picture?.bars;
    if (!found || found.confidence < 0.5) return null;
    const sides = [
      found.left + found.right > 0 ? `${found.left} and ${found.right} columns` : null,
      found.top + found.bottom > 0 ? `${found.top} and ${found.bottom} rows` : null,
    ].filter((part) => part !== null);
    return {
      text: `Bars burnt in, ${formatRaster(found.crop)} inside`,
      why: `${sides.join(', ')} of black in ${Math.round(found.confidence * 100)} % of the pictures looked at${found.marked ? ', with a mark standing in them' : ''}`,
      remedy: `A crop of ${formatRaster(found.crop)} at ${found.crop.x}, ${found.crop.y} would leave them out; nothing is cropped unless somebody says so`,
    };
  },
};
