import type { Curve } from '../curve.ts';

const lowestSignal = (Math.log2(2 ** -16) + 9.72) / 17.52;

/** ACEScc: no light at all and anything below it have one lowest signal. */
export const acescc: Curve = {
  id: 'acescc',
  name: 'ACEScc',
  light: 'scene',
  toLinear: (signal) => {
    if (signal <= (9.72 - 15) / 17.52) return (2 ** (signal * 17.52 - 9.72) - 2 ** -16) * 2;
    return signal < (Math.log2(65504) + 9.72) / 17.52 ? 2 ** (signal * 17.52 - 9.72) : 65504;
  },
  fromLinear: (light) => {
    if (light <= 0) return lowestSignal;
    return light < 2 ** -15 ? (Math.log2(2 ** -16 + light * 0.5) + 9.72) / 17.52 : (Math.log2(light) + 9.72) / 17.52;
  },
  source: 'Academy S-2014-003',
  confirmed: true,
};
