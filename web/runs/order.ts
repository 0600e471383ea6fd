import type { LegLine } from '@relay/contract/runs';

/**
 * Where a leg stands in its run's lanes, as the server orders them: what has begun first, what waits by hand, then wave
 * by wave.
 */
export function inOrder(legs: readonly LegLine[]): LegLine[] {
  const hand = ({ state, hand: by }: LegLine): number => (state === 'waiting' || state === 'held' ? by : Infinity);
  return [...legs].sort(
    (a, b) => (hand(a) === hand(b) ? 0 : hand(b) - hand(a)) || a.wave - b.wave || a.ordinal - b.ordinal,
  );
}
