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
  /** Something bright stands in a bar, at one place in every picture: a mark or a logo. */
  marked?: true;
}

/**
 * One picture's edges: for each column the luma of some of its rows (`columns`, `perColumn` to a column, row by row)
 * and for each row that of some of its columns (`rows`, row after row), as 16-bit codes at full resolution.
 */
export interface Edges {
  columns: Uint16Array;
  rows: Uint16Array;
}

/**
 * How far above its place black may wander by noise and coding, and how bright a picture's own light must be, in 16-bit
 * codes.
 */
const noise = 24 << 6;
const bright = 110 << 6;
/** Narrower edges are a sensor's or a scaler's, not bars. */
const narrowest = 6;

interface Sides {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** Dark lines at either end of one axis. `line(i)` gives the brightest sample of a line, nearly. */
function ends(count: number, line: (index: number) => number, black: number): [number, number] {
  let from = 0;
  while (from < count && line(from) <= black + noise) from += 1;
  let to = 0;
  while (to < count - from && line(count - 1 - to) <= black + noise) to += 1;
  return [from, to];
}

/** A mark in a bar covers less of a line than this. */
const markShare = 0.3;

/**
 * Samples that are bright in every picture, where they are few in their line: what stands in a bar as a mark does. A
 * line that is bright along more of its length is picture.
 */
function marksIn(
  samples: readonly Uint16Array[],
  count: number,
  lineOf: (index: number) => number,
  perLine: number,
  black: number,
): Set<number> {
  const [first] = samples;
  if (!first) return new Set();
  const always = Array.from({ length: first.length }, (_, i) => i).filter((i) =>
    samples.every((one) => (one[i] as number) > black + noise),
  );
  const inLine = new Array<number>(count).fill(0);
  for (const i of always) (inLine[lineOf(i)] as number) += 1;
  return new Set(always.filter((i) => (inLine[lineOf(i)] as number) <= perLine * markShare));
}

/** The brightest of a line's samples but one, so that a single hot one hides no bar; marks left out. */
function nearlyBrightest(
  values: Uint16Array,
  at: (index: number) => number,
  count: number,
  marks: ReadonlySet<number>,
): number {
  let [first, second] = [0, 0];
  for (let i = 0; i < count; i += 1) {
    if (marks.size > 0 && marks.has(at(i))) continue;
    const value = values[at(i)] as number;
    if (value > first) [first, second] = [value, first];
    else if (value > second) second = value;
  }
  return second;
}

const noMarks: ReadonlySet<number> = new Set();

/**
 * Bars on the sides or above and below, measured over sampled pictures. Pictures too dark to tell are left out of the
 * count, and all bright ones are asked: what any of them shows outside is picture. What stands in a bar at one place in
 * all of them is a mark; bars that only show without their marks are said to be less sure.
 */
export function findBars(edges: readonly Edges[], raster: Raster, black16: number): Bars | null {
  const perColumn = Math.floor((edges[0]?.columns.length ?? 0) / raster.width);
  const perRow = Math.floor((edges[0]?.rows.length ?? 0) / raster.height);
  if (perColumn === 0 || perRow === 0) return null;
  const lit = edges.filter(({ rows }) => rows.reduce((a, b) => Math.max(a, b), 0) >= black16 + bright);
  const plain = barsWithout(lit, edges.length, raster, black16, { columns: noMarks, rows: noMarks });
  // Fewer pictures show little of what moves: then everything looks like a mark.
  if (lit.length < 5) return plain;
  const marks = {
    columns: marksIn(
      lit.map((one) => one.columns),
      raster.width,
      (i) => i % raster.width,
      perColumn,
      black16,
    ),
    rows: marksIn(
      lit.map((one) => one.rows),
      raster.height,
      (i) => Math.floor(i / perRow),
      perRow,
      black16,
    ),
  };
  if (marks.columns.size + marks.rows.size === 0) return plain;
  const marked = barsWithout(lit, edges.length, raster, black16, marks);
  const area = (bars: Bars | null): number =>
    bars ? bars.crop.width * bars.crop.height : raster.width * raster.height;
  return marked && area(marked) < area(plain)
    ? { ...marked, confidence: marked.confidence * 0.8, marked: true }
    : plain;
}

function barsWithout(
  lit: readonly Edges[],
  asked: number,
  raster: Raster,
  black16: number,
  marks: { columns: ReadonlySet<number>; rows: ReadonlySet<number> },
): Bars | null {
  const found: Sides[] = [];
  for (const { columns, rows } of lit) {
    const perColumn = Math.floor(columns.length / raster.width);
    const perRow = Math.floor(rows.length / raster.height);
    const [left, right] = ends(
      raster.width,
      (x) => nearlyBrightest(columns, (i) => i * raster.width + x, perColumn, marks.columns),
      black16,
    );
    const [top, bottom] = ends(
      raster.height,
      (y) => nearlyBrightest(rows, (i) => y * perRow + i, perRow, marks.rows),
      black16,
    );
    if (left + right < raster.width * 0.9 && top + bottom < raster.height * 0.9)
      found.push({ left, right, top, bottom });
  }
  if (found.length < 3) return null;
  const least = (side: keyof Sides): number => found.reduce((a, sides) => Math.min(a, sides[side]), Infinity);
  const bar = (side: keyof Sides): number => (least(side) >= narrowest ? least(side) : 0);
  const sides: Sides = { left: bar('left'), right: bar('right'), top: bar('top'), bottom: bar('bottom') };
  if (sides.left + sides.right + sides.top + sides.bottom === 0) return null;
  const agrees = (one: Sides): boolean =>
    (Object.keys(sides) as (keyof Sides)[]).every((side) => sides[side] === 0 || one[side] <= sides[side] + 4);
  return {
    ...sides,
    crop: {
      x: sides.left,
      y: sides.top,
      width: raster.width - sides.left - sides.right,
      height: raster.height - sides.top - sides.bottom,
    },
    confidence: found.filter(agrees).length / asked,
  };
}
