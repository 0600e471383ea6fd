/** What one frame took at one quantiser. */
export interface QuantiserSample {
  quantiser: number;
  bytes: number;
}

/**
 * The finest whole quantiser at which the sampled frames stay within `targetFrameBytes`, between 1 and `coarsest`.
 *
 * Sizes fall with the quantiser along a smooth curve that a quadratic through three points in log-log follows
 * within a few percent; with fewer samples a straight line serves. Returns `coarsest` when nothing fits.
 * @param samples mean frame sizes at two or three different quantisers
 */
export function quantiserFor(samples: readonly QuantiserSample[], targetFrameBytes: number, coarsest: number): number {
  const points = [...samples].sort((a, b) => a.quantiser - b.quantiser).map((s) => ({ x: Math.log(s.quantiser), y: Math.log(s.bytes) }));
  if (points.length === 0) throw new RangeError('a quantiser cannot be found without samples');
  const limit = Math.log(targetFrameBytes);
  for (let quantiser = 1; quantiser < coarsest; quantiser += 1) {
    if (interpolate(points, Math.log(quantiser)) <= limit) return quantiser;
  }
  return coarsest;
}

/** Lagrange's polynomial through all points (at most three are ever given). */
function interpolate(points: readonly { x: number; y: number }[], x: number): number {
  return points.reduce(
    (sum, p) => sum + points.reduce((term, q) => (q === p ? term : (term * (x - q.x)) / (p.x - q.x)), p.y),
    0,
  );
}
