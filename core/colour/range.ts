import type { ColourOp } from './ops/op.ts';

/**
 * How black and white lie in numbers from 0 to 1. *full*: black is 0, white is 1. *legal*: black is code 64, white code
 * 940 of 1023 (ITU-R BT.709-6, item 3.6), with room for what is darker and brighter.
 */
export type SignalRange = 'full' | 'legal';

const black = 64 / 1023;
const span = (940 - 64) / 1023;

/** Numbers in one range → the same picture in the other; nothing is held back. */
export function rangeChange(from: SignalRange, to: SignalRange): ColourOp[] {
  if (from === to) return [];
  return [
    to === 'legal'
      ? { op: 'range', scale: span, offset: black, min: null, max: null }
      : { op: 'range', scale: 1 / span, offset: -black / span, min: null, max: null },
  ];
}
