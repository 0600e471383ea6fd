import type { Curve } from '../curve.ts';

const breakLight = 0.0078125;
const breakSignal = 0.155251141552511;

export const acescct: Curve = {
  id: 'acescct',
  name: 'ACEScct',
  light: 'scene',
  toLinear: (signal) =>
    signal <= breakSignal
      ? (signal - 0.0729055341958355) / 10.5402377416545
      : Math.min(65504, 2 ** (signal * 17.52 - 9.72)),
  fromLinear: (light) =>
    light <= breakLight ? 10.5402377416545 * light + 0.0729055341958355 : (Math.log2(light) + 9.72) / 17.52,
  source: 'Academy S-2016-001',
  confirmed: true,
};
