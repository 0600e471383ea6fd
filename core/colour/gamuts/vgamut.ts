import { d65, type Gamut } from '../gamut.ts';

export const vgamut: Gamut = {
  id: 'vgamut',
  name: 'V-Gamut',
  red: [0.73, 0.28],
  green: [0.165, 0.84],
  blue: [0.1, -0.03],
  white: d65,
  adaptation: 'bradford',
  source: 'V-Log/V-Gamut reference manual, Panasonic 2014',
};
