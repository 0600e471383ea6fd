import { d65, type Gamut } from '../gamut.ts';

export const bt601: Gamut = {
  id: 'bt601',
  name: 'BT.601 (525)',
  red: [0.63, 0.34],
  green: [0.31, 0.595],
  blue: [0.155, 0.07],
  white: d65,
  adaptation: 'bradford',
  source: 'ITU-R BT.601-7, 525 lines (SMPTE 170M)',
};
