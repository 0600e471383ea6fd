import type { Cdl, Transform } from './op.ts';

export const noCdl: Cdl = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 };

/** Rec. 709 weights, as ASC CDL v1.2 lays down whatever the gamut. */
const weights = [0.2126, 0.7152, 0.0722] as const;

/** Why a CDL cannot be, or null. */
export function cdlProblem(cdl: Cdl): string | null {
  const all = [...cdl.slope, ...cdl.offset, ...cdl.power, cdl.saturation];
  if (!all.every(Number.isFinite)) return 'every number of a CDL must be finite';
  if (cdl.slope.some((value) => value < 0)) return 'slope may not be below 0';
  if (cdl.power.some((value) => value <= 0)) return 'power must be above 0';
  if (cdl.saturation < 0) return 'saturation may not be below 0';
  return null;
}

/**
 * ASC CDL v1.2. With `clamp` values are held within 0–1 before the power and after saturation, as the standard has it;
 * without, what is below 0 passes the power unchanged.
 */
export function compileCdl({ slope, offset, power, saturation }: Cdl, reverse: boolean, clamp: boolean): Transform {
  const held = (x: number): number => (clamp ? (x > 0 ? (x < 1 ? x : 1) : 0) : x);
  const raised = (x: number, p: number): number => (p === 1 || x < 0 ? x : x ** p);
  const saturate = (rgb: Float64Array, amount: number): void => {
    const luma = (rgb[0] as number) * weights[0] + (rgb[1] as number) * weights[1] + (rgb[2] as number) * weights[2];
    for (let c = 0; c < 3; c += 1) rgb[c] = luma + amount * ((rgb[c] as number) - luma);
  };
  if (!reverse) {
    return (rgb) => {
      for (let c = 0; c < 3; c += 1)
        rgb[c] = raised(held((rgb[c] as number) * (slope[c] as number) + (offset[c] as number)), power[c] as number);
      saturate(rgb, saturation);
      for (let c = 0; c < 3; c += 1) rgb[c] = held(rgb[c] as number);
    };
  }
  return (rgb) => {
    for (let c = 0; c < 3; c += 1) rgb[c] = held(rgb[c] as number);
    saturate(rgb, 1 / saturation);
    for (let c = 0; c < 3; c += 1)
      rgb[c] = held(
        (raised(held(rgb[c] as number), 1 / (power[c] as number)) - (offset[c] as number)) / (slope[c] as number),
      );
  };
}
