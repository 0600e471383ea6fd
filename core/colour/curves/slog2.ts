import type { Curve } from '../curve.ts';

/** Codes of black and white, and where the logarithm begins, of 1023. */
const black = 64;
const white = 940;
const breakCode = 90;

/**
 * S-Log2; the signal is the 10-bit code as a share of 1023. Published codes 90, 347 and 582 for 0, 18 and 90 % agree.
 */
export const slog2: Curve = {
  id: 'slog2',
  name: 'S-Log2',
  light: 'scene',
  toLinear: (signal) => {
    const level = (signal * 1023 - black) / (white - black);
    return signal * 1023 >= breakCode
      ? ((219 * (10 ** ((level - 0.616596 - 0.03) / 0.432699) - 0.037584)) / 155) * 0.9
      : ((level - 0.030001222851889303) / 3.53881278538813) * 0.9;
  },
  fromLinear: (light) => {
    const x = light / 0.9;
    const level =
      x >= 0
        ? 0.432699 * Math.log10((155 * x) / 219 + 0.037584) + 0.616596 + 0.03
        : 3.53881278538813 * x + 0.030001222851889303;
    return (level * (white - black) + black) / 1023;
  },
  source: "S-Log2 technical paper, Sony 2012; constants as in the Academy's input transform for it",
  confirmed: false,
};
