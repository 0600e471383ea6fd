import type { Curve } from '../curve.ts';

/** N-Log: a cube root in the shadows, a natural logarithm above; the signal is the 10-bit code as a share of 1023. */
export const nlog: Curve = {
  id: 'nlog',
  name: 'N-Log',
  light: 'scene',
  toLinear: (signal) =>
    signal * 1023 < 452 ? ((signal * 1023) / 650) ** 3 - 0.0075 : Math.exp((signal * 1023 - 619) / 150),
  fromLinear: (light) =>
    light < 0.328 ? (650 * Math.cbrt(light + 0.0075)) / 1023 : (150 * Math.log(light) + 619) / 1023,
  source: 'N-Log specification document, Nikon 2018',
  confirmed: false,
};
