import { d65, type Gamut } from '../gamut.ts';

export const bt709: Gamut = {
  id: 'bt709',
  name: 'BT.709',
  red: [0.64, 0.33],
  green: [0.3, 0.6],
  blue: [0.15, 0.06],
  white: d65,
  adaptation: 'bradford',
  source: 'ITU-R BT.709-6, item 1.3',
};
