import { multiply, rational, toNumber, type Rational } from '../time/rational.ts';

/** A picture's size in stored samples. */
export interface Raster {
  width: number;
  height: number;
}

/** What a codec asks of a raster: its width a multiple of `widthStep`, its height of `heightStep`. */
export interface RasterSteps {
  widthStep: number;
  heightStep: number;
}

/** A raster that a picture was brought to, and by how much its shape is off because of whole samples. */
export interface FittedRaster {
  raster: Raster;
  /** Display aspect of the result over that of the source, less one: 0.001 is a tenth of a percent too wide. */
  aspectError: number;
}

/** Width : height as it is looked at: raster aspect times pixel aspect. */
export function displayAspect(raster: Raster, pixelAspect: Rational): Rational {
  return multiply(rational(raster.width, raster.height), pixelAspect);
}

/** Swapped when a picture is shown turned by a quarter. */
export function turned(raster: Raster, quarterTurns: number): Raster {
  return quarterTurns % 2 === 0 ? raster : { width: raster.height, height: raster.width };
}

function neighbours(value: number, step: number): number[] {
  const below = Math.max(step, Math.floor(value / step + 1e-9) * step);
  const above = Math.max(step, Math.ceil(value / step - 1e-9) * step);
  return below === above ? [below] : [below, above];
}

/**
 * The raster nearest to width × height that keeps `aspect` best within a codec's steps and, if given, a limit on
 * both sides. Between two equally good ones the smaller is taken.
 */
export function nearest(
  width: number,
  height: number,
  aspect: Rational,
  steps: RasterSteps,
  limit: Raster = { width: Infinity, height: Infinity },
): FittedRaster {
  const candidates = neighbours(width, steps.widthStep)
    .flatMap((w) => neighbours(height, steps.heightStep).map((h) => ({ width: w, height: h })))
    .filter((raster) => raster.width <= limit.width && raster.height <= limit.height)
    .map((raster) => ({ raster, aspectError: raster.width / raster.height / toNumber(aspect) - 1 }));
  candidates.sort((a, b) => Math.abs(a.aspectError) - Math.abs(b.aspectError) || a.raster.width - b.raster.width);
  const best = candidates[0];
  if (!best)
    throw new RangeError(
      `no raster of steps ${steps.widthStep}×${steps.heightStep} within ${limit.width}×${limit.height}`,
    );
  return best;
}

/**
 * The picture with square pixels and every sample kept: wide pixels widen it, tall ones heighten it. Fields must
 * not be scaled vertically as if they were one picture, so interlaced ones always change their width.
 */
export function squared(raster: Raster, pixelAspect: Rational, steps: RasterSteps, interlaced: boolean): FittedRaster {
  const aspect = displayAspect(raster, pixelAspect);
  if (toNumber(pixelAspect) >= 1 || interlaced) {
    return nearest(raster.height * toNumber(aspect), raster.height, aspect, steps);
  }
  return nearest(raster.width, raster.width / toNumber(aspect), aspect, steps);
}

/** The largest raster with square pixels inside `box`, never larger than the picture itself, made square. */
export function fittedWithin(raster: Raster, pixelAspect: Rational, box: Raster, steps: RasterSteps): FittedRaster {
  const aspect = displayAspect(raster, pixelAspect);
  const square =
    toNumber(pixelAspect) >= 1
      ? { width: raster.height * toNumber(aspect), height: raster.height }
      : { width: raster.width, height: raster.width / toNumber(aspect) };
  const scale = Math.min(1, box.width / square.width, box.height / square.height);
  return nearest(square.width * scale, square.height * scale, aspect, steps, {
    width: Math.max(box.width, box.height),
    height: Math.max(box.width, box.height),
  });
}

export function formatRaster(raster: Raster): string {
  return `${raster.width}×${raster.height}`;
}
