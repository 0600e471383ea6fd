import type { Curve } from '../curve.ts';

export const flog: Curve = {
  id: 'flog',
  name: 'F-Log',
  light: 'scene',
  toLinear: (signal) =>
    signal >= 0.100537775223865
      ? (10 ** ((signal - 0.790453) / 0.344676) - 0.009468) / 0.555556
      : (signal - 0.092864) / 8.735631,
  fromLinear: (light) =>
    light >= 0.00089 ? 0.344676 * Math.log10(0.555556 * light + 0.009468) + 0.790453 : 8.735631 * light + 0.092864,
  source: 'F-Log data sheet, Fujifilm 2018',
  confirmed: false,
};
