/** IEEE 754 half precision: the number of 16 bits. */
export function halfToNumber(bits: number): number {
  const sign = bits & 0x8000 ? -1 : 1;
  const exponent = (bits >> 10) & 0x1f;
  const fraction = bits & 0x3ff;
  if (exponent === 0) return sign * fraction * 2 ** -24;
  if (exponent === 31) return fraction ? Number.NaN : sign * Infinity;
  return sign * (1 + fraction / 1024) * 2 ** (exponent - 15);
}

/** Bits of the half nearest to zero from `value` or equal to it (round towards zero), within the finite halves. */
export function halfTowardsZero(value: number): number {
  const sign = value < 0 ? 0x8000 : 0;
  const size = Math.min(Math.abs(value), 65_504);
  if (size < 2 ** -14) return sign | Math.floor(size * 2 ** 24);
  let exponent = Math.floor(Math.log2(size));
  if (2 ** exponent > size) exponent -= 1;
  else if (2 ** (exponent + 1) <= size) exponent += 1;
  return sign | ((exponent + 15) << 10) | Math.floor((size / 2 ** exponent - 1) * 1024);
}
