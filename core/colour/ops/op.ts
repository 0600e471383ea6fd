import type { Matrix3, Triplet } from '../matrix.ts';
import type { Lut1d, Lut3d } from '../lut/lut.ts';

/** One channel's parameters of a logarithm, in the letters of S-2014-006. */
export interface LogChannel {
  base: number;
  linSideSlope: number;
  linSideOffset: number;
  logSideSlope: number;
  logSideOffset: number;
  /** Below it the curve is a straight line; null for a logarithm all the way. */
  linSideBreak: number | null;
  /** Slope of that line; null for the one that joins without a kink. */
  linearSlope: number | null;
}

/** ASC CDL v1.2: slope, offset and power for each channel, and saturation for all. */
export interface Cdl {
  slope: Triplet;
  offset: Triplet;
  power: Triplet;
  saturation: number;
}

export type ExponentStyle = 'basic' | 'basicMirror' | 'basicPassThru' | 'monCurve' | 'monCurveMirror';
export type Interpolation = 'tetrahedral' | 'trilinear';

/** One step of arithmetic on R, G and B, as data: what CLF can say, the published curves, and our rendering. */
export type ColourOp =
  | { op: 'matrix'; matrix: Matrix3; offset: Triplet }
  /** Published curve of this id. */
  | { op: 'curve'; curve: string; to: 'linear' | 'signal' }
  /** `out = in · scale + offset`, then held within the bounds that there are. */
  | { op: 'range'; scale: number; offset: number; min: number | null; max: number | null }
  | { op: 'log'; to: 'log' | 'linear'; channels: readonly [LogChannel, LogChannel, LogChannel] }
  | { op: 'exponent'; style: ExponentStyle; reverse: boolean; exponent: Triplet; offset: Triplet }
  | { op: 'cdl'; cdl: Cdl; reverse: boolean; clamp: boolean }
  | { op: 'lut1d'; lut: Lut1d; reverse: boolean }
  | { op: 'lut3d'; lut: Lut3d; interpolation: Interpolation; reverse: boolean }
  /** Scene light of the gamut `from` → light of the state `to`, as its display curve codes it; see `rendering/`. */
  | { op: 'rendering'; from: string; to: string };

/** Changes three numbers where they stand. */
export type Transform = (rgb: Float64Array) => void;
