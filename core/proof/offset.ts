/**
 * How far one picture lies from another, by what its slopes say: pictures alike but for a shift of less than a sample
 * or two.
 */

export interface Offset {
  /** Points that the second lies to the right and lower. */
  dx: number;
  dy: number;
}

/**
 * The least steepness, from point to point in codes of 16 bits, that a shift can be told by: one and a half codes of 10
 * bits. Chosen.
 */
const steep = 96;

/**
 * The shift between two pictures on one lattice, by least squares over the slopes of the first (Lucas and Kanade,
 * 1981), after what differs in brightness and contrast is taken out. Grain makes it smaller, never larger. Points that
 * are not a number in either are left out; null where there is too little to tell by.
 */
export function offsetOf(wanted: Float64Array, found: Float64Array, width: number, height: number): Offset | null {
  const fit = lightOf(wanted, found);
  if (!fit) return null;
  let [xx, xy, yy, xt, yt, count] = [0, 0, 0, 0, 0, 0];
  for (let y = 1; y < height - 1; y += 1) {
    for (let x = 1; x < width - 1; x += 1) {
      const i = y * width + x;
      const gx = ((wanted[i + 1] as number) - (wanted[i - 1] as number)) / 2;
      const gy = ((wanted[i + width] as number) - (wanted[i - width] as number)) / 2;
      const t = ((found[i] as number) - fit.mean) / fit.gain + fit.wantedMean - (wanted[i] as number);
      if (Number.isNaN(gx + gy + t)) continue;
      count += 1;
      xx += gx * gx;
      xy += gx * gy;
      yy += gy * gy;
      xt += gx * t;
      yt += gy * t;
    }
  }
  const least = steep * steep * count;
  const det = xx * yy - xy * xy;
  // Stripes say where they lie across themselves, and nothing along.
  if (count < 400 || xx < least || yy < least || det < 0.05 * xx * yy) return null;
  return { dx: -(yy * xt - xy * yt) / det, dy: -(xx * yt - xy * xt) / det };
}

/** Gain and means that bring one picture's light to the other's. */
function lightOf(wanted: Float64Array, found: Float64Array): { gain: number; mean: number; wantedMean: number } | null {
  let [count, a, b] = [0, 0, 0];
  for (let i = 0; i < wanted.length; i += 1) {
    if (Number.isNaN((wanted[i] as number) + (found[i] as number))) continue;
    count += 1;
    a += wanted[i] as number;
    b += found[i] as number;
  }
  if (count === 0) return null;
  const [wantedMean, mean] = [a / count, b / count];
  let [ab, aa] = [0, 0];
  for (let i = 0; i < wanted.length; i += 1) {
    if (Number.isNaN((wanted[i] as number) + (found[i] as number))) continue;
    ab += ((wanted[i] as number) - wantedMean) * ((found[i] as number) - mean);
    aa += ((wanted[i] as number) - wantedMean) ** 2;
  }
  return aa > 0 && ab > 0 ? { gain: ab / aa, mean, wantedMean } : null;
}
