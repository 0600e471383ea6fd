import { d65, type Gamut } from '../gamut.ts';

export const awg4: Gamut = {
  id: 'awg4',
  name: 'ARRI Wide Gamut 4',
  red: [0.7347, 0.2653],
  green: [0.1424, 0.8576],
  blue: [0.0991, -0.0308],
  white: d65,
  adaptation: 'cat02',
  source: 'LogC4 specification, ARRI 2022',
};
