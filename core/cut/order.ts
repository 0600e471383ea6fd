import { divide, multiply } from '../time/rational.ts';
import type { Cut, CutEvent } from './cut.ts';
import { framesWithin, speedOf } from './retime.ts';

/** A cut's events by where they lie, those of one place in the order of the list. */
export function byRecord({ events }: Pick<Cut, 'events'>): CutEvent[] {
  return [...events].sort((a, b) => a.record.from - b.record.from || a.record.to - b.record.to);
}

/**
 * An event that is dissolved to over a cut, as if it began where its transition does; and one whose end such a transition
 * runs over, as if it ended there. Others are themselves.
 */
export function begunAtTransition(cut: Cut, event: CutEvent): CutEvent {
  const before = event.transition?.before ?? 0;
  const next = nextOn(cut, event);
  const after = next?.transition?.before ?? 0;
  if (before === 0 && after === 0) return event;
  const record = { from: event.record.from - before, to: event.record.to - after };
  return {
    ...event,
    record,
    recordLabels: null,
    source: { ...event.source, labels: null, frames: moved(cut, event, -before, -after) },
    transition: event.transition && { ...event.transition, before: 0 },
  };
}

/** Source frames of an event whose beginning and end move by frames of the cut. */
export function moved(
  cut: Pick<Cut, 'rate'>,
  event: CutEvent,
  head: number,
  tail: number,
): CutEvent['source']['frames'] {
  const { frames, rate } = event.source;
  if (!frames || event.retime?.kind === 'freeze') return frames;
  const speed = speedOf(event.retime);
  const ratio = multiply(speed, divide(rate, cut.rate.rate));
  const by = (count: number): number => Math.sign(count) * framesWithin(Math.abs(count), ratio);
  // Backwards, what comes later in the cut comes earlier in the source.
  return speed.num < 0
    ? { from: frames.from - by(tail), to: frames.to - by(head) }
    : { from: frames.from + by(head), to: frames.to + by(tail) };
}

/** The event that begins where another ends, on its first track. */
function nextOn(cut: Cut, { record, tracks }: CutEvent): CutEvent | null {
  const [track] = tracks;
  if (track === undefined) return null;
  return beginningsOf(cut).get(`${track} ${record.to}`) ?? null;
}

const beginnings = new WeakMap<Cut, Map<string, CutEvent>>();

/** Events of a cut that come by a transition, by track and beginning. */
export function beginningsOf(cut: Cut): Map<string, CutEvent> {
  const known = beginnings.get(cut);
  if (known) return known;
  const found = new Map<string, CutEvent>();
  for (const event of cut.events)
    if (event.transition) for (const track of event.tracks) found.set(`${track} ${event.record.from}`, event);
  beginnings.set(cut, found);
  return found;
}

/** The frame of its source that an event would show next, if it went on. */
export function sourceBefore({ source, retime }: CutEvent): number {
  const { frames } = source;
  if (!frames) return 0;
  if (retime?.kind === 'freeze') return frames.from;
  return speedOf(retime).num < 0 ? frames.from : frames.to;
}
