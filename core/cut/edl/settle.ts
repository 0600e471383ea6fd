import type { CutEvent } from '../cut.ts';
import type { Remarks } from '../remarks.ts';

/** Makes a source's frames as long as what is shown of it, once all that is said of an event was read. */
export function settle({ line, record, source, retime, transition }: CutEvent, remarks: Remarks): void {
  const { frames, labels } = source;
  const length = record.to - record.from;
  if (source.kind !== 'media' || !frames) {
    source.frames = null;
    return;
  }
  const span = frames.to - frames.from;
  if (span < 0) {
    if (labels) remarks.add(line, `The source out ${labels.to} comes before the source in ${labels.from}`);
    source.frames = { from: frames.from, to: frames.from + length };
  } else if (retime === null && span !== length && (length > 0 || transition))
    remarks.add(line, `The source is ${span} frames long, the record ${length}, and no line says the speed`);
}

/** Says where an event begins before the one before it on its track ends. */
export function lookForOverlaps(events: readonly CutEvent[], remarks: Remarks): void {
  const ends = new Map<string, number>();
  for (const { line, record, tracks } of events) {
    const over = tracks.find((id) => (ends.get(id) ?? 0) > record.from);
    if (over && record.to > record.from) remarks.add(line, `The event begins on ${over} before the one there ends`);
    for (const id of tracks) ends.set(id, Math.max(ends.get(id) ?? 0, record.to));
  }
}
