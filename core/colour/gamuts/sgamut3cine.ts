import { d65, type Gamut } from '../gamut.ts';

export const sgamut3cine: Gamut = {
  id: 'sgamut3cine',
  name: 'S-Gamut3.Cine',
  red: [0.766, 0.275],
  green: [0.225, 0.8],
  blue: [0.089, -0.087],
  white: d65,
  adaptation: 'cat02',
  source: 'Technical summary for S-Gamut3.Cine/S-Log3 and S-Gamut3/S-Log3, Sony 2014',
};
