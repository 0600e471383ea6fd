import type { Window } from '@relay/core/shape/window';

/** Samples of four bytes, row by row, as a canvas has them. */
export interface Colours {
  width: number;
  height: number;
  data: Uint8ClampedArray;
}

/**
 * What two windows of one picture differ by, strengthened: of each colour the amount, times `gain`, 255 at most; opaque.
 * The windows are as large as `into`, in whole samples and inside of `from`.
 */
export function difference(from: Colours, [one, other]: readonly [Window, Window], gain: number, into: Colours): void {
  const amounts = Uint8Array.from({ length: 511 }, (_, at) => Math.min(255, gain * Math.abs(at - 255)));
  const { data } = from;
  const to = into.data;
  for (let y = 0; y < into.height; y += 1) {
    let a = ((one.y + y) * from.width + one.x) * 4;
    let b = ((other.y + y) * from.width + other.x) * 4;
    const end = (y + 1) * into.width * 4;
    for (let at = end - into.width * 4; at < end; at += 4, a += 4, b += 4) {
      to[at] = amounts[255 + (data[a] as number) - (data[b] as number)] as number;
      to[at + 1] = amounts[255 + (data[a + 1] as number) - (data[b + 1] as number)] as number;
      to[at + 2] = amounts[255 + (data[a + 2] as number) - (data[b + 2] as number)] as number;
      to[at + 3] = 255;
    }
  }
}
