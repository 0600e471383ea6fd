import { burnt } from '../burn/area.ts';
import type { BurnPlan } from '../burn/plan.ts';
import type { Geometry } from '../shape/geometry.ts';
import { grid, type Plane, type Small } from './smalls.ts';

/** The same places of an output and of its original, by core's own geometry. */

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

/** Which places of an output's active area are drawn over in its frame `n`, by as much as a small sample mixes. */
export function coveredIn(
  { raster, active }: Geometry,
  small: Small,
  burn: BurnPlan | null,
  n: number,
): (u: number, v: number) => boolean {
  const [reachX, reachY] = [raster.width / small.width, raster.height / small.height];
  return (u, v) =>
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
}

/**
 * The picture that lies in the output's active area, at the grid's points, moved by shares of its size; what is covered
 * there is left out.
 */
export function inActive(
  small: Plane,
  { raster, active }: Geometry,
  covered: (u: number, v: number) => boolean,
  { dx, dy } = { dx: 0, dy: 0 },
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
