import { displayAspect } from '../../shape/raster.ts';
import { formatFraction, toNumber } from '../../time/rational.ts';
import type { Rule } from '../finding.ts';

/**
 * Rasters that never have square pixels: standard definition (ITU-R BT.601) and the narrow ones of tape formats and
 * broadcast MPEG.
 */
const narrowRasters = new Set([
  '720x576',
  '720x480',
  '720x486',
  '704x576',
  '704x480',
  '1440x1080',
  '1280x1080',
  '960x720',
]);

/** Whether a picture could be meant to be shown in such a shape, upright phones and widest films included. */
export function couldBeShown(aspect: number): boolean {
  return aspect >= 0.4 && aspect <= 3.7;
}

/** The stated pixel aspect does not go with the raster. */
export const pixelAspectContradicts: Rule = {
  level: 'decide',
  look: ({ clip: { video } }) => {
    if (!video) return null;
    const { raster } = video;
    const shown = toNumber(displayAspect(raster, video.pixelAspect));
    const remedy = 'Look at something round in the picture, then state the pixel aspect';
    if (!couldBeShown(shown))
      return {
        text: `Pixels ${formatFraction(video.pixelAspect, ':')} cannot be`,
        why: `${raster.width}×${raster.height} would be shown at ${shown.toFixed(2)}:1`,
        remedy,
      };
    return toNumber(video.pixelAspect) === 1 && narrowRasters.has(`${raster.width}x${raster.height}`)
      ? {
          text: `${raster.width}×${raster.height} with square pixels?`,
          why: `Material of this raster usually has pixels that are not square; ${video.pixelAspectTagged ? 'the file says they are' : 'the file says nothing'}`,
          remedy,
        }
      : null;
  },
};
