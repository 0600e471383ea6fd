import type { CutEvent } from './cut.ts';

/** Events kept of each track: more than one ends at one place only where they overlap. */
const kept = 8;

/** The last events of each track, as they come by: which of them ends where another begins, however many lie between. */
export class Ends {
  private readonly last = new Map<string, CutEvent[]>();

  add(event: CutEvent): void {
    for (const track of event.tracks) {
      const known = this.last.get(track) ?? [];
      this.last.set(track, [...known.slice(1 - kept), event]);
    }
  }

  /** What turned out to be no event of its own. */
  drop(event: CutEvent): void {
    for (const [track, known] of this.last)
      if (known.includes(event))
        this.last.set(
          track,
          known.filter((one) => one !== event),
        );
  }

  /** The last one that ends where `event` begins, on a track that both have; null where none does. */
  before(event: CutEvent): CutEvent | null {
    for (const track of event.tracks) {
      const found = this.last.get(track)?.findLast((one) => one !== event && one.record.to === event.record.from);
      if (found) return found;
    }
    return null;
  }
}
