import { d65, type Gamut } from '../gamut.ts';

export const cgamut: Gamut = {
  id: 'cgamut',
  name: 'Cinema Gamut',
  red: [0.74, 0.27],
  green: [0.17, 1.14],
  blue: [0.08, -0.1],
  white: d65,
  adaptation: 'cat02',
  source: 'Canon Log gamma curves, Canon 2018',
};
