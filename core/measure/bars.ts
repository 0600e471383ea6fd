import type { Raster } from '../shape/raster.ts';

/** Black bars burnt into a picture: what would be left, and how sure that is. */
export interface Bars {
  left: number;
  right: number;
  top: number;
  bottom: number;
  /** The picture between them. */
  crop: { x: number; y: number; width: number; height: number };
  /** Share of the bright enough pictures that agree: 0 to 1. */
  confidence: number;
}

/**
 * One picture's edges: for each column the luma of some of its rows (`columns`, `perColumn` to a column, row by row)
 * and for each row that of some of its columns (`rows`, row after row), as 16-bit codes at full resolution.
 */
export interface Edges {
  columns: Uint16Array;
  rows: Uint16Array;
}

/** How far above its place black may wander by noise and coding, and how bright a picture's own light must be, in 16-bit codes. */
const noise = 24 << 6;
const bright = 110 << 6;
/** Narrower edges are a sensor's or a scaler's, not bars. */
const narrowest = 6;

interface Sides { left: number; right: number; top: number; bottom: number }

/** Dark lines at either end of one axis. `line(i)` gives the brightest sample of a line, nearly. */
function ends(count: number, line: (index: number) => number, black: number): [number, number] {
  let from = 0;
  while (from < count && line(from) <= black + noise) from += 1;
  let to = 0;
  while (to < count - from && line(count - 1 - to) <= black + noise) to += 1;
  return [from, to];
}

/** The brightest of a line's samples but one, so that a single hot one hides no bar. */
function nearlyBrightest(values: Uint16Array, at: (index: number) => number, count: number): number {
  let [first, second] = [0, 0];
  for (let i = 0; i < count; i += 1) {
    const value = values[at(i)] as number;
    if (value > first) [first, second] = [value, first];
    else if (value > second) second = value;
  }
  return second;
}

/**
 * Bars on the sides or above and below, measured over sampled pictures. Pictures too dark to tell are left out of the
 * count, and all bright ones are asked: what any of them shows outside is picture.
 */
export function findBars(edges: readonly Edges[], raster: Raster, black16: number): Bars | null {
  const found: Sides[] = [];
  for (const { columns, rows } of edges) {
    const perColumn = Math.floor(columns.length / raster.width);
    const perRow = Math.floor(rows.length / raster.height);
    if (perColumn === 0 || perRow === 0) continue;
    const [left, right] = ends(raster.width, (x) => nearlyBrightest(columns, (i) => i * raster.width + x, perColumn), black16);
    const [top, bottom] = ends(raster.height, (y) => nearlyBrightest(rows, (i) => y * perRow + i, perRow), black16);
    const light = rows.reduce((a, b) => Math.max(a, b), 0);
    if (light >= black16 + bright && left + right < raster.width * 0.9 && top + bottom < raster.height * 0.9) found.push({ left, right, top, bottom });
  }
  if (found.length < 3) return null;
  const least = (side: keyof Sides): number => found.reduce((a, sides) => Math.min(a, sides[side]), Infinity);
  const bar = (side: keyof Sides): number => (least(side) >= narrowest ? least(side) : 0);
  const sides: Sides = { left: bar('left'), right: bar('right'), top: bar('top'), bottom: bar('bottom') };
  if (sides.left + sides.right + sides.top + sides.bottom === 0) return null;
  const agrees = (one: Sides): boolean => (Object.keys(sides) as (keyof Sides)[]).every((side) => sides[side] === 0 || one[side] <= sides[side] + 4);
  return {
    ...sides,
    crop: { x: sides.left, y: sides.top, width: raster.width - sides.left - sides.right, height: raster.height - sides.top - sides.bottom },
    confidence: found.filter(agrees).length / edges.length,
  };
}
