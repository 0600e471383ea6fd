import type { Curve } from '../curve.ts';

/** Codes of black and white of 1023; 0.002 of printing density a code, a negative's gamma of 0.6. */
const blackCode = 95;
const whiteCode = 685;
const blackLight = 10 ** (((blackCode - whiteCode) * 0.002) / 0.6);

/**
 * The logarithm of scanned film: code 95 is black, code 685 white. Where a scan has no better description, this is what
 * is meant.
 */
export const cineon: Curve = {
  id: 'cineon',
  name: 'Scanned film log',
  light: 'scene',
  toLinear: (signal) => (10 ** (((signal * 1023 - whiteCode) * 0.002) / 0.6) - blackLight) / (1 - blackLight),
  fromLinear: (light) =>
    (whiteCode + (0.6 / 0.002) * Math.log10(Math.max(1e-10, light * (1 - blackLight) + blackLight))) / 1023,
  source: 'Conversion of 10-bit log film data to 8-bit linear or video data, Kodak 1995',
  confirmed: false,
};
