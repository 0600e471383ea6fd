import type { LegLine } from '@relay/contract/runs';

/** How a run went, step by step of the clock. */
export interface Flow {
  /** Middle of each step, in milliseconds since 1970. */
  times: number[];
  /** Seconds of material that were made in a second. */
  speed: number[];
  /** Legs under way, on average, by worker. */
  busy: { worker: string; legs: number[] }[];
}

/** The share of a leg's time that falls into a step. */
function overlap(from: number, to: number, start: number, end: number): number {
  return Math.max(0, Math.min(to, end) - Math.max(from, start));
}

/**
 * Spreads each leg's material evenly over the time it took. Legs under way count as far as they have come. Empty before
 * anything has begun.
 */
export function flowOf(legs: readonly LegLine[], now: number, steps = 60): Flow {
  const begun = legs.flatMap((leg) => {
    if (!leg.startedAt) return [];
    const [start, end] = [Date.parse(leg.startedAt), leg.endedAt ? Date.parse(leg.endedAt) : now];
    const open = leg.state === 'running' || leg.state === 'proving';
    const share =
      leg.state === 'proved' || leg.state === 'needs eyes' || leg.state === 'proving'
        ? 1
        : leg.framesTotal > 0
          ? leg.framesDone / leg.framesTotal
          : 0;
    // A leg that stopped or failed made nothing that counts.
    return end > start && (leg.endedAt || open)
      ? [
          {
            start,
            end,
            seconds: leg.state === 'failed' || leg.state === 'stopped' ? 0 : leg.seconds * share,
            worker: leg.worker?.split('/').slice(0, 2).join(' ') ?? 'a worker',
          },
        ]
      : [];
  });
  if (begun.length === 0) return { times: [], speed: [], busy: [] };
  const from = Math.min(...begun.map(({ start }) => start));
  const to = Math.max(...begun.map(({ end }) => end));
  const step = Math.max(500, (to - from) / steps);
  const edges = Array.from({ length: Math.max(1, Math.ceil((to - from) / step)) }, (_, index) => from + index * step);
  const workers = [...new Set(begun.map(({ worker }) => worker))].sort();
  return {
    times: edges.map((edge) => edge + step / 2),
    speed: edges.map(
      (edge) =>
        begun.reduce(
          (sum, leg) => sum + (leg.seconds * overlap(edge, edge + step, leg.start, leg.end)) / (leg.end - leg.start),
          0,
        ) /
        (step / 1000),
    ),
    busy: workers.map((worker) => ({
      worker,
      legs: edges.map(
        (edge) =>
          begun
            .filter((leg) => leg.worker === worker)
            .reduce((sum, leg) => sum + overlap(edge, edge + step, leg.start, leg.end), 0) / step,
      ),
    })),
  };
}
