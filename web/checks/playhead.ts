import { useSyncExternalStore } from 'react';

/** Where two pictures stand while they are played, and how many of them were drawn in the last second. */
export interface Playing {
  frame: number;
  drawnPerSecond: number | null;
  /** Seconds after which so much has come that they can be played; null while they are, or where nobody knows. */
  waits: number | null;
}

/** The place that changes with every picture: only what shows it is drawn again. */
export class Playhead {
  private now: Playing;
  private readonly listeners = new Set<() => void>();
  private readonly drawn: number[] = [];

  constructor(begin = 0) {
    this.now = { frame: begin, drawnPerSecond: null, waits: null };
  }

  readonly get = (): Playing => this.now;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Somebody goes to a frame. */
  to(frame: number): void {
    this.drawn.length = 0;
    this.tell({ frame, drawnPerSecond: null, waits: null });
  }

  /** A picture was drawn at `at`, in milliseconds. */
  drew(frame: number, at: number): void {
    this.drawn.push(at);
    while ((this.drawn[0] ?? at) < at - 1000) this.drawn.shift();
    const [first = at] = this.drawn;
    this.tell({
      frame,
      drawnPerSecond: at - first > 500 ? ((this.drawn.length - 1) * 1000) / (at - first) : null,
      waits: null,
    });
  }

  /** What comes is gathered first, and will be played after so many seconds. */
  gathers(seconds: number): void {
    const waits = Math.ceil(seconds);
    if (waits !== this.now.waits) this.tell({ ...this.now, drawnPerSecond: null, waits });
  }

  private tell(now: Playing): void {
    this.now = now;
    for (const listener of this.listeners) listener();
  }
}

export function usePlaying(head: Playhead): Playing {
  return useSyncExternalStore(head.subscribe, head.get);
}
