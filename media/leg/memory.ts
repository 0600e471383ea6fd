import type { LegPlan } from '@relay/core/recipe/legPlan';
import type { Raster } from '@relay/core/shape/raster';
import { memoryFor } from '../process/sandbox.ts';

/** Bytes that a command may take which handles pictures of these rasters. */
export function pictureMemory(rasters: readonly (Raster | null | undefined)[]): number {
  return memoryFor(rasters.reduce((sum, raster) => sum + (raster ? raster.width * raster.height : 0), 0));
}

/** Bytes that a leg's command may take: by its original's raster and all its outputs'. */
export function legMemory({ original, outputs }: LegPlan): number {
  return pictureMemory([original.video?.raster, ...outputs.map(({ video }) => video.raster)]);
}
