import { d65, type Gamut } from '../gamut.ts';

export const rwg: Gamut = {
  id: 'rwg',
  name: 'REDWideGamutRGB',
  red: [0.780308, 0.304253],
  green: [0.121595, 1.493994],
  blue: [0.095612, -0.084589],
  white: d65,
  adaptation: 'bradford',
  source: 'White paper on REDWideGamutRGB and Log3G10, RED 2017',
};
