import { d65, type Gamut } from '../gamut.ts';

export const bt2020: Gamut = {
  id: 'bt2020',
  name: 'BT.2020',
  red: [0.708, 0.292],
  green: [0.17, 0.797],
  blue: [0.131, 0.046],
  white: d65,
  adaptation: 'bradford',
  source: 'ITU-R BT.2020-2, table 3',
};
