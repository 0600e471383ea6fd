import { d65, type Gamut } from '../gamut.ts';

export const dgamut: Gamut = {
  id: 'dgamut',
  name: 'D-Gamut',
  red: [0.71, 0.31],
  green: [0.21, 0.88],
  blue: [0.09, -0.08],
  white: d65,
  adaptation: 'bradford',
  source: 'White paper on D-Log and D-Gamut, DJI 2017',
};
