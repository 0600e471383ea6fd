import { latticeEdge } from '../facts.ts';
import type { LutRule } from '../finding.ts';

/** Below this volume a cell is flat, not turned over. */
const least = 1e-9;

/** Colours change places: between two that come out in order lies a third that does not. */
export const folds: LutRule = (facts) => {
  if (!facts.threeDimensional) return null;
  const n = latticeEdge;
  const value = (r: number, g: number, b: number, c: number): number => facts.lattice[(r + n * (g + n * b)) * 3 + c] as number;
  const points: [number, number, number][] = [];
  let cells = 0;
  let turned = 0;
  for (let b = 0; b < n - 1; b += 1) {
    for (let g = 0; g < n - 1; g += 1) {
      for (let r = 0; r < n - 1; r += 1) {
        const d = (c: number): [number, number, number] => [
          value(r + 1, g, b, c) - value(r, g, b, c), value(r, g + 1, b, c) - value(r, g, b, c), value(r, g, b + 1, c) - value(r, g, b, c),
        ];
        const [x, y, z] = [d(0), d(1), d(2)];
        const volume = x[0] * (y[1] * z[2] - y[2] * z[1]) - x[1] * (y[0] * z[2] - y[2] * z[0]) + x[2] * (y[0] * z[1] - y[1] * z[0]);
        if (Math.abs(volume) > least) cells += 1;
        if (volume < -least) {
          turned += 1;
          if (points.length < 400) points.push([r / (n - 1), g / (n - 1), b / (n - 1)]);
        }
      }
    }
  }
  const share = cells > 0 ? turned / cells : 0;
  if (turned < 3 || share < 0.002) return null;
  return {
    rule: 'folds', level: share > 0.05 ? 'decide' : 'note', text: share > 0.5 ? 'Colours come out mirrored: channels have changed places' : `Its cube folds over itself in ${(share * 100).toFixed(1)} % of its cells`,
    remedy: share > 0.5 ? 'Look whether its red and blue are swapped' : 'Gradients between saturated colours may break there, and it cannot be undone there', picture: { kind: 'lattice', points },
  };
};
