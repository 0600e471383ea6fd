import { coveredIn } from './places.ts';
import type { Sampled } from './smalls.ts';
import type { OutputPlan } from '../recipe/legPlan.ts';
import { shownBy } from '../time/frameMap.ts';
import type { Comparison } from './proof.ts';
import { inActive, inOriginal } from './places.ts';
import { grid, type Plane, type Planes, type Small } from './smalls.ts';
import { endsAtWhite, signalsOf, type Reading, type Three } from './reading.ts';

/**
 * Points of the grid that are taken together, across and down: a mean over them knows nothing of grain and little of
 * edges.
 */
const cell = 2;
const [across, down] = [Math.floor(grid.width / cell), Math.floor(grid.height / cell)];
/** Cells of one colour that count: fewer may all lie at one edge, or in one corner of a fine pattern. */
const fewest = 24;

/** How far beyond black and white still counts as within: what rounding and ringing do. */
const room = 0.01;

/** How far a single sample may lie from the mean around it in a place without grain and without a pattern. */
const plain = 1 / 255;

/** One channel of a small picture, to read places from. */
function channel({ width, height }: Small, luma: ArrayLike<number>): Plane {
  return { width, height, luma };
}

/** Each of three planes at the places that `read` reads of it. */
function planesAt([first, second, third]: Planes, read: (plane: Uint16Array) => Float64Array): Three<Float64Array> {
  return [read(first), read(second), read(third)];
}

/** Means over cells of the grid, and how far their points are spread; not a number where a point is. */
function cells(points: Float32Array | Float64Array): { means: Float64Array; spread: Float64Array } {
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

/**
 * Cells with an edge in them say little of colour: chroma is thinned out there. As even as this, or as the evener half
 * of the picture, is even.
 */
function evenLimit(spread: readonly number[]): number {
  const sorted = spread.filter((value) => !Number.isNaN(value)).sort((a, b) => a - b);
  return Math.max(4 / 255, sorted[sorted.length >> 1] ?? 0);
}

/**
 * How unlike a cell its neighbours may be: beyond it there is an edge between them, over which thinned-out chroma
 * bleeds.
 */
const sameColour = 0.06;

/** Whether a cell lies within a place of one colour: it and those around it are even, and hardly differ. */
function within(i: number, shown: readonly { means: Float64Array }[], even: (i: number) => boolean): boolean {
  const [x, y] = [i % across, Math.floor(i / across)];
  return (
    even(i) &&
    [
      [-1, 0],
      [1, 0],
      [0, -1],
      [0, 1],
    ].every(([dx = 0, dy = 0]) => {
      if (x + dx < 0 || x + dx >= across || y + dy < 0 || y + dy >= down) return true;
      const n = i + dy * across + dx;
      return even(n) && shown.every(({ means }) => Math.abs((means[n] as number) - (means[i] as number)) <= sameColour);
    })
  );
}

/**
 * Where single samples lie beyond black or white, or next to it, though their mean does not: an output that ends there
 * cuts them off on one side, which no mean tells from a wrong level. 1 where it is so, else 0. Of plain places nothing
 * is cut off but what rounding leaves.
 */
function cutOff(of: Small, planes: Planes, shot: Reading): Float32Array {
  const cut = new Float32Array(of.width * of.height);
  if (!of.points) return cut;
  const means = signalsOf(planes, shot);
  signalsOf(of.points, shot).forEach((values, c) => {
    for (let i = 0; i < cut.length; i += 1) {
      const value = values[i] as number;
      if (
        (value < 2 * room || value > 1 - 2 * room) &&
        Math.abs(value - ((means[c] as Float32Array)[i] as number)) > plain
      )
        cut[i] = 1;
    }
  });
  return cut;
}

/** Colours within an eighth of each channel are one; those below black and above white are with black and white. */
function keyOf(r: number, g: number, b: number): number {
  const step = (value: number): number => Math.max(0, Math.min(7, Math.floor(value * 8)));
  return (step(r) << 6) | (step(g) << 3) | step(b);
}

/**
 * Holds the colours of an output whose picture stays as shot against the original's, both read as whoever opens the
 * files reads them: by the tags that are found, not by those that were planned. What differs is a wrong matrix, range
 * or level, for every place of a colour alike; what an encoder leaves of grain goes either way. `most` of 255 is
 * allowed. Null for what is stabilised, and plans from before there was geometry.
 */
// eslint-disable-next-line complexity -- one pass over the cells, each passed over for one of several reasons
export function coloursComparison(
  { video, upright, frames, outputs, originals, burn }: Sampled,
  { made, shot }: { made: Reading; shot: Reading },
  most: number,
): Comparison | null {
  const { geometry } = video;
  // What is stabilised lies elsewhere from frame to frame.
  if (!geometry || video.steps.some(({ kind }) => kind === 'stabilise')) return null;
  const sums = new Map<number, { count: number; off: [number, number, number] }>();
  for (const [n, small] of outputs) {
    const { frame, other } = shownBy(video.map, n, frames);
    const source = originals.get(frame);
    if (other || !source?.planes || !small.planes) continue;
    const covered = coveredIn(geometry, small, burn, n);
    // Of places with light that an output has no room for nothing is asked: what it cuts off there is no wrong level.
    const roomless = endsAtWhite(made);
    const inRoom = (points: Float32Array): Float32Array =>
      roomless
        ? points.map((value) => (value < -room || value > 1 + room ? Number.NaN : Math.max(0, Math.min(1, value))))
        : points;
    // Signals are sums of planes, and so are means: places are read of the planes, and only they are reckoned out.
    const found = signalsOf(
      planesAt(small.planes, (plane) => inActive(channel(small, plane), geometry, covered)),
      made,
    ).map((values) => cells(values).means);
    const shown = signalsOf(
      planesAt(source.planes, (plane) => inOriginal(channel(source, plane), geometry, upright, 1)),
      shot,
    ).map((values) => cells(inRoom(values)));
    const cut = roomless
      ? cells(inOriginal(channel(source, cutOff(source, source.planes, shot)), geometry, upright, 1)).means
      : null;
    const spread = Array.from(shown[0]?.spread ?? [], (_, i) =>
      Math.max(...shown.map((one) => one.spread[i] as number)),
    );
    const limit = evenLimit(spread);
    const even = (i: number): boolean => (spread[i] as number) <= limit && !(cut && (cut[i] as number) > 0);
    for (const i of spread.keys()) {
      const [r, g, b] = shown.map(({ means }) => means[i] as number) as [number, number, number];
      const off = found.map((values, c) => (values[i] as number) - ([r, g, b][c] as number)) as [
        number,
        number,
        number,
      ];
      if (!within(i, shown, even) || off.some(Number.isNaN) || Number.isNaN(r + g + b)) continue;
      const key = keyOf(r, g, b);
      const sum = sums.get(key) ?? { count: 0, off: [0, 0, 0] };
      sums.set(key, { count: sum.count + 1, off: [sum.off[0] + off[0], sum.off[1] + off[1], sum.off[2] + off[2]] });
    }
  }
  let worst = 0;
  let colours = 0;
  for (const { count, off } of sums.values()) {
    if (count < fewest) continue;
    colours += 1;
    for (const value of off) if (Math.abs(value / count) > Math.abs(worst)) worst = value / count;
  }
  const planned = `within ${most} of 255, read by its tags`;
  if (colours === 0)
    return { name: 'colours as shot', planned, found: 'no place of one colour to tell by', holds: true };
  const codes = Math.abs(worst) * 255;
  return {
    name: 'colours as shot',
    planned,
    found: `${codes.toFixed(2)} of 255 at most, over ${colours} colour${colours === 1 ? '' : 's'}`,
    holds: codes <= most,
  };
}

/**
 * How far colours may lie off what was shot, of 255: R'G'B' that keeps every code, half of one; thinned-out chroma
 * rings a little at edges; what loses some, half a step of coarse quantising (3.3, measured on ProRes 4444 with alpha
 * at 320×192).
 */
export function coloursMost({ codec }: OutputPlan): number {
  return codec.id === 'pictures' ? 0.5 : codec.id === 'v210' || codec.id === 'ffv1' ? 1 : 4;
}
