import { formatRaster } from '../../shape/raster.ts';
import type { Rule } from '../finding.ts';

/** Odd widths or heights, which 4:2:2 and 4:2:0 codecs cannot hold. */
export const oddRaster: Rule = {
  level: 'note',
  look: ({ clip: { video } }) =>
    video && (video.raster.width % 2 !== 0 || video.raster.height % 2 !== 0)
      ? {
          text: `Odd raster ${formatRaster(video.raster)}`,
          why: 'Most codecs hold even rasters only',
          remedy: 'Outputs are brought to the nearest even raster',
        }
      : null,
};
