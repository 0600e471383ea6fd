import type { Comparison } from '@relay/contract/checks';
import { bothOf } from '@relay/core/shape/compared';
import type { Raster } from '@relay/core/shape/raster';

/** How two pictures are looked at, in the order of the shader's numbers. */
export const lookings = ['side by side', 'wipe', 'difference', 'left alone', 'right alone'] as const;
export type Looking = (typeof lookings)[number];

/** How large: fitted to its place, or in percent of the samples of whichever has more of them. */
export const zooms = ['fit', 100, 200, 400, 800] as const;
export type Zoom = (typeof zooms)[number];

/** By how much a difference is strengthened. */
export const gains = [1, 4, 16, 64] as const;
export type Gain = (typeof gains)[number];

export interface Place {
  x: number;
  y: number;
}

/** What of the plane is shown, and how. */
export interface View {
  looking: Looking;
  /** Place of the plane in the middle of a pane. */
  centre: Place;
  /** Canvas dots to the plane's unit. */
  scale: number;
  wipe: number;
  gain: number;
  /** Between samples, or each as a square of its own. */
  smoothly: boolean;
}

/** Samples to the plane's unit of whichever picture has more of them. */
function density({ output, against }: Comparison): number {
  return Math.max(output.raster.height / output.box.height, against.raster.height / against.box.height);
}

/** Dots to the plane's unit. `place` is the canvas in dots. */
export function scaleOf(both: Comparison, looking: Looking, zoom: Zoom, place: Raster): number {
  if (zoom !== 'fit') return (density(both) * zoom) / 100;
  const box = fitted(both, looking);
  const pane = looking === 'side by side' ? place.width / 2 : place.width;
  return Math.min(pane / box.width, place.height / box.height) * 0.985;
}

/** What is fitted into a pane: all of both; of a difference only what both have lies in sight of it. */
function fitted(both: Comparison, looking: Looking) {
  return looking === 'difference' ? both.output.box : bothOf({ first: both.output.box, second: both.against.box });
}

/** The place in the middle, `centre` being in shares of what is fitted. */
export function centreOf(both: Comparison, looking: Looking, zoom: Zoom, centre: Place): Place {
  const box = fitted(both, looking);
  const share = zoom === 'fit' ? { x: 0.5, y: 0.5 } : centre;
  return { x: box.x + share.x * box.width, y: box.y + share.y * box.height };
}

/** The shares of the middle after a drag by so many dots. */
export function dragged(both: Comparison, looking: Looking, from: Place, by: Place, scale: number): Place {
  const box = fitted(both, looking);
  const clamp = (value: number): number => Math.min(1, Math.max(0, value));
  return { x: clamp(from.x - by.x / scale / box.width), y: clamp(from.y - by.y / scale / box.height) };
}

/** How wide a frame in full depth is asked for: as it will be seen, in steps, or every sample. */
export function wantedWidth(both: Comparison, side: 'output' | 'against', zoom: Zoom, scale: number): number {
  const { raster, box } = both[side];
  if (zoom !== 'fit') return raster.width;
  return Math.min(raster.width, Math.max(64, Math.ceil((box.width * scale) / 64) * 64));
}
