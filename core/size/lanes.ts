import { afterQuiet } from '../site/quietHours.ts';

/** One leg as the clock sees it. Times are milliseconds since 1970. */
export interface TimedLeg {
  id: string;
  /** Work in it: picture samples times frames. */
  samples: number;
  startedAt: number | null;
  endedAt: number | null;
  /** Share done, 0 to 1, while it runs. */
  share: number;
  /** Whether how long it took tells how long others will take: not for legs that failed or were stopped. */
  telling: boolean;
  waits: boolean;
}

/** A stretch on the clock; planned from now on when `endedAt` of its leg is not known. */
export interface Stretch {
  start: number;
  end: number;
}

/**
 * Samples a millisecond and slot, from the legs that ended, else from how far the running ones are; null before either.
 */
export function pace(legs: readonly TimedLeg[], now: number): number | null {
  let samples = 0;
  let time = 0;
  for (const leg of legs) {
    if (leg.startedAt === null) continue;
    if (leg.endedAt !== null && leg.telling) {
      samples += leg.samples;
      time += leg.endedAt - leg.startedAt;
    } else if (leg.endedAt === null && leg.share > 0.05) {
      // Sampling before and proving after take about an eighth of a leg.
      samples += leg.samples * leg.share * 0.88;
      time += now - leg.startedAt;
    }
  }
  return samples > 0 && time > 0 ? samples / time : null;
}

/**
 * Where every leg lies on the clock: what has been, as it was; what runs, until its likely end; what waits, one after
 * the other in `slots` lanes of work; none begins in a `quiet` stretch. Nothing is planned before a pace is known.
 */
export function stretches(
  legs: readonly TimedLeg[],
  now: number,
  slots: number,
  quiet: readonly Stretch[] = [],
): { byLeg: Map<string, Stretch>; readyAt: number | null } {
  const speed = pace(legs, now);
  const byLeg = new Map<string, Stretch>();
  const freeAt: number[] = [];
  for (const leg of legs) {
    if (leg.startedAt === null || leg.waits) continue;
    if (leg.endedAt !== null) byLeg.set(leg.id, { start: leg.startedAt, end: leg.endedAt });
    else {
      // Without a pace nothing is said of its end.
      const end = speed === null ? now : Math.max(now + 500, leg.startedAt + leg.samples / speed);
      byLeg.set(leg.id, { start: leg.startedAt, end });
      freeAt.push(end);
    }
  }
  const waiting = legs.filter((leg) => leg.waits);
  if (speed === null && (waiting.length > 0 || freeAt.length > 0)) return { byLeg, readyAt: null };
  while (freeAt.length < slots) freeAt.push(now);
  for (const leg of waiting) {
    const slot = freeAt.indexOf(Math.min(...freeAt));
    const start = afterQuiet(freeAt[slot] as number, quiet);
    const end = start + leg.samples / (speed as number);
    freeAt[slot] = end;
    byLeg.set(leg.id, { start, end });
  }
  const open = legs.some((leg) => leg.waits || (leg.startedAt !== null && leg.endedAt === null));
  return { byLeg, readyAt: open ? Math.max(...freeAt) : null };
}
