/** Nine numbers, row by row. */
export type Matrix3 = readonly [number, number, number, number, number, number, number, number, number];
export type Triplet = readonly [number, number, number];

export const identity: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];

export function apply(m: Matrix3, [x, y, z]: Triplet): Triplet {
  return [m[0] * x + m[1] * y + m[2] * z, m[3] * x + m[4] * y + m[5] * z, m[6] * x + m[7] * y + m[8] * z];
}

export function compose(a: Matrix3, b: Matrix3): Matrix3 {
  const column = (i: 0 | 1 | 2): Triplet => apply(a, [b[i], b[i + 3] as number, b[i + 6] as number]);
  const [p, q, r] = [column(0), column(1), column(2)];
  return [p[0], q[0], r[0], p[1], q[1], r[1], p[2], q[2], r[2]];
}

/** @throws RangeError when the matrix cannot be inverted */
export function inverse(m: Matrix3): Matrix3 {
  const [a, b, c, d, e, f, g, h, i] = m;
  const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (Math.abs(determinant) < 1e-12) throw new RangeError('this matrix has no inverse');
  const k = 1 / determinant;
  return [
    (e * i - f * h) * k,
    (c * h - b * i) * k,
    (b * f - c * e) * k,
    (f * g - d * i) * k,
    (a * i - c * g) * k,
    (c * d - a * f) * k,
    (d * h - e * g) * k,
    (b * g - a * h) * k,
    (a * e - b * d) * k,
  ];
}
