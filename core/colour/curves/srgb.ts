import { mirrored, type Curve } from '../curve.ts';

export const srgb: Curve = {
  id: 'srgb',
  name: 'sRGB',
  light: 'display',
  toLinear: mirrored((signal) => (signal <= 0.04045 ? signal / 12.92 : ((signal + 0.055) / 1.055) ** 2.4)),
  fromLinear: mirrored((light) => (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055)),
  source: 'IEC 61966-2-1:1999',
  confirmed: true,
};
