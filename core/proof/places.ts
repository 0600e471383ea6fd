import { burnt } from '../burn/area.ts';
import type { BurnPlan } from '../burn/plan.ts';
import type { Geometry } from '../shape/geometry.ts';
import { emptyLattice, lay, readAt, type Lattice } from './lattice.ts';
import { grid, type Plane, type Small } from './smalls.ts';

/** The same places of an output and of its original, by core's own geometry. */

/** Lattices that were laid for a geometry, by what they depend on beside it; gone with it. */
const laid = new WeakMap<Geometry, Map<string, Lattice>>();
/** More of one geometry are not kept: a stabilised picture is looked for at hundreds of places. */
const mostKept = 48;

function kept(geometry: Geometry, facts: readonly (string | number)[], make: () => Lattice): Lattice {
  const key = facts.join(' ');
  const all = laid.get(geometry) ?? new Map<string, Lattice>();
  laid.set(geometry, all);
  const found = all.get(key);
  if (found) return found;
  const made = make();
  if (all.size < mostKept) all.set(key, made);
  return made;
}

/** Nothing is drawn over the picture. */
const nowhere = (): boolean => false;

/** Which places of an output's active area are drawn over in its frame `n`, by as much as a small sample mixes. */
export function coveredIn(
  { raster, active }: Geometry,
  small: Small,
  burn: BurnPlan | null,
  n: number,
): (u: number, v: number) => boolean {
  if (!burn) return nowhere;
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
  geometry: Geometry,
  covered: (u: number, v: number) => boolean,
  { dx, dy } = { dx: 0, dy: 0 },
  points = grid,
): Float64Array {
  const { raster, active } = geometry;
  const make = (): Lattice => {
    const lattice = emptyLattice(points.width * points.height);
    for (let j = 0; j < points.height; j += 1) {
      for (let i = 0; i < points.width; i += 1) {
        const u = (i + 0.5) / points.width + dx;
        const v = (j + 0.5) / points.height + dy;
        if (u < 0 || u > 1 || v < 0 || v > 1 || covered(u, v)) continue;
        const x = (active.x + u * active.width) / raster.width;
        const y = (active.y + v * active.height) / raster.height;
        lay(lattice, j * points.width + i, small, x, y);
      }
    }
    return lattice;
  };
  const key = ['active', small.width, small.height, dx, dy, points.width, points.height];
  return readAt(small, covered === nowhere ? kept(geometry, key, make) : make());
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
  const make = (): Lattice => {
    const lattice = emptyLattice(points.width * points.height);
    for (let j = 0; j < points.height; j += 1) {
      for (let i = 0; i < points.width; i += 1) {
        let u = (view.x + ((i + 0.5) / points.width) * view.width) / scaled.width;
        let v = (view.y + ((j + 0.5) / points.height) * view.height) / scaled.height;
        if (turn.down) v = 1 - v;
        if (turn.across) u = 1 - u;
        // Back from a clockwise turn: what is at (u, v) came from (v, 1 − u).
        for (let q = 0; q < turn.quarters; q += 1) [u, v] = [v, 1 - u];
        const x = (window.x + u * window.width) / upright.width;
        const y = (window.y + v * window.height) / upright.height;
        // What was stabilised is the enlarged middle.
        lay(lattice, j * points.width + i, small, 0.5 + (x - 0.5) / zoom, 0.5 + (y - 0.5) / zoom);
      }
    }
    return lattice;
  };
  const key = ['original', small.width, small.height, upright.width, upright.height, zoom, points.width, points.height];
  return readAt(small, kept(geometry, key, make));
}
