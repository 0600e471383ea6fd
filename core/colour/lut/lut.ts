/** A table for each channel. */
export interface Lut1d {
  /** Entries of each channel, 2 to 65,536. */
  size: number;
  /** R, G, B of the first entry, then of the second, and so on. */
  values: Float32Array;
  domainMin: readonly [number, number, number];
  domainMax: readonly [number, number, number];
  /** Entry i is for the half-precision number with the bits i; size is 65,536 and there is no domain. */
  halfDomain: boolean;
}

/** A cube of colours, red fastest. */
export interface Lut3d {
  /** Points along each edge, 2 to 129. */
  size: number;
  /** R, G, B of each point. */
  values: Float32Array;
  domainMin: readonly [number, number, number];
  domainMax: readonly [number, number, number];
}

export const largest1d = 65_536;
/**
 * Beyond this a cube is 6 million points: no camera, no display and no bake needs it, and it would not fit where it is
 * used.
 */
export const largest3d = 129;

export const unitMin = [0, 0, 0] as const;
export const unitMax = [1, 1, 1] as const;

/** An identity: every point gives itself. */
export function identity3d(size: number): Lut3d {
  const values = new Float32Array(size ** 3 * 3);
  let i = 0;
  for (let b = 0; b < size; b += 1) {
    for (let g = 0; g < size; g += 1) {
      for (let r = 0; r < size; r += 1) {
        values[i] = r / (size - 1);
        values[i + 1] = g / (size - 1);
        values[i + 2] = b / (size - 1);
        i += 3;
      }
    }
  }
  return { size, values, domainMin: unitMin, domainMax: unitMax };
}
