import type { Curve } from '../curve.ts';

/** Canon Log 2. Its formula counts light in units of 90 % reflection, hence 0.9. */
export const clog2: Curve = {
  id: 'clog2',
  name: 'C-Log2',
  light: 'scene',
  toLinear: (signal) =>
    0.9 *
    (signal < 0.092864125
      ? -(10 ** ((0.092864125 - signal) / 0.24136077) - 1) / 87.099375
      : (10 ** ((signal - 0.092864125) / 0.24136077) - 1) / 87.099375),
  fromLinear: (light) => {
    const x = light / 0.9;
    return x < 0
      ? -0.24136077 * Math.log10(1 - 87.099375 * x) + 0.092864125
      : 0.24136077 * Math.log10(87.099375 * x + 1) + 0.092864125;
  },
  source: 'Canon Log gamma curves, Canon 2018',
  confirmed: true,
};
