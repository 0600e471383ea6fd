import type { CutEvent } from '../cut.ts';

/**
 * Takes an event apart whose pictures and sound do not begin together: the kind that comes later by some frames begins
 * later in its source too, and both end together. Returns the other part, or null where the event is of one kind.
 */
export function splitByDelay(event: CutEvent, later: 'picture' | 'sound', frames: number): CutEvent | null {
  const isLater = (id: string): boolean => id.startsWith('V') === (later === 'picture');
  const delayed = event.tracks.filter(isLater);
  const length = event.record.to - event.record.from;
  if (frames === 0 || frames >= length || delayed.length === 0 || delayed.length === event.tracks.length) return null;
  event.tracks = event.tracks.filter((id) => !isLater(id));
  return {
    ...event,
    tracks: delayed,
    record: { ...event.record, from: event.record.from + frames },
    recordLabels: null,
    source: {
      ...event.source,
      labels: null,
      frames: event.source.frames && { ...event.source.frames, from: event.source.frames.from + frames },
    },
    transition: null,
    comments: [],
  };
}
