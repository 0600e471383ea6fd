import type { LegLine, RunAnswer } from '@relay/contract/runs';
import { openStates, type LegState } from '@relay/contract/states';
import type { Stretch, TimedLeg } from '@relay/core/size/lanes';
import { plural, sayClock, saySpan } from '../ui/format.ts';
import { standingOfLeg, type Standing } from '../ui/standing.ts';

/** What somebody must look at or do something about. */
const asking: readonly Standing[] = ['needs eyes', 'sent back', 'failed'];

/** A leg as the plan of the night takes it. */
export function timed(leg: LegLine): TimedLeg {
  return {
    id: leg.id,
    samples: Math.max(1, leg.samples),
    startedAt: leg.startedAt ? Date.parse(leg.startedAt) : null,
    endedAt: leg.endedAt ? Date.parse(leg.endedAt) : null,
    share: leg.framesTotal > 0 ? leg.framesDone / leg.framesTotal : 0,
    telling: leg.state === 'proved' || leg.state === 'needs eyes',
    waits: leg.state === 'waiting',
  };
}

/** When each leg is or will be made, and when all will be; times in milliseconds since 1970. */
export interface NightPlan {
  byLeg: ReadonlyMap<string, Stretch>;
  readyAt: number | null;
}

/** What the page says of a run, worked out of its legs. Times in milliseconds since 1970. */
export interface RunFigures {
  /** Some leg waits or is under way, or the run's end is not known yet: that its last leg ended is told a moment before. */
  open: boolean;
  count: (...states: LegState[]) => number;
  /** What the lanes are drawn over. */
  from: number;
  until: number;
  readyAt: number | null;
  /** Seconds that it took, or has taken so far. */
  spent: number;
  /** Seconds of material made in a second; null where that cannot be said. */
  speed: number | null;
  /** Outputs that have bytes. */
  made: number;
  lookAt: LegLine[];
}

/** Seconds of material that a leg has made so far. */
function materialOf(leg: LegLine): number {
  if (leg.state === 'proved' || leg.state === 'needs eyes') return leg.seconds;
  return leg.state === 'running' ? (leg.seconds * leg.framesDone) / Math.max(1, leg.framesTotal) : 0;
}

export function runFigures(run: RunAnswer, plan: NightPlan, now: number): RunFigures {
  const legs = run.legLines;
  const open = legs.length > 0 && (run.endedAt === null || legs.some((leg) => openStates.includes(leg.state)));
  const begun = legs.flatMap(({ startedAt }) => (startedAt === null ? [] : [Date.parse(startedAt)]));
  const from = Math.min(...begun, Date.parse(run.createdAt));
  const last = Math.max(...[...plan.byLeg.values()].map((stretch) => stretch.end), open ? now : from + 1000);
  const endedAt = run.endedAt ? Date.parse(run.endedAt) : null;
  const spent = ((open ? now : (endedAt ?? now)) - from) / 1000;
  const material = legs.reduce((sum, leg) => sum + materialOf(leg), 0);
  return {
    open,
    count: (...states) => legs.filter((leg) => states.includes(leg.state)).length,
    from,
    until: last + Math.max(1000, (last - from) * 0.04),
    readyAt: open ? plan.readyAt : endedAt,
    spent,
    speed: spent > 1 && material > 0 ? material / spent : null,
    made: legs.reduce((sum, leg) => sum + leg.outputs.filter((output) => output.sizeBytes > 0).length, 0),
    lookAt: legs.filter((leg) => asking.includes(standingOfLeg(leg))),
  };
}

/** What is known of a run's end beside its hour. */
export function sayReady(run: RunAnswer, { open, count, spent, readyAt }: RunFigures, now: number): string {
  if (!open) return `after ${saySpan(spent)}`;
  if (count(...openStates) === 0) return 'the last leg has ended';
  if (run.notBefore && Date.parse(run.notBefore) > now) return `begins ${sayClock(new Date(run.notBefore))}`;
  if (readyAt) return `in ${saySpan((readyAt - now) / 1000)}`;
  return count('held') > 0 && count('waiting', 'running', 'proving') === 0
    ? `${plural(count('held'), 'leg')} held`
    : 'told when the first leg is on its way';
}

/** How the likely end stands to the hour that was asked for. */
export function sayWanted(wanted: number, ready: number | null): string {
  if (ready === null) return 'not known yet';
  return ready <= wanted ? `${saySpan((wanted - ready) / 1000)} to spare` : `${saySpan((ready - wanted) / 1000)} late`;
}

/**
 * What a leg that waits is put before, to move one place up or down among those of its wave that wait: a leg's id, null
 * for the end; undefined where it stands there already.
 */
export function placeBeside(legs: readonly LegLine[], chosen: LegLine, by: -1 | 1): string | null | undefined {
  const others = legs.filter((leg) => leg.wave === chosen.wave && (leg.state === 'waiting' || leg.state === 'held'));
  const place = others.indexOf(chosen);
  if (place < 0) return undefined;
  if (by < 0) return others[place - 1]?.id;
  return place < others.length - 1 ? (others[place + 2]?.id ?? null) : undefined;
}
