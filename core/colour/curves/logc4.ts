import type { Curve } from '../curve.ts';

const a = (2 ** 18 - 16) / 117.45;
const b = (1023 - 95) / 1023;
const c = 95 / 1023;
const s = (7 * Math.LN2 * 2 ** (7 - (14 * c) / b)) / (a * b);
const t = (2 ** (14 * (-c / b) + 6) - 64) / a;

export const logc4: Curve = {
  id: 'logc4',
  name: 'LogC4',
  light: 'scene',
  toLinear: (signal) => (signal >= 0 ? (2 ** (14 * ((signal - c) / b) + 6) - 64) / a : signal * s + t),
  fromLinear: (light) => (light >= t ? ((Math.log2(a * light + 64) - 6) / 14) * b + c : (light - t) / s),
  source: 'LogC4 specification, ARRI 2022',
  confirmed: false,
};
