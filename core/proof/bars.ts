import { burnt } from '../burn/area.ts';
import type { Comparison } from './proof.ts';
import type { Sampled } from './smalls.ts';

/** Bars where they were planned: their luma even and the colour that was asked for. */
export function barComparison({ video: { geometry }, outputs, burn }: Sampled): Comparison[] {
  if (!geometry) return [];
  const { raster, active, padColour } = geometry;
  if (active.width === raster.width && active.height === raster.height) return [];
  const wanted = { black: 16, grey: 126, white: 235 }[padColour] * 256;
  let worst = 0;
  for (const [n, { width, height, luma }] of outputs) {
    for (let y = 0; y < height; y += 1) {
      for (let x = 0; x < width; x += 1) {
        // Samples that touch the picture are left out: small pictures mix them with it.
        const [left, right, top, bottom] = [
          ((x - 1) * raster.width) / width,
          ((x + 2) * raster.width) / width,
          ((y - 1) * raster.height) / height,
          ((y + 2) * raster.height) / height,
        ];
        if (right > active.x && left < active.x + active.width && bottom > active.y && top < active.y + active.height)
          continue;
        if (burnt(burn, { x: left, y: top, width: right - left, height: bottom - top }, n)) continue;
        worst = Math.max(worst, Math.abs((luma[y * width + x] as number) - wanted));
      }
    }
  }
  return [
    {
      name: 'active area',
      planned: `${active.width}×${active.height} at ${active.x}, ${active.y}, ${padColour} around it`,
      found: `around it within ${(worst / 64).toFixed(1)} of 1023`,
      holds: worst < 6 * 256,
    },
  ];
}
