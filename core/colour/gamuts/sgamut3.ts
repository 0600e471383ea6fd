import { d65, type Gamut } from '../gamut.ts';

export const sgamut3: Gamut = {
  id: 'sgamut3',
  name: 'S-Gamut3',
  red: [0.73, 0.28],
  green: [0.14, 0.855],
  blue: [0.1, -0.05],
  white: d65,
  adaptation: 'cat02',
  source: 'Technical summary for S-Gamut3.Cine/S-Log3 and S-Gamut3/S-Log3, Sony 2014; S-Gamut has the same primaries',
};
