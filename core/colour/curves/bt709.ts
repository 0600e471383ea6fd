import type { Curve } from '../curve.ts';

/** ITU-R BT.709-6, item 1.2, with its constants as printed: the opto-electronic transfer of a television camera. */
export const bt709: Curve = {
  id: 'bt709',
  name: 'BT.709',
  light: 'scene',
  toLinear: (signal) => (signal < 0.081 ? signal / 4.5 : ((signal + 0.099) / 1.099) ** (1 / 0.45)),
  fromLinear: (light) => (light < 0.018 ? 4.5 * light : 1.099 * light ** 0.45 - 0.099),
  source: 'ITU-R BT.709-6, item 1.2',
  confirmed: true,
};
