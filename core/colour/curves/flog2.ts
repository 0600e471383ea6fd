import type { Curve } from '../curve.ts';

export const flog2: Curve = {
  id: 'flog2',
  name: 'F-Log2',
  light: 'scene',
  toLinear: (signal) =>
    signal >= 0.100686685370811
      ? (10 ** ((signal - 0.384316) / 0.245281) - 0.064829) / 5.555556
      : (signal - 0.092864) / 8.799461,
  fromLinear: (light) =>
    light >= 0.000889 ? 0.245281 * Math.log10(5.555556 * light + 0.064829) + 0.384316 : 8.799461 * light + 0.092864,
  source: 'F-Log2 data sheet, Fujifilm 2022',
  confirmed: false,
};
