import type { Transform } from '../ops/op.ts';
import { halfToNumber, halfTowardsZero } from './half.ts';
import type { Lut1d } from './lut.ts';

/** One channel's value: linear between entries, held at the ends of the domain; what is not a number counts as its beginning. */
export function eval1d(lut: Lut1d, channel: number, x: number): number {
  const { size, values } = lut;
  if (lut.halfDomain) {
    if (!(x > -Infinity)) return values[(Number.isNaN(x) ? 0 : 0xfbff) * 3 + channel] as number;
    const lower = halfTowardsZero(x);
    const from = halfToNumber(lower);
    if (from === x || Math.abs(x) >= 65_504) return values[lower * 3 + channel] as number;
    const to = halfToNumber(lower + 1);
    const share = (x - from) / (to - from);
    const a = values[lower * 3 + channel] as number;
    return a + ((values[(lower + 1) * 3 + channel] as number) - a) * share;
  }
  const min = lut.domainMin[channel] as number;
  const at = ((x - min) / ((lut.domainMax[channel] as number) - min)) * (size - 1);
  const held = at > 0 ? (at < size - 1 ? at : size - 1) : 0;
  const lower = Math.min(size - 2, Math.floor(held));
  const a = values[lower * 3 + channel] as number;
  return a + ((values[(lower + 1) * 3 + channel] as number) - a) * (held - lower);
}

export function compile1d(lut: Lut1d): Transform {
  return (rgb) => {
    for (let channel = 0; channel < 3; channel += 1) rgb[channel] = eval1d(lut, channel, rgb[channel] as number);
  };
}
