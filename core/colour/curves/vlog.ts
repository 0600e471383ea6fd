import type { Curve } from '../curve.ts';

export const vlog: Curve = {
  id: 'vlog',
  name: 'V-Log',
  light: 'scene',
  toLinear: (signal) => (signal < 0.181 ? (signal - 0.125) / 5.6 : 10 ** ((signal - 0.598206) / 0.241514) - 0.00873),
  fromLinear: (light) => (light < 0.01 ? 5.6 * light + 0.125 : 0.241514 * Math.log10(light + 0.00873) + 0.598206),
  source: 'V-Log/V-Gamut reference manual, Panasonic 2014',
  confirmed: true,
};
