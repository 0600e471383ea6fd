import type { Gamut } from '../gamut.ts';

export const p3dci: Gamut = {
  id: 'p3dci',
  name: 'P3, cinema white',
  red: [0.68, 0.32],
  green: [0.265, 0.69],
  blue: [0.15, 0.06],
  white: [0.314, 0.351],
  adaptation: 'bradford',
  source: 'SMPTE RP 431-2',
};
