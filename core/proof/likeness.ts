import type { Small } from './smalls.ts';

/** How like each other two pictures are, apart from their light. */

/** A picture without its finest texture, which would have to lie to the sample to be like itself: means of 5 × 5. */
export function softened({ width, height, luma }: Small): Small {
  const soft = new Uint16Array(luma.length);
  for (let y = 0; y < height; y += 1) {
    for (let x = 0; x < width; x += 1) {
      let [sum, count] = [0, 0];
      for (let v = Math.max(0, y - 2); v <= Math.min(height - 1, y + 2); v += 1)
        for (let u = Math.max(0, x - 2); u <= Math.min(width - 1, x + 2); u += 1, count += 1)
          sum += luma[v * width + u] as number;
      soft[y * width + x] = sum / count;
    }
  }
  return { width, height, luma: soft };
}

/**
 * Likeness of two pictures apart from brightness and contrast, over the points that both have: Pearson's correlation,
 * −1 to 1; null where one is flat.
 */
export function likeness(a: Float64Array, b: Float64Array): number | null {
  let [count, sa, sb] = [0, 0, 0];
  for (let i = 0; i < a.length; i += 1) {
    if (Number.isNaN(a[i]) || Number.isNaN(b[i])) continue;
    count += 1;
    sa += a[i] as number;
    sb += b[i] as number;
  }
  if (count < 100) return null;
  const [ma, mb] = [sa / count, sb / count];
  let [ab, aa, bb] = [0, 0, 0];
  for (let i = 0; i < a.length; i += 1) {
    if (Number.isNaN(a[i]) || Number.isNaN(b[i])) continue;
    const [x, y] = [(a[i] as number) - ma, (b[i] as number) - mb];
    ab += x * y;
    aa += x * x;
    bb += y * y;
  }
  // Under a 10-bit code of spread there is nothing to tell by.
  const flat = 64 * 64 * count;
  return aa < flat || bb < flat ? null : ab / Math.sqrt(aa * bb);
}

/** Whether a picture is hardly like itself a point farther: nothing but grain, which encoders make anew. */
export function onlyGrain(points: Float64Array): boolean {
  const beside = likeness(points.subarray(0, -1), points.subarray(1));
  return beside !== null && beside < 0.5;
}

/**
 * What is fine in a picture, row by row of `width` points: each point less the mean of the 5 × 5 around it. What a tone
 * curve does to a slope is not fine; what lies in a picture is.
 */
export function detail(points: Float64Array, width: number): Float64Array {
  const height = points.length / width;
  return points.map((value, at) => {
    const [x, y] = [at % width, Math.floor(at / width)];
    let [sum, count] = [0, 0];
    for (let v = Math.max(0, y - 2); v <= Math.min(height - 1, y + 2); v += 1)
      for (let u = Math.max(0, x - 2); u <= Math.min(width - 1, x + 2); u += 1) {
        const beside = points[v * width + u] as number;
        if (Number.isNaN(beside)) continue;
        sum += beside;
        count += 1;
      }
    // Beside an edge a slope has no middle to be held against.
    return count === 25 ? value - sum / count : NaN;
  });
}

export function mixed(a: Float64Array, b: Float64Array, share: number): Float64Array {
  return a.map((x, i) => x * (1 - share) + (b[i] as number) * share);
}
