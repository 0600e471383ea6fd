import type { FrameMap } from './frameMap.ts';
import { divide, equal, type Rational } from './rational.ts';

/** Frames that an output has for one of its original's; null where the original's come at uneven times. */
function ratioOf(map: FrameMap): Rational | null {
  switch (map.kind) {
    case 'every':
      return { num: 1, den: 1 };
    case 'hold':
    case 'blend':
      return map.ratio;
    case 'fields':
      return { num: 2, den: 1 };
    case 'pulldown-out':
      return { num: 4, den: 5 };
    case 'pulldown-in':
      return { num: 5, den: 4 };
    case 'times':
      return null;
  }
}

/** How an output's frames come from its original's, and how fast they are shown. */
export interface OutputTime {
  map: FrameMap;
  rate: Rational;
}

/** Which frame of a second output shows what a frame of the first shows, both made of one original. */
export function betweenOutputs(first: OutputTime, second: OutputTime): FrameMap {
  const [one, other] = [ratioOf(first.map), ratioOf(second.map)];
  // Of uneven times, moments are what both have in common.
  const ratio = one && other ? divide(one, other) : divide(first.rate, second.rate);
  return equal(ratio, { num: 1, den: 1 }) ? { kind: 'every' } : { kind: 'hold', ratio };
}
