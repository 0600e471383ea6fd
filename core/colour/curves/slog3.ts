import type { Curve } from '../curve.ts';

/** S-Log3; the signal is the 10-bit code as a share of 1023. */
export const slog3: Curve = {
  id: 'slog3',
  name: 'S-Log3',
  light: 'scene',
  toLinear: (signal) =>
    signal >= 171.2102946929 / 1023
      ? 10 ** ((signal * 1023 - 420) / 261.5) * (0.18 + 0.01) - 0.01
      : ((signal * 1023 - 95) * 0.01125) / (171.2102946929 - 95),
  fromLinear: (light) =>
    light >= 0.01125
      ? (420 + Math.log10((light + 0.01) / (0.18 + 0.01)) * 261.5) / 1023
      : ((light * (171.2102946929 - 95)) / 0.01125 + 95) / 1023,
  source: 'Technical summary for S-Gamut3.Cine/S-Log3 and S-Gamut3/S-Log3, Sony 2014',
  confirmed: true,
};
