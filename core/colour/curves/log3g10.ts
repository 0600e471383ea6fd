import type { Curve } from '../curve.ts';

const a = 0.224282;
const b = 155.975327;
const c = 0.01;
const g = 15.1927;

export const log3g10: Curve = {
  id: 'log3g10',
  name: 'Log3G10',
  light: 'scene',
  toLinear: (signal) => (signal < 0 ? signal / g - c : (10 ** (signal / a) - 1) / b - c),
  fromLinear: (light) => (light + c < 0 ? (light + c) * g : a * Math.log10((light + c) * b + 1)),
  source: 'White paper on REDWideGamutRGB and Log3G10, RED 2017',
  confirmed: true,
};
