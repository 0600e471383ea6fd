import type { Curve } from '../curve.ts';

/** ITU-R BT.2020-2, table 4: α and β are the solution that joins both pieces without a step. */
const alpha = 1.09929682680944;
const beta = 0.018053968510807;

export const bt2020: Curve = {
  id: 'bt2020',
  name: 'BT.2020',
  light: 'scene',
  toLinear: (signal) => (signal < 4.5 * beta ? signal / 4.5 : ((signal + alpha - 1) / alpha) ** (1 / 0.45)),
  fromLinear: (light) => (light < beta ? 4.5 * light : alpha * light ** 0.45 - (alpha - 1)),
  source: 'ITU-R BT.2020-2, table 4',
  confirmed: true,
};
