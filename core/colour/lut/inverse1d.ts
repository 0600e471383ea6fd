import type { Transform } from '../ops/op.ts';
import { halfToNumber } from './half.ts';
import type { Lut1d } from './lut.ts';

export interface Inverse1d {
  transform: Transform;
  /** For each channel: entries that turn back and were levelled, so that their way back is not their own. */
  levelled: [number, number, number];
  /** For each channel: entries that give the same as their neighbour; the way back takes one of them. */
  flat: [number, number, number];
}

/** Finite halves from the lowest to the highest: bits in the order of their numbers. */
function halvesInOrder(): number[] {
  const bits: number[] = [];
  for (let i = 0xfbff; i > 0x8000; i -= 1) bits.push(i);
  for (let i = 0; i <= 0x7bff; i += 1) bits.push(i);
  return bits;
}

/**
 * The exact inverse of linear interpolation in a table. A channel that turns back is levelled first: where it falls on a
 * rising table it keeps its highest value so far. Values beyond what the table gives come back as the end of its domain.
 */
export function compileInverse1d(lut: Lut1d): Inverse1d {
  const order = lut.halfDomain ? halvesInOrder() : Array.from({ length: lut.size }, (_, i) => i);
  const levelled: [number, number, number] = [0, 0, 0];
  const flat: [number, number, number] = [0, 0, 0];
  const channels = ([0, 1, 2] as const).map((c) => {
    const min = lut.domainMin[c];
    const step = (lut.domainMax[c] - min) / (lut.size - 1);
    const xs = Float64Array.from(order, (i) => (lut.halfDomain ? halfToNumber(i) : min + i * step));
    const ys = Float64Array.from(order, (i) => lut.values[i * 3 + c] as number);
    const rising = (ys[ys.length - 1] as number) >= (ys[0] as number);
    if (!rising) {
      xs.reverse();
      ys.reverse();
    }
    for (let i = 1; i < ys.length; i += 1) {
      if ((ys[i] as number) < (ys[i - 1] as number)) {
        ys[i] = ys[i - 1] as number;
        levelled[c] += 1;
      } else if (ys[i] === ys[i - 1]) flat[c] += 1;
    }
    // Flat ends carry nothing: the way back begins where the table begins to rise.
    let first = 0;
    let last = ys.length - 1;
    while (first < last && ys[first + 1] === ys[first]) first += 1;
    while (last > first && ys[last - 1] === ys[last]) last -= 1;
    return { xs, ys, first, last };
  });
  const back = ({ xs, ys, first, last }: (typeof channels)[number], y: number): number => {
    if (!(y > (ys[first] as number))) return xs[first] as number;
    if (y >= (ys[last] as number)) return xs[last] as number;
    let low = first;
    let high = last;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if ((ys[middle] as number) < y) low = middle;
      else high = middle;
    }
    const span = (ys[high] as number) - (ys[low] as number);
    return span > 0
      ? (xs[low] as number) + (((xs[high] as number) - (xs[low] as number)) * (y - (ys[low] as number))) / span
      : (xs[high] as number);
  };
  return {
    levelled,
    flat,
    transform: (rgb) =>
      channels.forEach((channel, c) => {
        rgb[c] = back(channel, rgb[c] as number);
      }),
  };
}
