import { burnt } from '../burn/area.ts';
import type { BurnPlan } from '../burn/plan.ts';
import type { Geometry } from '../shape/geometry.ts';
import type { VideoPlan } from '../recipe/legPlan.ts';
import { shownBy } from '../time/frameMap.ts';
import { offsetOf, type Offset } from './offset.ts';
import type { Comparison } from './proof.ts';

/** Rows of samples that places are read from: of luma, or of another channel in its stead. */
export interface Plane {
  width: number;
  height: number;
  luma: ArrayLike<number>;
}

/** Three planes of a picture, 16 bits a sample. */
export type Planes = readonly [Uint16Array, Uint16Array, Uint16Array];

/** A picture made small: luma of 16 bits, legal range. */
export interface Small extends Plane {
  luma: Uint16Array;
  /** Y', Cb, Cr, or G', B', R', in codes as decoded, shifted up to 16 bits. Absent where only shapes matter. */
  planes?: Planes;
  /** The same of single samples where the others are means: what fine patterns and grain do to each. */
  points?: Planes;
}

/** Small pictures by frame number. */
export type Smalls = ReadonlyMap<number, Small>;

/** Points across and down at which two pictures are compared. */
export const grid = { width: 96, height: 54 };

/** Output frames that are looked at: spread over its length, off the very ends where it is long enough. */
export function sampledFrames(frames: number, count = 5): number[] {
  return [
    ...new Set(
      Array.from({ length: count }, (_, i) =>
        Math.min(frames - 1, Math.max(0, Math.round(((i + 0.5) * frames) / count - 0.5))),
      ),
    ),
  ];
}

/** Original frames to be seen beside those: what each shows, and the neighbours it must not be mistaken for. */
export function originalsWanted(video: VideoPlan, frames: number, samples: readonly number[]): number[] {
  const wanted = new Set<number>();
  for (const n of samples) {
    const { frame, other } = shownBy(video.map, n, frames);
    for (let m = frame - 1; m <= (other?.frame ?? frame) + 1; m += 1) if (m >= 0 && m < frames) wanted.add(m);
  }
  return [...wanted].sort((a, b) => a - b);
}

function at({ width, height, luma }: Plane, x: number, y: number): number {
  const [px, py] = [
    Math.min(width - 1, Math.max(0, x * width - 0.5)),
    Math.min(height - 1, Math.max(0, y * height - 0.5)),
  ];
  const [x0, y0] = [Math.floor(px), Math.floor(py)];
  const [x1, y1] = [Math.min(width - 1, x0 + 1), Math.min(height - 1, y0 + 1)];
  const [fx, fy] = [px - x0, py - y0];
  const row = (y: number): number =>
    (luma[y * width + x0] as number) * (1 - fx) + (luma[y * width + x1] as number) * fx;
  return row(y0) * (1 - fy) + row(y1) * fy;
}

/** A picture without its finest texture, which would have to lie to the sample to be like itself: means of 5 × 5. */
function softened({ width, height, luma }: Small): Small {
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

/** A finer lattice, by which parts of a sample are told. */
const fine = { width: 288, height: 162 };
/** Samples of the output that a picture may lie off: whole samples at both ends may make half of one. */
const mostOff = 0.75;

function medianOf(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1] ?? 0;
}

/** Shifts that a picture is tried at, in points of the grid: a hundredth of its width at first, a twelfth at most. */
const shiftsTried = [1, 2, 3, 4, 5, 6, 8].flatMap(
  (far) =>
    [
      [far, 0],
      [-far, 0],
      [0, far],
      [0, -far],
    ] as const,
);

/**
 * The picture that lies in the output's active area, at the grid's points, moved by shares of its size; what is covered
 * there is left out.
 */
export function inActive(
  small: Plane,
  { raster, active }: Geometry,
  covered: (u: number, v: number) => boolean,
  dx = 0,
  dy = 0,
  points = grid,
): Float64Array {
  const out = new Float64Array(points.width * points.height);
  for (let j = 0; j < points.height; j += 1) {
    for (let i = 0; i < points.width; i += 1) {
      const [u, v] = [(i + 0.5) / points.width + dx, (j + 0.5) / points.height + dy];
      out[j * points.width + i] =
        u < 0 || u > 1 || v < 0 || v > 1 || covered(u, v)
          ? Number.NaN
          : at(small, (active.x + u * active.width) / raster.width, (active.y + v * active.height) / raster.height);
    }
  }
  return out;
}

/**
 * What core says must be there: the same points followed back to the original's picture, upright as decoders give it.
 */
export function inOriginal(
  small: Plane,
  geometry: Geometry,
  upright: { width: number; height: number },
  zoom: number,
  points = grid,
): Float64Array {
  const { view, scaled, turn, uprightWindow: window } = geometry;
  const out = new Float64Array(points.width * points.height);
  for (let j = 0; j < points.height; j += 1) {
    for (let i = 0; i < points.width; i += 1) {
      let [u, v] = [
        (view.x + ((i + 0.5) / points.width) * view.width) / scaled.width,
        (view.y + ((j + 0.5) / points.height) * view.height) / scaled.height,
      ];
      if (turn.down) v = 1 - v;
      if (turn.across) u = 1 - u;
      // Back from a clockwise turn: what is at (u, v) came from (v, 1 − u).
      for (let q = 0; q < turn.quarters; q += 1) [u, v] = [v, 1 - u];
      const [x, y] = [(window.x + u * window.width) / upright.width, (window.y + v * window.height) / upright.height];
      // What was stabilised is the enlarged middle.
      out[j * points.width + i] = at(small, 0.5 + (x - 0.5) / zoom, 0.5 + (y - 0.5) / zoom);
    }
  }
  return out;
}

/**
 * Likeness of two pictures apart from brightness and contrast, over the points that both have: Pearson's correlation,
 * −1 to 1; null where one is flat.
 */
function likeness(a: Float64Array, b: Float64Array): number | null {
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
function onlyGrain(points: Float64Array): boolean {
  const beside = likeness(points.subarray(0, -1), points.subarray(1));
  return beside !== null && beside < 0.5;
}

function mixed(a: Float64Array, b: Float64Array, share: number): Float64Array {
  return a.map((x, i) => x * (1 - share) + (b[i] as number) * share);
}

/** How like a picture must be at least where its light is the original's. Chosen. */
const leastLike = 0.6;

/**
 * Holds sampled pictures of an output against the original's frames that core's map names, at the places that core's
 * geometry names: the right frame must be at least as like as its neighbours, and no shift of the picture may be more
 * like. `sameLight` is false where a chain changed the picture's light, which makes it less like: then only clear
 * likeness tells frames apart.
 */
export function pictureComparisons(
  video: VideoPlan,
  upright: { width: number; height: number },
  frames: number,
  outputsAsTheyAre: Smalls,
  originalsAsTheyAre: Smalls,
  sameLight: boolean,
  burn: BurnPlan | null = null,
): Comparison[] {
  const { geometry } = video;
  if (!geometry) return [];
  const steady = video.steps.find((step) => step.kind === 'stabilise');
  const [outputs, originals] = [outputsAsTheyAre, originalsAsTheyAre].map((smalls): Smalls =>
    steady ? new Map([...smalls].map(([n, small]) => [n, softened(small)])) : smalls,
  ) as [Smalls, Smalls];
  const zoom = 1 + (steady?.zoomPercent ?? 0) / 100;
  // Where a stabilised picture may lie, in points of the grid: as far as it may have been moved, and a little for
  // turning.
  const reach = steady ? Math.ceil((steady.maxShift * 1.5 * zoom * grid.width) / upright.width) : 0;
  let [told, right] = [0, 0];
  let [shapes, grains, least] = [0, 0, 1];
  const wrong: string[] = [];
  const shifts: string[] = [];
  const offsets: Offset[] = [];
  const linesKept = !video.steps.some(
    ({ kind }) => kind === 'deinterlace' || kind === 'pulldown-out' || kind === 'pulldown-in',
  );
  for (const [n, small] of outputs) {
    const { frame, other } = shownBy(video.map, n, frames);
    const source = originals.get(frame);
    if (!source) continue;
    const { active, raster } = geometry;
    const [reachX, reachY] = [raster.width / small.width, raster.height / small.height];
    const covered = (u: number, v: number): boolean =>
      burnt(
        burn,
        {
          x: active.x + u * active.width - reachX,
          y: active.y + v * active.height - reachY,
          width: 2 * reachX,
          height: 2 * reachY,
        },
        n,
      );
    const seen = inActive(small, geometry, covered);
    const moved: Float64Array[] = [];
    for (let dy = -reach; steady && dy <= reach; dy += 0.5)
      for (let dx = -reach; dx <= reach; dx += 0.5)
        moved.push(inActive(small, geometry, covered, dx / grid.width, dy / grid.height));
    const likest = (wanted: Float64Array): number | null =>
      steady
        ? moved.reduce<number | null>((best, one) => {
            const like = likeness(one, wanted);
            return like !== null && (best === null || like > best) ? like : best;
          }, null)
        : likeness(seen, wanted);
    const original = (m: number): Float64Array | null => {
      const one = originals.get(m);
      return one ? inOriginal(one, geometry, upright, zoom) : null;
    };
    const first = inOriginal(source, geometry, upright, zoom);
    const second = other ? original(other.frame) : null;
    const wanted = other && second ? mixed(first, second, other.share) : first;
    const like = likest(wanted);
    if (like === null) continue;
    if (like <= leastLike && onlyGrain(wanted) && onlyGrain(seen)) {
      grains += 1;
      continue;
    }
    shapes += 1;
    least = Math.min(least, like);
    // A shift that is clearly more like is a picture in the wrong place.
    for (const [dx, dy] of steady ? [] : shiftsTried) {
      const there = likeness(inActive(small, geometry, covered, dx / grid.width, dy / grid.height), wanted) ?? -1;
      if (1 - there < (1 - like) * 0.5 && 1 - like > 0.002 && (sameLight || there > 0.9))
        shifts.push(
          `frame ${n + 1} lies ${dx ? (dx > 0 ? 'to the right' : 'to the left') : dy > 0 ? 'lower' : 'higher'}`,
        );
    }
    // By slopes, where the picture's light is the original's and no line was made up: to less than a sample.
    const off =
      other || !sameLight || steady || !linesKept
        ? null
        : offsetOf(
            inOriginal(source, geometry, upright, zoom, fine),
            inActive(small, geometry, covered, 0, 0, fine),
            fine.width,
            fine.height,
          );
    if (off) offsets.push({ dx: (off.dx * active.width) / fine.width, dy: (off.dy * active.height) / fine.height });
    // Woven or mixed frames are like both of theirs: only whole ones can be told from their neighbours.
    if (other) continue;
    const rivals = [frame - 1, frame + 1].flatMap((m) => {
      const picture = original(m);
      const rival = picture ? likest(picture) : null;
      return rival === null ? [] : [{ m, rival }];
    });
    const moves = rivals.some(({ m }) => 1 - (likeness(wanted, original(m) as Float64Array) ?? 1) > 2e-5);
    if (!moves) continue;
    told += 1;
    const better =
      !sameLight && like < 0.9 ? undefined : rivals.find(({ rival }) => 1 - rival < (1 - like) * 0.6 && like < 0.99999);
    if (better) wrong.push(`frame ${n + 1} shows ${better.m + 1} of the original, not ${frame + 1}`);
    else right += 1;
  }
  const [dx, dy] = [medianOf(offsets.map((one) => one.dx)), medianOf(offsets.map((one) => one.dy))];
  const apart = Math.max(Math.abs(dx), Math.abs(dy));
  if (apart > mostOff) shifts.push(`it lies ${dx.toFixed(1)} samples to the right and ${dy.toFixed(1)} lower`);
  const comparisons: Comparison[] = [
    {
      name: 'frames shown',
      planned: "each sampled frame the original's by the map",
      found: wrong[0] ?? (told === 0 ? 'nothing moves to tell by' : `${right} of ${told} sampled frames`),
      holds: wrong.length === 0,
    },
    {
      name: 'picture in its place',
      planned: steady
        ? `as the original's window, moved by ${steady.maxShift} samples at most`
        : "as the original's window, not shifted",
      found:
        shifts[0] ??
        (shapes === 0
          ? grains > 0
            ? 'nothing but grain to tell by'
            : 'pictures too flat to tell'
          : `likeness ${least.toFixed(4)} at least${offsets.length > 0 ? `, within ${apart.toFixed(2)} samples` : ''}`),
      holds: shifts.length === 0 && (!sameLight || least > leastLike),
    },
  ];
  return [...comparisons, ...barComparison(video, outputsAsTheyAre, burn)];
}

/** Bars where they were planned: their luma even and the colour that was asked for. */
function barComparison({ geometry }: VideoPlan, outputs: Smalls, burn: BurnPlan | null): Comparison[] {
  if (!geometry) return [];
  const { raster, active, padColour } = geometry;
  if (active.width === raster.width && active.height === raster.height) return [];
  const wanted = { black: 16, grey: 126, white: 235 }[padColour] * 256;
  let worst = 0;
  for (const [n, { width, height, luma }] of outputs) {
    for (let y = 0; y < height; y += 1) {
      for (let x = 0; x < width; x += 1) {
        // Samples that touch the picture are left out: small pictures mix them with it.
        const [left, right, top, bottom] = [
          ((x - 1) * raster.width) / width,
          ((x + 2) * raster.width) / width,
          ((y - 1) * raster.height) / height,
          ((y + 2) * raster.height) / height,
        ];
        if (right > active.x && left < active.x + active.width && bottom > active.y && top < active.y + active.height)
          continue;
        if (burnt(burn, { x: left, y: top, width: right - left, height: bottom - top }, n)) continue;
        worst = Math.max(worst, Math.abs((luma[y * width + x] as number) - wanted));
      }
    }
  }
  return [
    {
      name: 'active area',
      planned: `${active.width}×${active.height} at ${active.x}, ${active.y}, ${padColour} around it`,
      found: `around it within ${(worst / 64).toFixed(1)} of 1023`,
      holds: worst < 6 * 256,
    },
  ];
}
