import type { Plane } from './smalls.ts';

/**
 * Where a lattice's points fall in a small picture: for each the sample up and left of it (−1 where it is not seen), how
 * far the ones to the right and below are from that one, and how much of them counts. Found once for all pictures of a
 * size: a proof reads the same places of dozens.
 */
export interface Lattice {
  at: Int32Array;
  right: Int32Array;
  below: Int32Array;
  shareRight: Float64Array;
  shareBelow: Float64Array;
}

/** A lattice of so many points, none of which is seen yet. */
export function emptyLattice(points: number): Lattice {
  return {
    at: new Int32Array(points).fill(-1),
    right: new Int32Array(points),
    below: new Int32Array(points),
    shareRight: new Float64Array(points),
    shareBelow: new Float64Array(points),
  };
}

/** Lays point `index` at a share of a picture's width and height, between its samples. */
export function lay(
  lattice: Lattice,
  index: number,
  { width, height }: Pick<Plane, 'width' | 'height'>,
  x: number,
  y: number,
): void {
  const px = Math.min(width - 1, Math.max(0, x * width - 0.5));
  const py = Math.min(height - 1, Math.max(0, y * height - 0.5));
  const x0 = Math.floor(px);
  const y0 = Math.floor(py);
  lattice.at[index] = y0 * width + x0;
  lattice.right[index] = x0 < width - 1 ? 1 : 0;
  lattice.below[index] = y0 < height - 1 ? width : 0;
  lattice.shareRight[index] = px - x0;
  lattice.shareBelow[index] = py - y0;
}

/** A picture's values at the points, each a mean of the four samples around it; not a number where one is not seen. */
export function readAt({ luma }: Plane, { at, right, below, shareRight, shareBelow }: Lattice): Float64Array {
  const out = new Float64Array(at.length);
  for (let i = 0; i < at.length; i += 1) {
    const first = at[i] as number;
    if (first < 0) {
      out[i] = Number.NaN;
      continue;
    }
    const beside = first + (right[i] as number);
    const lower = below[i] as number;
    const fx = shareRight[i] as number;
    const fy = shareBelow[i] as number;
    const upper = (luma[first] as number) * (1 - fx) + (luma[beside] as number) * fx;
    const under = (luma[first + lower] as number) * (1 - fx) + (luma[beside + lower] as number) * fx;
    out[i] = upper * (1 - fy) + under * fy;
  }
  return out;
}
