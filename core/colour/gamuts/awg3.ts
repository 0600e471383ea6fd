import { d65, type Gamut } from '../gamut.ts';

export const awg3: Gamut = {
  id: 'awg3',
  name: 'ARRI Wide Gamut 3',
  red: [0.684, 0.313],
  green: [0.221, 0.848],
  blue: [0.0861, -0.102],
  white: d65,
  adaptation: 'cat02',
  source: 'ALEXA Log C Curve, usage in VFX, ARRI 2017',
};
