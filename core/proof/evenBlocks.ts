/** Means and spreads of a frame's blocks, plane by plane. */
export interface Blocks {
  across: number;
  down: number;
  means: Float64Array[];
  spreads: Float64Array[];
}

/**
 * Blocks of so many samples each way of three planes that lie one behind the other; what is over at the right and below
 * is left out.
 */
export function blocksOf(planes: Uint16Array, width: number, height: number, block: number): Blocks {
  const [across, down] = [Math.floor(width / block), Math.floor(height / block)];
  const means = [0, 1, 2].map(() => new Float64Array(across * down));
  const spreads = [0, 1, 2].map(() => new Float64Array(across * down));
  for (let p = 0; p < 3; p += 1) {
    for (let n = 0; n < across * down; n += 1) {
      const start = p * width * height + Math.floor(n / across) * block * width + (n % across) * block;
      let [sum, squares] = [0, 0];
      for (let y = 0; y < block; y += 1) {
        for (let x = 0; x < block; x += 1) {
          const value = planes[start + y * width + x] as number;
          sum += value;
          squares += value * value;
        }
      }
      const mean = sum / block ** 2;
      (means[p] as Float64Array)[n] = mean;
      (spreads[p] as Float64Array)[n] = Math.sqrt(Math.max(0, squares / block ** 2 - mean * mean));
    }
  }
  return { across, down, means, spreads };
}

/**
 * Of all codes of 16 bits: a block that is spread less is even, and one whose neighbour lies less far off has no edge
 * beside it. Chosen.
 */
const [evenSpread, sameColour] = [1_024, 2_600];

/**
 * A spread so many times the picture's own is an edge, and not grain; and none of so much is grain: 60 codes of 1023.
 * Chosen.
 */
const [beyondGrain, mostGrain] = [1.5, 3_840];

/**
 * Which blocks lie within places of one colour or of a slope: there and in all eight around is no more than the
 * picture's grain. At edges thinned-out chroma bleeds, and encoders ring, which is no wrong colour.
 */
export function evenBlocks({ across, down, means, spreads }: Blocks): Uint8Array {
  const count = across * down;
  const limits = spreads.map((spread) =>
    Math.min(mostGrain, Math.max(evenSpread, beyondGrain * (Float64Array.from(spread).sort()[count >> 1] ?? 0))),
  );
  const even = (n: number): boolean => spreads.every((spread, p) => (spread[n] as number) <= (limits[p] as number));
  const alike = (a: number, b: number): boolean =>
    means.every((mean, p) => {
      const spread = spreads[p] as Float64Array;
      // On a slope blocks differ by more than they are spread, but no more than some times.
      return (
        Math.abs((mean[a] as number) - (mean[b] as number)) <=
        sameColour + 4 * ((spread[a] as number) + (spread[b] as number))
      );
    });
  return Uint8Array.from({ length: count }, (_, n) => {
    const [x, y] = [n % across, Math.floor(n / across)];
    for (let dy = Math.max(0, y - 1); dy <= Math.min(down - 1, y + 1); dy += 1) {
      for (let dx = Math.max(0, x - 1); dx <= Math.min(across - 1, x + 1); dx += 1) {
        const beside = dy * across + dx;
        if (!even(beside) || !alike(n, beside)) return 0;
      }
    }
    return 1;
  });
}
