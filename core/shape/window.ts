import { fail, ok, type Result } from '../result.ts';
import { formatRaster, type Raster, type RasterSteps } from './raster.ts';

/** A rectangle of samples. */
export interface Window {
  x: number;
  y: number;
  width: number;
  height: number;
}

export const anchors = [
  'top left',
  'top',
  'top right',
  'left',
  'centre',
  'right',
  'bottom left',
  'bottom',
  'bottom right',
] as const;
/** Where a picture lies that is smaller than its raster, or what of it is kept where it is larger. */
export type Anchor = (typeof anchors)[number];

/** Columns and rows taken off the sides of the picture as it lies in the file. */
export interface Crop {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Offset of `inner` within `outer` for an anchor, on a multiple of `step`. */
function offset(outer: number, inner: number, where: 'start' | 'middle' | 'end', step: number): number {
  const free = outer - inner;
  const wanted = where === 'start' ? 0 : where === 'end' ? free : free / 2;
  return Math.min(Math.floor(free / step) * step, Math.round(wanted / step - 1e-9) * step) + 0;
}

/** Where a raster of `inner` lies in `outer`. */
export function placed(
  outer: Raster,
  inner: Raster,
  anchor: Anchor,
  steps: RasterSteps = { widthStep: 1, heightStep: 1 },
): { x: number; y: number } {
  const across = anchor.endsWith('left') ? 'start' : anchor.endsWith('right') ? 'end' : 'middle';
  const down = anchor.startsWith('top') ? 'start' : anchor.startsWith('bottom') ? 'end' : 'middle';
  return {
    x: offset(outer.width, inner.width, across, steps.widthStep),
    y: offset(outer.height, inner.height, down, steps.heightStep),
  };
}

/** A window as it lies after turning the raster clockwise by quarters. */
export function turnedWindow(window: Window, raster: Raster, quarters: number): Window {
  const { x, y, width, height } = window;
  switch (((quarters % 4) + 4) % 4) {
    case 1:
      return { x: raster.height - y - height, y: x, width: height, height: width };
    case 2:
      return { x: raster.width - x - width, y: raster.height - y - height, width, height };
    case 3:
      return { x: y, y: raster.width - x - width, width: height, height: width };
    default:
      return window;
  }
}

/** The window that a crop leaves; a problem where it leaves too little. */
export function croppedWindow(raster: Raster, crop: Crop | undefined, fieldwise: boolean): Result<Window> {
  if (!crop) return ok({ x: 0, y: 0, ...raster });
  const sides = [crop.left, crop.top, crop.right, crop.bottom];
  if (sides.some((side) => !Number.isInteger(side) || side < 0))
    return fail('a crop takes whole columns and rows off', 'State how many to take off each side');
  // Rows go in pairs where fields are kept, or the two would change places.
  const top = fieldwise ? Math.ceil(crop.top / 2) * 2 : crop.top;
  const bottom = fieldwise ? Math.ceil(crop.bottom / 2) * 2 : crop.bottom;
  const window = {
    x: crop.left,
    y: top,
    width: raster.width - crop.left - crop.right,
    height: raster.height - top - bottom,
  };
  return window.width >= 16 && window.height >= 16
    ? ok(window)
    : fail(`a crop of ${sides.join(', ')} leaves nothing of ${formatRaster(raster)}`, 'Take less off the sides');
}
