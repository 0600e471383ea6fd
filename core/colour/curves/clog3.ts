import type { Curve } from '../curve.ts';

/** Canon Log 3. Its formula counts light in units of 90 % reflection, hence 0.9. */
export const clog3: Curve = {
  id: 'clog3',
  name: 'C-Log3',
  light: 'scene',
  toLinear: (signal) => {
    if (signal < 0.097465473) return (-0.9 * (10 ** ((0.12783901 - signal) / 0.36726845) - 1)) / 14.98325;
    if (signal <= 0.15277891) return (0.9 * (signal - 0.12512219)) / 1.9754798;
    return (0.9 * (10 ** ((signal - 0.12240537) / 0.36726845) - 1)) / 14.98325;
  },
  fromLinear: (light) => {
    const x = light / 0.9;
    if (x < -0.014) return -0.36726845 * Math.log10(1 - 14.98325 * x) + 0.12783901;
    if (x <= 0.014) return 1.9754798 * x + 0.12512219;
    return 0.36726845 * Math.log10(14.98325 * x + 1) + 0.12240537;
  },
  source: 'Canon Log gamma curves, Canon 2018',
  confirmed: true,
};
