import { mirrored } from '../curve.ts';
import type { Triplet } from '../matrix.ts';
import type { ExponentStyle, Transform } from './op.ts';

/** A power with a straight piece at its foot that joins without a kink (S-2014-006, Exponent, monCurve). */
function monCurve(
  exponent: number,
  offset: number,
): { forward: (x: number) => number; reverse: (x: number) => number } {
  // A foot without length, as OCIO treats both.
  const g = Math.max(exponent, 1.000001);
  const o = Math.max(offset, 1e-6);
  const breakAt = o / (g - 1);
  const slope = ((g - 1) / o) * ((o * g) / ((g - 1) * (o + 1))) ** g;
  const breakSignal = ((o * g) / ((g - 1) * (1 + o))) ** g;
  return {
    forward: (x) => (x <= breakAt ? x * slope : ((x + o) / (1 + o)) ** g),
    reverse: (y) => (y <= breakSignal ? y / slope : (1 + o) * y ** (1 / g) - o),
  };
}

function channel(style: ExponentStyle, reverse: boolean, exponent: number, offset: number): (x: number) => number {
  const e = reverse ? 1 / exponent : exponent;
  switch (style) {
    case 'basic':
      return (x) => Math.max(0, x) ** e;
    case 'basicMirror':
      return mirrored((x) => x ** e);
    case 'basicPassThru':
      return (x) => (x > 0 ? x ** e : x);
    case 'monCurve':
      return monCurve(exponent, offset)[reverse ? 'reverse' : 'forward'];
    case 'monCurveMirror':
      return mirrored(monCurve(exponent, offset)[reverse ? 'reverse' : 'forward']);
  }
}

export function compileExponent(style: ExponentStyle, reverse: boolean, exponent: Triplet, offset: Triplet): Transform {
  const [r, g, b] = [0, 1, 2].map((c) => channel(style, reverse, exponent[c] as number, offset[c] as number)) as [
    (x: number) => number,
    (x: number) => number,
    (x: number) => number,
  ];
  return (rgb) => {
    rgb[0] = r(rgb[0] as number);
    rgb[1] = g(rgb[1] as number);
    rgb[2] = b(rgb[2] as number);
  };
}
