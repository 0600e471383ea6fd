import { mirrored, type Curve } from '../curve.ts';

const a = 0.17883277;
const b = 1 - 4 * a;
const c = 0.5 - a * Math.log(4 * a);

/** HLG's opto-electronic transfer: 1 of its light is the scene light of signal 1. */
export const hlg: Curve = {
  id: 'hlg',
  name: 'HLG',
  light: 'scene',
  toLinear: mirrored((signal) => (signal <= 0.5 ? (signal * signal) / 3 : (Math.exp((signal - c) / a) + b) / 12)),
  fromLinear: mirrored((light) => (light <= 1 / 12 ? Math.sqrt(3 * light) : a * Math.log(12 * light - b) + c)),
  source: 'ITU-R BT.2100-2, table 5',
  confirmed: true,
};
