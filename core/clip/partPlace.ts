import type { Rational } from '../time/rational.ts';

/** Where a part lies in its original. */
export interface ClipPart {
  /** Its first frame, counted from 0 in the whole original. */
  from: number;
  /** Frames of the whole original. */
  of: number;
  /** Seconds from the first picture of the first file that is opened to the part's first. */
  at: Rational;
  /** Whether the original goes on after it. */
  goesOn: boolean;
}
