import { acesWhite, type Gamut } from '../gamut.ts';

export const ap1: Gamut = {
  id: 'ap1',
  name: 'ACES AP1',
  red: [0.713, 0.293],
  green: [0.165, 0.83],
  blue: [0.128, 0.044],
  white: acesWhite,
  adaptation: 'bradford',
  source: 'Academy S-2014-004',
};
