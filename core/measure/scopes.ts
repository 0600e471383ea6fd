/**
 * How a picture's signals are drawn: each a grid of counts, row 0 at the bottom. Signals are R', G', B' interleaved,
 * black 0 and white 1.
 */
export interface Scopes {
  /** Luma by column of the picture. */
  waveform: Grid;
  /** R', G', B' by column, one third of the width each. */
  parade: Grid;
  /** Cb across, Cr up, ±0.5 each. */
  vector: Grid;
  /** Counts of luma, R', G', B', a row each. */
  histogram: Grid;
  /** Lowest and highest luma, 10-bit legal codes. */
  lumaCodes: readonly [number, number];
  /** Shares of samples with a channel at or above white, and at or below black. */
  clippedAbove: number;
  clippedBelow: number;
}

export interface Grid {
  width: number;
  height: number;
  counts: Uint32Array;
}

/** Signals drawn from −7 to 109 %: all that 10-bit legal codes hold. */
export const lowestShown = -64 / 876;
export const highestShown = (1023 - 64) / 876;

const columns = 256;
const rows = 160;
const vectorEdge = 192;

function grid(width: number, height: number): Grid {
  return { width, height, counts: new Uint32Array(width * height) };
}

/** Draws all scopes of a picture `across` samples wide. */
export function scopesOf(signals: Float32Array, across: number): Scopes {
  const [waveform, parade, vector, histogram] = [
    grid(columns, rows),
    grid(columns * 3, rows),
    grid(vectorEdge, vectorEdge),
    grid(columns, 4),
  ];
  const scale = 1 / (highestShown - lowestShown);
  const place = (x: number, steps: number): number =>
    Math.max(0, Math.min(steps - 1, Math.floor((x - lowestShown) * scale * steps)));
  const add = (to: Grid, x: number, y: number): void => {
    const i = y * to.width + x;
    to.counts[i] = (to.counts[i] as number) + 1;
  };
  let [low, high, above, below] = [Infinity, -Infinity, 0, 0];
  const count = signals.length / 3;
  for (let i = 0; i < count; i += 1) {
    const r = signals[i * 3] as number;
    const g = signals[i * 3 + 1] as number;
    const b = signals[i * 3 + 2] as number;
    const luma = 0.2126 * r + 0.7152 * g + 0.0722 * b;
    const x = Math.floor(((i % across) / across) * columns);
    add(waveform, x, place(luma, rows));
    add(parade, x, place(r, rows));
    add(parade, x + columns, place(g, rows));
    add(parade, x + 2 * columns, place(b, rows));
    const cb = (b - luma) / 1.8556;
    const cr = (r - luma) / 1.5748;
    const edge = (c: number): number => Math.max(0, Math.min(vectorEdge - 1, Math.floor((c + 0.5) * vectorEdge)));
    add(vector, edge(cb), edge(cr));
    for (const [row, value] of [luma, r, g, b].entries()) add(histogram, place(value, columns), row);
    if (luma < low) low = luma;
    if (luma > high) high = luma;
    if (r >= 1 || g >= 1 || b >= 1) above += 1;
    if (r <= 0 || g <= 0 || b <= 0) below += 1;
  }
  const codeOf = (x: number): number => Math.round(64 + 876 * x);
  return {
    waveform,
    parade,
    vector,
    histogram,
    lumaCodes: count > 0 ? [codeOf(low), codeOf(high)] : [0, 0],
    clippedAbove: above / Math.max(1, count),
    clippedBelow: below / Math.max(1, count),
  };
}
