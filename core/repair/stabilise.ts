import type { Window } from '../shape/window.ts';
import type { Raster } from '../shape/raster.ts';
import { toNumber, type Rational } from '../time/rational.ts';

/** How firmly a shaken camera is held: 1 (eased) to 3 (as on a tripod, pans kept). */
export type Firmness = 1 | 2 | 3;

/**
 * Seconds on each side over which the camera's way is evened out, and by how much the picture is enlarged to hide its
 * moving edges.
 */
const firmnesses: Readonly<Record<Firmness, { seconds: number; zoomPercent: number }>> = {
  1: { seconds: 0.25, zoomPercent: 5 },
  2: { seconds: 0.5, zoomPercent: 9 },
  3: { seconds: 1, zoomPercent: 15 },
};

/** What stabilising does to each picture at most. */
export interface Stabilising {
  /** Frames on each side that the way is evened out over. */
  smoothing: number;
  zoomPercent: number;
  /** Samples, and radians: no further than the enlargement hides. */
  maxShift: number;
  maxAngle: number;
}

/**
 * Plans stabilising for pictures of a raster at a rate. Shift takes three fifths of the hidden margin and turning a
 * third of it, so that no edge ever shows.
 */
export function planStabilising(firmness: Firmness, raster: Raster, rate: Rational): Stabilising {
  const { seconds, zoomPercent } = firmnesses[firmness];
  const margin = (Math.min(raster.width, raster.height) * (1 - 1 / (1 + zoomPercent / 100))) / 2;
  return {
    smoothing: Math.max(1, Math.min(1000, Math.round(seconds * toNumber(rate)))),
    zoomPercent,
    // 500 is as far as the filter goes.
    maxShift: Math.min(500, Math.floor(margin * 0.6)),
    maxAngle: Math.floor(((margin * 0.33) / (Math.max(raster.width, raster.height) / 2)) * 1e5) / 1e5,
  };
}

/** What remains of a picture: its middle, which is enlarged to the whole. */
export function keptOf({ zoomPercent }: Pick<Stabilising, 'zoomPercent'>, { width, height }: Raster): Window {
  const by = 1 + zoomPercent / 100;
  const kept = { width: Math.round(width / by), height: Math.round(height / by) };
  return { x: Math.round((width - kept.width) / 2), y: Math.round((height - kept.height) / 2), ...kept };
}
