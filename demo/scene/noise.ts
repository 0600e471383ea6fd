/** A seeded source of numbers in [0, 1) (mulberry32, public domain): the same picture on every machine. */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const size = 512;
export const tileMask = size - 1;

/** A tile of smooth noise, 512 × 512, -1 to 1, that repeats without a seam: sums of octaves of blurred grids. */
export function noiseTile(seed: number, octaves: number, firstPeriod: number): Float32Array {
  const random = seeded(seed);
  const tile = new Float32Array(size * size);
  let weight = 1;
  let total = 0;
  for (let octave = 0; octave < octaves; octave += 1) {
    const cells = Math.min(size, firstPeriod * 2 ** octave);
    const grid = Float32Array.from({ length: cells * cells }, () => random() * 2 - 1);
    // Places and weights along one axis serve for both.
    const low = Uint16Array.from({ length: size }, (_, i) => Math.floor((i * cells) / size));
    const ease = Float32Array.from({ length: size }, (_, i) => {
      const t = (i * cells) / size - (low[i] as number);
      return t * t * (3 - 2 * t);
    });
    for (let y = 0; y < size; y += 1) {
      const top = (low[y] as number) * cells;
      const bottom = (((low[y] as number) + 1) % cells) * cells;
      const ey = ease[y] as number;
      for (let x = 0; x < size; x += 1) {
        const left = low[x] as number;
        const right = left + 1 === cells ? 0 : left + 1;
        const ex = ease[x] as number;
        const above = (grid[top + left] as number) * (1 - ex) + (grid[top + right] as number) * ex;
        const below = (grid[bottom + left] as number) * (1 - ex) + (grid[bottom + right] as number) * ex;
        tile[y * size + x] = (tile[y * size + x] as number) + weight * (above * (1 - ey) + below * ey);
      }
    }
    total += weight;
    weight *= 0.5;
  }
  for (let i = 0; i < tile.length; i += 1) tile[i] = ((tile[i] as number) / total) * 1.6;
  return tile;
}

/** The tile's value at any place, in cells of the tile; nearest sample. */
export function tileAt(tile: Float32Array, x: number, y: number): number {
  return tile[((Math.floor(y) & tileMask) << 9) | (Math.floor(x) & tileMask)] as number;
}
