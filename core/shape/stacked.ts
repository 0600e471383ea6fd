import type { Raster } from './raster.ts';
import type { Window } from './window.ts';

/** Two pictures in one, the first above the second, so that they are never a frame apart. */
export interface Stacked {
  raster: Raster;
  first: Window;
  second: Window;
}

/** Lays two rasters on each other, both at the left; what is beside the narrower is nothing. */
export function stacked(first: Raster, second: Raster): Stacked {
  return {
    raster: { width: Math.max(first.width, second.width), height: first.height + second.height },
    first: { x: 0, y: 0, ...first },
    second: { x: 0, y: first.height, ...second },
  };
}
