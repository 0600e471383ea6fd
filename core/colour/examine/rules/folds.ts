import { latticeEdge } from '../facts.ts';
import type { LutRule } from '../finding.ts';

/** A cell smaller than this share of an unchanged one is flat, not turned over: gamuts end there. */
const least = 0.002 / (latticeEdge - 1) ** 3;
/** Cells whose channels lie this near each other hold most of a picture. */
const nearNeutral = 2;

/** Colours change places: between two that come out in order lies a third that does not. */
export const folds: LutRule = (facts) => {
  if (!facts.threeDimensional) return null;
  const n = latticeEdge;
  const value = (r: number, g: number, b: number, c: number): number =>
    facts.lattice[(r + n * (g + n * b)) * 3 + c] as number;
  const points: [number, number, number][] = [];
  const near = { cells: 0, turned: 0 };
  const far = { cells: 0, turned: 0 };
  for (let b = 0; b < n - 1; b += 1) {
    for (let g = 0; g < n - 1; g += 1) {
      for (let r = 0; r < n - 1; r += 1) {
        const d = (c: number): [number, number, number] => [
          value(r + 1, g, b, c) - value(r, g, b, c),
          value(r, g + 1, b, c) - value(r, g, b, c),
          value(r, g, b + 1, c) - value(r, g, b, c),
        ];
        const [x, y, z] = [d(0), d(1), d(2)];
        const volume =
          x[0] * (y[1] * z[2] - y[2] * z[1]) - x[1] * (y[0] * z[2] - y[2] * z[0]) + x[2] * (y[0] * z[1] - y[1] * z[0]);
        const where = Math.max(r, g, b) - Math.min(r, g, b) <= nearNeutral ? near : far;
        if (Math.abs(volume) > least) where.cells += 1;
        if (volume < -least) {
          where.turned += 1;
          if (points.length < 400) points.push([r / (n - 1), g / (n - 1), b / (n - 1)]);
        }
      }
    }
  }
  const share = (one: { cells: number; turned: number }): number => (one.cells > 0 ? one.turned / one.cells : 0);
  const picture = { kind: 'lattice', points } as const;
  if (share(near) > 0.5)
    return {
      rule: 'folds',
      level: 'stop',
      text: 'Colours come out mirrored: channels have changed places',
      remedy: 'Look whether its red and blue are swapped',
      picture,
    };
  if (near.turned >= 3 && share(near) > 0.03) {
    return {
      rule: 'folds',
      level: 'decide',
      text: `Its cube folds over itself near neutrals, in ${(share(near) * 100).toFixed(1)} % of its cells there`,
      remedy: 'Gradients may break there; ask for the LUT to be made again',
      picture,
    };
  }
  if (far.turned < 12 || share(far) < 0.02) return null;
  return {
    rule: 'folds',
    level: 'note',
    text: `Its cube folds over itself among saturated colours, in ${(share(far) * 100).toFixed(1)} % of its cells there`,
    remedy: 'Gradients between saturated lights may break there, and it cannot be undone there',
    picture,
  };
};
