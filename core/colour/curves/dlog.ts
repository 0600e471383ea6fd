import type { Curve } from '../curve.ts';

/**
 * D-Log. Printed twice, once in each direction, with rounded constants; here the way back is the exact inverse of the
 * way to code.
 */
export const dlog: Curve = {
  id: 'dlog',
  name: 'D-Log',
  light: 'scene',
  toLinear: (signal) =>
    signal <= 6.025 * 0.0078 + 0.0929
      ? (signal - 0.0929) / 6.025
      : (10 ** ((signal - 0.584555) / 0.256663) - 0.0108) / 0.9892,
  fromLinear: (light) =>
    light <= 0.0078 ? 6.025 * light + 0.0929 : 0.256663 * Math.log10(light * 0.9892 + 0.0108) + 0.584555,
  source: 'White paper on D-Log and D-Gamut, DJI 2017',
  confirmed: false,
};
