import type { Transform } from '../ops/op.ts';
import type { Lut3d } from './lut.ts';

export interface Inverse3d {
  transform: Transform;
  /** How many of the values that went through were not among those that the cube gives, and came back as the nearest found. */
  notReached: () => number;
}

type Corner = [number, number, number];

/** The six tetrahedra of a cell: corners between black and white, and which of r, g, b is the largest, middle and smallest share. */
const tetrahedra: readonly {
  first: readonly [number, number, number];
  second: readonly [number, number, number];
  order: readonly [0 | 1 | 2, 0 | 1 | 2, 0 | 1 | 2];
}[] = [
  { first: [1, 0, 0], second: [1, 1, 0], order: [0, 1, 2] },
  { first: [1, 0, 0], second: [1, 0, 1], order: [0, 2, 1] },
  { first: [0, 0, 1], second: [1, 0, 1], order: [2, 0, 1] },
  { first: [0, 0, 1], second: [0, 1, 1], order: [2, 1, 0] },
  { first: [0, 1, 0], second: [0, 1, 1], order: [1, 2, 0] },
  { first: [0, 1, 0], second: [1, 1, 0], order: [1, 0, 2] },
];

/** Lowest and highest values of blocks of cells, each level with half the blocks of the one below along each edge. */
interface Level {
  edge: number;
  /** Six numbers a block: lowest R, G, B, highest R, G, B. */
  bounds: Float64Array;
}

function levelsOf(lut: Lut3d): Level[] {
  const edge = lut.size - 1;
  const bounds = new Float64Array(edge ** 3 * 6);
  const at = (r: number, g: number, b: number): number => (r + lut.size * (g + lut.size * b)) * 3;
  for (let b = 0, i = 0; b < edge; b += 1) {
    for (let g = 0; g < edge; g += 1) {
      for (let r = 0; r < edge; r += 1, i += 6) {
        for (let c = 0; c < 3; c += 1) {
          let low = Infinity;
          let high = -Infinity;
          for (let corner = 0; corner < 8; corner += 1) {
            const value = lut.values[at(r + (corner & 1), g + ((corner >> 1) & 1), b + (corner >> 2)) + c] as number;
            if (value < low) low = value;
            if (value > high) high = value;
          }
          bounds[i + c] = low;
          bounds[i + 3 + c] = high;
        }
      }
    }
  }
  const levels: Level[] = [{ edge, bounds }];
  while ((levels.at(-1) as Level).edge > 1) {
    const below = levels.at(-1) as Level;
    const half = Math.ceil(below.edge / 2);
    const joined = new Float64Array(half ** 3 * 6);
    for (let i = 0; i < joined.length; i += 6)
      joined.set([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity], i);
    for (let b = 0, i = 0; b < below.edge; b += 1) {
      for (let g = 0; g < below.edge; g += 1) {
        for (let r = 0; r < below.edge; r += 1, i += 6) {
          const to = ((r >> 1) + half * ((g >> 1) + half * (b >> 1))) * 6;
          for (let c = 0; c < 3; c += 1) {
            joined[to + c] = Math.min(joined[to + c] as number, below.bounds[i + c] as number);
            joined[to + 3 + c] = Math.max(joined[to + 3 + c] as number, below.bounds[i + 3 + c] as number);
          }
        }
      }
    }
    levels.push({ edge: half, bounds: joined });
  }
  return levels;
}

/** Shares this far outside a tetrahedron still count as on its face. */
const tolerance = 1e-7;

/**
 * The inverse of tetrahedral interpolation: the tetrahedron that gives the value is looked for in a tree of bounds, and
 * solved. A value that nothing gives comes back as the nearest that was found; where a cube folds over itself, several
 * colours give the same value and the first is taken.
 */
// eslint-disable-next-line max-lines-per-function -- a search in one loop, with its numbers in locals: a call for each step costs more than the step
export function compileInverse3d(lut: Lut3d): Inverse3d {
  const levels = levelsOf(lut);
  const { size, values } = lut;
  let missed = 0;
  const p: [Corner, Corner, Corner, Corner] = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ];
  const best = new Float64Array(3);
  let bestMiss = Infinity;
  const corner = (to: Corner, r: number, g: number, b: number): void => {
    const at = (r + size * (g + size * b)) * 3;
    to[0] = values[at] as number;
    to[1] = values[at + 1] as number;
    to[2] = values[at + 2] as number;
  };
  const inCell = (r: number, g: number, b: number, want: Corner): boolean => {
    const [p0, p1, p2, p3] = p;
    for (const { first, second, order } of tetrahedra) {
      corner(p0, r, g, b);
      corner(p1, r + first[0], g + first[1], b + first[2]);
      corner(p2, r + second[0], g + second[1], b + second[2]);
      corner(p3, r + 1, g + 1, b + 1);
      // want − p0 = high·(p1 − p0) + middle·(p2 − p1) + low·(p3 − p2), by Cramer's rule.
      const [ax, ay, az] = [p1[0] - p0[0], p1[1] - p0[1], p1[2] - p0[2]];
      const [bx, by, bz] = [p2[0] - p1[0], p2[1] - p1[1], p2[2] - p1[2]];
      const [cx, cy, cz] = [p3[0] - p2[0], p3[1] - p2[1], p3[2] - p2[2]];
      const [dx, dy, dz] = [want[0] - p0[0], want[1] - p0[1], want[2] - p0[2]];
      const [nx, ny, nz] = [by * cz - bz * cy, bz * cx - bx * cz, bx * cy - by * cx];
      const determinant = ax * nx + ay * ny + az * nz;
      if (Math.abs(determinant) < 1e-18) continue;
      let high = (dx * nx + dy * ny + dz * nz) / determinant;
      let middle = (ax * (dy * cz - dz * cy) + ay * (dz * cx - dx * cz) + az * (dx * cy - dy * cx)) / determinant;
      let low = (ax * (by * dz - bz * dy) + ay * (bz * dx - bx * dz) + az * (bx * dy - by * dx)) / determinant;
      const outside = Math.max(0, high - 1, middle - high, low - middle, -low);
      const found = outside <= tolerance;
      high = Math.min(1, Math.max(0, high));
      middle = Math.min(high, Math.max(0, middle));
      low = Math.min(middle, Math.max(0, low));
      let miss = 0;
      if (!found) {
        for (const c of [0, 1, 2] as const) {
          const given = p0[c] + high * (p1[c] - p0[c]) + middle * (p2[c] - p1[c]) + low * (p3[c] - p2[c]);
          miss += (given - want[c]) ** 2;
        }
      }
      if (miss < bestMiss || found) {
        bestMiss = miss;
        const base = [r, g, b];
        const shares = [high, middle, low];
        order.forEach((channel, rank) => {
          best[channel] = (base[channel] as number) + (shares[rank] as number);
        });
      }
      if (found) return true;
    }
    return false;
  };
  /** How far a value lies from a block's bounds, squared. */
  const away = (level: Level, i: number, want: Corner): number => {
    let sum = 0;
    for (let c = 0; c < 3; c += 1) {
      const low = level.bounds[i + c] as number;
      const high = level.bounds[i + 3 + c] as number;
      const x = want[c as 0 | 1 | 2];
      const d = x < low ? low - x : x > high ? x - high : 0;
      sum += d * d;
    }
    return sum;
  };
  const search = (depth: number, r: number, g: number, b: number, want: Corner): boolean => {
    if (depth === 0) return inCell(r, g, b, want);
    const below = levels[depth - 1] as Level;
    const children: { r: number; g: number; b: number; distance: number }[] = [];
    for (let corner = 0; corner < 8; corner += 1) {
      const [x, y, z] = [2 * r + (corner & 1), 2 * g + ((corner >> 1) & 1), 2 * b + (corner >> 2)];
      if (x >= below.edge || y >= below.edge || z >= below.edge) continue;
      const distance = away(below, (x + below.edge * (y + below.edge * z)) * 6, want);
      if (distance <= bestMiss) children.push({ r: x, g: y, b: z, distance });
    }
    children.sort((one, other) => one.distance - other.distance);
    return children.some((child) => child.distance <= bestMiss && search(depth - 1, child.r, child.g, child.b, want));
  };
  const want: Corner = [0, 0, 0];
  return {
    notReached: () => missed,
    transform: (rgb) => {
      for (const c of [0, 1, 2] as const) want[c] = Number.isNaN(rgb[c]) ? 0 : (rgb[c] as number);
      bestMiss = Infinity;
      best.fill(0);
      if (!search(levels.length - 1, 0, 0, 0, want)) missed += 1;
      for (let c = 0; c < 3; c += 1) {
        const min = lut.domainMin[c] as number;
        rgb[c] = min + ((best[c] as number) / (size - 1)) * ((lut.domainMax[c] as number) - min);
      }
    },
  };
}
