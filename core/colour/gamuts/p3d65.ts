import { d65, type Gamut } from '../gamut.ts';

export const p3d65: Gamut = {
  id: 'p3d65',
  name: 'P3, D65',
  red: [0.68, 0.32],
  green: [0.265, 0.69],
  blue: [0.15, 0.06],
  white: d65,
  adaptation: 'bradford',
  source: 'SMPTE EG 432-1',
};
