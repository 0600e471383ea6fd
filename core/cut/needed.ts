import type { Cut, Span } from './cut.ts';
import { beginningsOf, moved } from './order.ts';

/**
 * The frames of its source that each event of a cut needs, counted as its source's are: those that it shows, and those
 * that the transitions into it and out of it show besides. Null where it has no source, or none whose time was read.
 */
export function framesNeeded(cut: Cut): (Span | null)[] {
  const beginnings = beginningsOf(cut);
  return cut.events.map((event) => {
    if (event.source.kind !== 'media' || event.source.frames === null) return null;
    // Whatever follows by a transition runs over its end.
    const after = event.tracks.reduce((most, track) => {
      const next = beginnings.get(`${track} ${event.record.to}`);
      return next && next !== event && next.transition
        ? Math.max(most, next.transition.frames - next.transition.before)
        : most;
    }, 0);
    const needed = moved(cut, event, -(event.transition?.before ?? 0), after);
    if (!needed) return null;
    // A picture that stands before a transition is one frame, though its own line takes no time.
    const from = Math.max(0, needed.from);
    return { from, to: Math.max(needed.to, from + (after > 0 || event.record.to > event.record.from ? 1 : 0)) };
  });
}
