import type { Rendering } from '../convert.ts';
import type { Cdl } from '../ops/op.ts';
import type { SignalRange } from '../range.ts';

/** A grade, in the state that the picture is in when it comes to it, or in the one it names. */
export interface CdlStep {
  kind: 'cdl';
  id: string;
  name: string;
  muted: boolean;
  cdl: Cdl;
  worksIn: string | null;
}

/** A LUT of the cabinet. What it takes and gives is a colour state, or null: *as it comes*. */
export interface LutStep {
  kind: 'lut';
  id: string;
  name: string;
  muted: boolean;
  /** SHA-256 of the file's bytes, so that an old chain always means the same. */
  lut: string;
  takes: string | null;
  gives: string | null;
  rangeIn: SignalRange;
  rangeOut: SignalRange;
}

export type ChainStep = CdlStep | LutStep;

/** The colour part of the corrections: ordered steps from camera to display. */
export interface Chain {
  /** What the camera recorded; null where nobody said. */
  input: string | null;
  /**
   * How the camera's curve lies in the file's codes: scaled between black and white (*full*, after the file's own range
   * is undone), or as codes of its own.
   */
  inputRange: SignalRange;
  steps: ChainStep[];
  /** What the picture is to be; null leaves it as the last step gives it. */
  output: string | null;
  /** How scene light is shown where the chain goes from one to a display; null converts colorimetrically. */
  rendering: Rendering | null;
}

export const emptyChain: Chain = { input: null, inputRange: 'full', steps: [], output: null, rendering: null };
