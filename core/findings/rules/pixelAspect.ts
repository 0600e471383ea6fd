import { displayAspect } from '../../shape/raster.ts';
import { formatFraction, toNumber } from '../../time/rational.ts';
import type { Rule } from '../finding.ts';
import { couldBeShown } from './pixelAspectContradicts.ts';

/** Pixels that are not square, as stated. */
export const pixelAspect: Rule = {
  level: 'note',
  look: ({ clip: { video } }) =>
    video && toNumber(video.pixelAspect) !== 1 && couldBeShown(toNumber(displayAspect(video.raster, video.pixelAspect)))
      ? {
          text: `Pixels ${formatFraction(video.pixelAspect, ':')}`,
          why: `Shown at ${toNumber(displayAspect(video.raster, video.pixelAspect)).toFixed(2)}:1`,
          remedy: 'Outputs are made with square pixels',
        }
      : null,
};
