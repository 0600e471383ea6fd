import type { BurnPlan } from '../burn/plan.ts';
import { burnt } from '../burn/area.ts';
import type { OutputPlan, VideoPlan } from '../recipe/plan.ts';
import { shownBy } from '../time/frameMap.ts';
import type { Comparison } from './proof.ts';
import { grid, inActive, inOriginal, type Small, type Smalls } from './picture.ts';
import { signalsOf, type Reading } from './reading.ts';

/** Points of the grid that are taken together, across and down: a mean over them knows nothing of grain and little of edges. */
const cell = 2;
const [across, down] = [Math.floor(grid.width / cell), Math.floor(grid.height / cell)];
/** Cells of one colour that count: fewer may all lie at one edge. */
const fewest = 6;

/** How far beyond black and white still counts as within: what rounding and ringing do. */
const room = 0.01;

/** Less spread than this, in a picture made small, is a picture without grain. */
const grainless = 0.25 / 255;

/** Steps that move or mix samples so that a place no longer is one of the original's. */
const moving: ReadonlySet<string> = new Set(['stabilise']);

/** One channel of a small picture, as a small picture of its own. */
function channel(small: Small, values: Float32Array): Small {
  return { width: small.width, height: small.height, luma: values as unknown as Uint16Array };
}

/** Means over cells of the grid, and how far their points are spread; not a number where a point is. */
function cells(points: Float64Array): { means: Float64Array; spread: Float64Array } {
  const means = new Float64Array(across * down);
  const spread = new Float64Array(across * down);
  for (let j = 0; j < down; j += 1) {
    for (let i = 0; i < across; i += 1) {
      let [sum, squares] = [0, 0];
      for (let v = 0; v < cell; v += 1) {
        for (let u = 0; u < cell; u += 1) {
          const value = points[(j * cell + v) * grid.width + i * cell + u] as number;
          sum += value;
          squares += value * value;
        }
      }
      means[j * across + i] = sum / cell ** 2;
      spread[j * across + i] = Math.sqrt(Math.max(0, squares / cell ** 2 - (sum / cell ** 2) ** 2));
    }
  }
  return { means, spread };
}

/** Cells with an edge in them say little of colour: chroma is thinned out there. As even as this, or as the evener half of the picture, is even. */
function evenLimit(spread: readonly number[]): number {
  const sorted = spread.filter((value) => !Number.isNaN(value)).sort((a, b) => a - b);
  return Math.max(4 / 255, sorted[sorted.length >> 1] ?? 0);
}

/** How unlike a cell its neighbours may be: beyond it there is an edge between them, over which thinned-out chroma bleeds. */
const sameColour = 0.06;

/** Whether a cell lies within a place of one colour: it and those around it are even, and hardly differ. */
function within(i: number, shown: readonly { means: Float64Array }[], even: (i: number) => boolean): boolean {
  const [x, y] = [i % across, Math.floor(i / across)];
  return even(i) && [[-1, 0], [1, 0], [0, -1], [0, 1]].every(([dx = 0, dy = 0]) => {
    if (x + dx < 0 || x + dx >= across || y + dy < 0 || y + dy >= down) return true;
    const n = i + dy * across + dx;
    return even(n) && shown.every(({ means }) => Math.abs((means[n] as number) - (means[i] as number)) <= sameColour);
  });
}

/** Colours within an eighth of each channel are one; those below black and above white are with black and white. */
function keyOf(r: number, g: number, b: number): number {
  const step = (value: number): number => Math.max(0, Math.min(7, Math.floor(value * 8)));
  return (step(r) << 6) | (step(g) << 3) | step(b);
}

/**
 * Holds the colours of an output whose picture stays as shot against the original's, both read as whoever opens the files reads them: by the
 * tags that are found, not by those that were planned. What differs is a wrong matrix, range or level, for every place of a colour alike;
 * what an encoder leaves of grain goes either way. `most` of 255 is allowed. Null where nothing can be held: no frame is shown whole, or everything is covered.
 */
export function coloursComparison(
  video: VideoPlan, upright: { width: number; height: number }, frames: number, outputs: Smalls, originals: Smalls, made: Reading, shot: Reading, most: number, burn: BurnPlan | null,
): Comparison | null {
  const { geometry } = video;
  if (!geometry || video.steps.some(({ kind }) => moving.has(kind))) return null;
  const sums = new Map<number, { count: number; off: [number, number, number] }>();
  for (const [n, small] of outputs) {
    const { frame, other } = shownBy(video.map, n, frames);
    const source = originals.get(frame);
    if (other || !source?.planes || !small.planes) continue;
    const { active, raster } = geometry;
    const [reachX, reachY] = [raster.width / small.width, raster.height / small.height];
    const covered = (u: number, v: number): boolean => burnt(burn, { x: active.x + u * active.width - reachX, y: active.y + v * active.height - reachY, width: 2 * reachX, height: 2 * reachY }, n);
    // Of places with light that an output has no room for nothing is asked: what it cuts off there is no wrong level.
    const roomless = made.rgb || made.range === 'full';
    const inRoom = (points: Float64Array): Float64Array => (roomless ? points.map((value) => (value < -room || value > 1 + room ? Number.NaN : Math.max(0, Math.min(1, value)))) : points);
    const found = signalsOf(small.planes, made).map((values) => cells(inActive(channel(small, values), geometry, covered)).means);
    const shown = signalsOf(source.planes, shot).map((values) => cells(inRoom(inOriginal(channel(source, values), geometry, upright, 1))));
    const spread = Array.from(shown[0]?.spread ?? [], (_, i) => Math.max(...shown.map((one) => one.spread[i] as number)));
    const limit = evenLimit(spread);
    const even = (i: number): boolean => (spread[i] as number) <= limit;
    for (const i of spread.keys()) {
      const [r, g, b] = shown.map(({ means }) => means[i] as number) as [number, number, number];
      const off = found.map((values, c) => (values[i] as number) - ([r, g, b][c] as number)) as [number, number, number];
      if (!within(i, shown, even) || off.some(Number.isNaN) || Number.isNaN(r + g + b)) continue;
      const key = keyOf(r, g, b);
      const sum = sums.get(key) ?? { count: 0, off: [0, 0, 0] };
      // At the ends of an output's room grain is cut off on one side, which is no wrong level: only without any grain can it be told.
      const [x, y, z] = [r, g, b].map((value, c) => (roomless && (spread[i] as number) > grainless && (value < 0.03 || value > 0.97) ? 0 : (off[c] as number))) as [number, number, number];
      sums.set(key, { count: sum.count + 1, off: [sum.off[0] + x, sum.off[1] + y, sum.off[2] + z] });
    }
  }
  let worst = 0;
  let colours = 0;
  for (const { count, off } of sums.values()) {
    if (count < fewest) continue;
    colours += 1;
    for (const value of off) if (Math.abs(value / count) > Math.abs(worst)) worst = value / count;
  }
  if (colours === 0) return null;
  const codes = Math.abs(worst) * 255;
  return { name: 'colours as shot', planned: `within ${most} of 255, read by its tags`, found: `${codes.toFixed(2)} of 255 at most, over ${colours} colour${colours === 1 ? '' : 's'}`, holds: codes <= most };
}

/** How far colours may lie off what was shot, of 255: R'G'B' that keeps every code, half of one; thinned-out chroma rings a little at edges; what loses some, half a step of coarse quantising (3.3, measured on ProRes 4444 with alpha at 320×192). */
export function coloursMost({ codec }: OutputPlan): number {
  return codec.id === 'pictures' ? 0.5 : codec.id === 'v210' || codec.id === 'ffv1' ? 1 : 4;
}
