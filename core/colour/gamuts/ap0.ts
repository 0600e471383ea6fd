import { acesWhite, type Gamut } from '../gamut.ts';

export const ap0: Gamut = {
  id: 'ap0',
  name: 'ACES AP0',
  red: [0.7347, 0.2653],
  green: [0, 1],
  blue: [0.0001, -0.077],
  white: acesWhite,
  adaptation: 'bradford',
  source: 'SMPTE ST 2065-1',
};
