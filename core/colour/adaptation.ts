import { apply, compose, inverse, type Matrix3, type Triplet } from './matrix.ts';

export type AdaptationMethod = 'bradford' | 'cat02';

/** XYZ → sharpened cone responses. Bradford: Lam 1985, as in ICC.1:2010 annex E; CAT02: CIE 159:2004. */
const cones: Readonly<Record<AdaptationMethod, Matrix3>> = {
  bradford: [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296],
  cat02: [0.7328, 0.4296, -0.1624, -0.7036, 1.6975, 0.0061, 0.003, 0.0136, 0.9834],
};

/** XYZ under one white → XYZ under another, by von Kries scaling of cone responses. Whites are XYZ with Y = 1. */
export function adaptation(from: Triplet, to: Triplet, method: AdaptationMethod): Matrix3 {
  const cone = cones[method];
  const [a, b] = [apply(cone, from), apply(cone, to)];
  const scale: Matrix3 = [b[0] / a[0], 0, 0, 0, b[1] / a[1], 0, 0, 0, b[2] / a[2]];
  return compose(inverse(cone), compose(scale, cone));
}
