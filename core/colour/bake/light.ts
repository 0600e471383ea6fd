import { unitMax, unitMin, type Lut1d } from '../lut/lut.ts';

/**
 * Light squeezed into 0 to 1, as a cube must hold it that is read between its points: evenly by stops where there is
 * light, evenly by light about black, and as far below black as above it. y = 1/2 + asinh(x / a) / (2 asinh(m / a)).
 */
const [about, largest] = [0.002, 65_504];
const reach = 2 * Math.asinh(largest / about);

/** Light, black 0 and white 1, to the largest that half floats hold → 0 to 1. */
export function squeezed(light: number): number {
  return Math.max(0, Math.min(1, 0.5 + Math.asinh(light / about) / reach));
}

/** Points of the table: between two of them light is off by less than a millionth of itself. */
const size = 16_384;

/** The way back from {@link squeezed}, as a table. */
export function lightTable(): Lut1d {
  const values = new Float32Array(size * 3);
  for (let i = 0; i < size; i += 1) values.fill(about * Math.sinh((i / (size - 1) - 0.5) * reach), i * 3, i * 3 + 3);
  return { size, values, domainMin: unitMin, domainMax: unitMax, halfDomain: false };
}
