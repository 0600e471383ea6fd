import type { Planes } from '../api/planes.ts';
import type { BakeError } from '@relay/core/colour/bake/error';
import type { Chain } from '@relay/core/colour/chain/chain';
import type { Lut3d } from '@relay/core/colour/lut/lut';
import type { Scopes } from '@relay/core/measure/scopes';
import type { Problem } from '@relay/core/result';

/** What the bench asks of its worker, where core computes beside the page. */

/** A frame as the server delivers it. */
export type FrameData = Planes;

/** A baked chain as both renderers take it. Null in an answer: the chain does nothing. */
export type CubeData = Lut3d;

export interface LaneStop {
  kind: 'conversion' | 'cdl' | 'lut';
  id: string | null;
  name: string;
  note: string;
}

export interface BakedAnswer {
  cube: CubeData | null;
  steps: LaneStop[];
  output: string | null;
  error: BakeError | null;
  problem: Problem | null;
  /** Luma after, for greys from black to white. */
  neutral: number[];
}
export interface MeasuredAnswer {
  before: Scopes;
  after: Scopes;
}
export interface PictureAnswer {
  before: Uint8ClampedArray;
  after: Uint8ClampedArray;
}

export type Question =
  | { kind: 'bake'; chain: Chain; luts: Record<string, { text: string; fileName: string }>; points: number }
  | { kind: 'measure'; frame: FrameData; cube: CubeData | null }
  | { kind: 'picture'; frame: FrameData; cube: CubeData | null }
  | { kind: 'triplets'; values: Float32Array; cube: CubeData };

export interface Answers {
  bake: BakedAnswer;
  measure: MeasuredAnswer;
  picture: PictureAnswer;
  triplets: Float32Array;
}
