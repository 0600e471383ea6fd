import { mirrored, type Curve } from '../curve.ts';

function power(id: string, name: string, exponent: number, source: string): Curve {
  return {
    id,
    name,
    light: 'display',
    toLinear: mirrored((signal) => signal ** exponent),
    fromLinear: mirrored((light) => light ** (1 / exponent)),
    source,
    confirmed: true,
  };
}

/** Displays that are a plain power of the signal. BT.1886 with a black of no light at all is one of them. */
export const bt1886 = power('bt1886', 'BT.1886', 2.4, 'ITU-R BT.1886, annex 1, with L_B = 0');
export const gamma22 = power('gamma22', 'Gamma 2.2', 2.2, 'by definition');
export const gamma24 = power('gamma24', 'Gamma 2.4', 2.4, 'by definition');
export const gamma26 = power('gamma26', 'Gamma 2.6', 2.6, 'SMPTE RP 431-2');
