/** A published transfer curve between a coded signal and linear light. */
export interface Curve {
  /** As it stands in names of colour states: lower case, no hyphen. */
  id: string;
  name: string;
  /**
   * What its light is of: a scene (0.18 is mid grey, 1 a white that reflects everything, more is brighter still), or a
   * display (1 is its white; for PQ 1 is 100 cd/m²).
   */
  light: 'scene' | 'display';
  /** Signal (0–1 is the code's full scale) → light. Defined for every finite number. */
  toLinear: (signal: number) => number;
  /** Light → signal: the inverse of `toLinear` wherever the curve rises. */
  fromLinear: (light: number) => number;
  /** Where the formula was published. */
  source: string;
  /** False where its constants have no second source here: it is then marked wherever it is chosen. */
  confirmed: boolean;
}

/** A curve that is odd about zero: f(−x) = −f(x), for light below black that a matrix may make. */
export function mirrored(f: (x: number) => number): (x: number) => number {
  return (x) => (x < 0 ? -f(-x) : f(x));
}
