/** What one frame took at one quantiser. */
export interface QuantiserSample {
  quantiser: number;
  bytes: number;
}

/**
 * The finest whole quantiser at which the sampled frames stay within `targetFrameBytes`, between 1 and `coarsest`.
 *
 * Sizes fall with the quantiser along a smooth curve that a quadratic through three points in log-log follows within a
 * few percent; with fewer samples a straight line serves. Of more samples the three count whose sizes lie nearest.
 * Returns `coarsest` when nothing fits.
 * @param samples mean frame sizes at two different quantisers or more
 */
export function quantiserFor(samples: readonly QuantiserSample[], targetFrameBytes: number, coarsest: number): number {
  if (samples.length === 0) throw new RangeError('a quantiser cannot be found without samples');
  const limit = Math.log(targetFrameBytes);
  const points = samples
    .map((s) => ({ x: Math.log(s.quantiser), y: Math.log(s.bytes) }))
    .sort((a, b) => Math.abs(a.y - limit) - Math.abs(b.y - limit))
    .slice(0, 3);
  for (let quantiser = 1; quantiser < coarsest; quantiser += 1) {
    if (interpolate(points, Math.log(quantiser)) <= limit) return quantiser;
  }
  return coarsest;
}

/** Lagrange's polynomial through all points. */
function interpolate(points: readonly { x: number; y: number }[], x: number): number {
  return points.reduce(
    (sum, p) => sum + points.reduce((term, q) => (q === p ? term : (term * (x - q.x)) / (p.x - q.x)), p.y),
    0,
  );
}
